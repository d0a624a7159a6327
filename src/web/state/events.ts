/** One stream of events a browser: a shared worker holds it for all pages, since a browser has few connections to one server. */
import { useSyncExternalStore } from 'react';
import { type FromEvents, holdStream, type ToEvents } from './eventStream.js';

type Listener = (data: string) => void;

const listeners = new Set<Listener>();
const watchers = new Set<() => void>();
let connected = true;
let started = false;

function setConnected(now: boolean): void {
  if (now === connected) return;
  connected = now;
  for (const watch of watchers) watch();
}

function hear(message: FromEvents): void {
  if (message.kind === 'event') for (const listen of listeners) listen(message.data);
  else setConnected(message.kind === 'open');
}

function start(): void {
  if (started) return;
  started = true;
  if (typeof SharedWorker === 'undefined') {
    holdStream(hear);
    return;
  }
  const worker = new SharedWorker(new URL('./events.worker.ts', import.meta.url), { type: 'module', name: 'cold-easel-events' });
  worker.onerror = () => holdStream(hear);
  worker.port.onmessage = (e: MessageEvent<FromEvents>) => hear(e.data);
  window.addEventListener('pagehide', () => worker.port.postMessage('bye' satisfies ToEvents));
}

/** Hears every event, as text, until the returned function is called. */
export function listen(listener: Listener): () => void {
  start();
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Whether the server answers, as far as the stream of events tells. */
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
