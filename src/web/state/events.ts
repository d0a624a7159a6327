/** One stream of events a browser: a shared worker holds it for all pages, since a browser has few connections to one server. */
import { useSyncExternalStore } from 'react';
import { EventStream, type FromEvents, type ToEvents } from './eventStream.js';

type Listener = (data: string) => void;

const listeners = new Set<Listener>();
const watchers = new Set<() => void>();
let connected = true;
/** Tells whoever holds the stream which project this page shows; null until something listens. */
let follow: ((project: number | null) => void) | null = null;

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
function ownStream(): (project: number | null) => void {
  const stream = new EventStream(hear);
  return (project) => stream.follow(new Set(project === null ? [] : [project]));
}

function start(): (project: number | null) => void {
  if (follow) return follow;
  if (typeof SharedWorker === 'undefined') return (follow = ownStream());
  const worker = new SharedWorker(new URL('./events.worker.ts', import.meta.url), { type: 'module', name: 'cold-easel-events' });
  const post = (message: ToEvents): void => worker.port.postMessage(message);
  let last: number | null = null;
  worker.onerror = () => {
    follow = ownStream();
    follow(last);
  };
  worker.port.onmessage = (e: MessageEvent<FromEvents>) => hear(e.data);
  window.addEventListener('pagehide', () => post({ kind: 'bye' }));
  // A page that comes out of the browser's cache is back.
  window.addEventListener('pageshow', (e) => e.persisted && post({ kind: 'follow', project: last }));
  return (follow = (project) => {
    last = project;
    post({ kind: 'follow', project });
  });
}

/** Hears every event of a project, as text, until the returned function is called. */
export function listen(project: number, listener: Listener): () => void {
  start()(project);
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
