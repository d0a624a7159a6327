/**
 * WebGL contexts are dear to make and few: a host is one context that lives as long as the application, and is moved
 * to whichever viewport is shown. There are as many as viewports were ever shown at the same time.
 */
import { type RefObject, useLayoutEffect, useState, useSyncExternalStore } from 'react';
import type { SceneProps } from './Scene.js';

/** One context, moved to whichever viewport is shown. */
export class CanvasHost {
  readonly element = document.createElement('div');
  private content: SceneProps | null = null;
  private readonly watchers = new Set<() => void>();

  constructor(readonly index: number) {
    this.element.className = 'pointer-events-none absolute inset-0 overflow-hidden';
    this.element.hidden = true;
  }

  /** What is drawn; null hides it, and what was drawn stays as it was. */
  show(content: SceneProps | null): void {
    this.element.hidden = content === null;
    if (content === null || content === this.content) return;
    this.content = content;
    for (const watch of this.watchers) watch();
  }

  readonly subscribe = (watch: () => void): (() => void) => {
    this.watchers.add(watch);
    return () => this.watchers.delete(watch);
  };

  readonly read = (): SceneProps | null => this.content;
}

const taken = new Set<CanvasHost>();
let hosts: readonly CanvasHost[] = [];
const watchers = new Set<() => void>();

function claim(): CanvasHost {
  let host = hosts.find((h) => !taken.has(h));
  if (!host) {
    host = new CanvasHost(hosts.length);
    hosts = [...hosts, host];
    for (const watch of watchers) watch();
  }
  taken.add(host);
  return host;
}

function release(host: CanvasHost): void {
  host.show(null);
  host.element.remove();
  taken.delete(host);
}

/** Every host that there is. */
export function useHosts(): readonly CanvasHost[] {
  return useSyncExternalStore(
    (watch) => {
      watchers.add(watch);
      return () => watchers.delete(watch);
    },
    () => hosts,
  );
}

/** Puts a host into the slot for as long as the viewport is shown. Null before. */
export function useCanvasHost(slot: RefObject<HTMLElement | null>): CanvasHost | null {
  const [host, setHost] = useState<CanvasHost | null>(null);
  useLayoutEffect(() => {
    const own = claim();
    slot.current!.prepend(own.element);
    setHost(own);
    return () => {
      release(own);
      setHost(null);
    };
  }, [slot]);
  return host;
}
