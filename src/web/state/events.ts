/** One stream of events a browser: a shared worker holds it for all pages, since a browser has few connections to one server. */
import { useSyncExternalStore } from 'react';
import { EventStream, type FromEvents, type ToEvents } from './eventStream.js';

type Listener = (data: string) => void;

const listeners = new Set<Listener>();
const watchers = new Set<() => void>();
let connected = true;
/** Tells whoever holds the stream which projects this page shows; null until something listens. */
let follow: ((projects: readonly number[]) => void) | null = null;

function setConnected(now: boolean): void {
  if (now === connected) return;
  connected = now;
  for (const watch of watchers) watch();
}

function hear(message: FromEvents): void {
  if (message.kind === 'event') for (const listen of listeners) listen(message.data);
  else setConnected(message.kind === 'open');
}

/** A stream of this page's own, where there is no shared worker. */
function ownStream(): (projects: readonly number[]) => void {
  const stream = new EventStream(hear);
  return (projects) => stream.follow(new Set(projects));
}

function start(): (projects: readonly number[]) => void {
  if (follow) return follow;
  if (typeof SharedWorker === 'undefined') return (follow = ownStream());
  const worker = new SharedWorker(new URL('./events.worker.ts', import.meta.url), { type: 'module', name: 'cold-easel-events' });
  const post = (message: ToEvents): void => worker.port.postMessage(message);
  let last: readonly number[] = [];
  worker.onerror = () => {
    follow = ownStream();
    follow(last);
  };
  worker.port.onmessage = (e: MessageEvent<FromEvents>) => hear(e.data);
  window.addEventListener('pagehide', () => post({ kind: 'bye' }));
  // A page that comes out of the browser's cache is back.
  window.addEventListener('pageshow', (e) => e.persisted && post({ kind: 'follow', projects: last }));
  return (follow = (projects) => {
    last = projects;
    post({ kind: 'follow', projects });
  });
}

/** Hears every event of these projects, as text, until the returned function is called. */
export function listen(projects: readonly number[], listener: Listener): () => void {
  start()(projects);
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Whether the server answers, as far as the stream of events tells, at this moment. */
export const isConnected = (): boolean => connected;

/** The same for a component, which is drawn anew when it changes. */
export function useConnected(): boolean {
  return useSyncExternalStore(
    (watch) => {
      start();
      watchers.add(watch);
      return () => watchers.delete(watch);
    },
    () => connected,
  );
}
