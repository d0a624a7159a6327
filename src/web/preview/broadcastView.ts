/** How the window of its own follows what is done in the main one: by a channel between windows of one address. */
import { useEffect, useRef } from 'react';
import type { Frame } from '../../core/frame/frame.js';

/** What the live preview shows. */
export interface BroadcastView {
  frame: Frame;
  hash: string;
  title: string;
}

type BroadcastMessage = { type: 'hello' } | { type: 'shown'; shown: BroadcastView };

const nameOf = (set: number): string => `cold-easel live picture ${set}`;

/** Tells windows of their own what is shown here, when it changes and when one of them opens. */
export function useBroadcastView(set: number, shown: BroadcastView | null): void {
  const latest = useRef(shown);
  latest.current = shown;
  const channel = useRef<BroadcastChannel | null>(null);
  const tell = (): void => {
    if (latest.current) channel.current?.postMessage({ type: 'shown', shown: latest.current } satisfies BroadcastMessage);
  };
  useEffect(() => {
    const here = new BroadcastChannel(nameOf(set));
    channel.current = here;
    here.onmessage = ({ data }: MessageEvent<BroadcastMessage>) => {
      if (data.type === 'hello') tell();
    };
    return () => here.close();
  }, [set]);
  const grade = JSON.stringify(shown?.frame.grade);
  useEffect(tell, [shown?.frame.identity, shown?.hash, grade]);
}

/** Listens to the main window. */
export function useBroadcast(set: number, onShown: (shown: BroadcastView) => void): void {
  const told = useRef(onShown);
  told.current = onShown;
  useEffect(() => {
    const channel = new BroadcastChannel(nameOf(set));
    channel.onmessage = ({ data }: MessageEvent<BroadcastMessage>) => {
      if (data.type === 'shown') told.current(data.shown);
    };
    channel.postMessage({ type: 'hello' } satisfies BroadcastMessage);
    return () => channel.close();
  }, [set]);
}
