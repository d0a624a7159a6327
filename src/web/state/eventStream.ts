/** The stream of events itself, as a shared worker or a page without one holds it. */

/** What whoever holds the stream tells its pages. */
export type FromEvents = { kind: 'event'; data: string } | { kind: 'open' } | { kind: 'closed' };
/** What a page tells the shared worker. */
export type ToEvents = 'bye';

/** Milliseconds after which a stream that was refused is asked for again. */
const AGAIN_MS = 3000;

/** Holds a stream open, whatever becomes of it. */
export function holdStream(tell: (message: FromEvents) => void): void {
  const source = new EventSource('/api/events');
  source.onopen = () => tell({ kind: 'open' });
  source.onmessage = (e: MessageEvent<string>) => tell({ kind: 'event', data: e.data });
  source.onerror = () => {
    tell({ kind: 'closed' });
    // A stream that was lost is taken up again by the browser; one that was refused is not.
    if (source.readyState === EventSource.CLOSED) setTimeout(() => holdStream(tell), AGAIN_MS);
  };
}
