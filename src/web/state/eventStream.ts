/** The stream of events itself, as a shared worker or a page without one holds it. */

/** What whoever holds the stream tells its pages. */
export type FromEvents = { kind: 'event'; data: string } | { kind: 'open' } | { kind: 'closed' };
/** What a page tells the shared worker: the projects that it shows from now on; or that it goes. */
export type ToEvents = { kind: 'follow'; projects: readonly number[] } | { kind: 'bye' };

/** Milliseconds after which a stream that was refused is asked for again. */
const RETRY_MS = 3000;

/** Holds one stream open, whatever becomes of it, for whichever projects are asked for. */
export class EventStream {
  private source: EventSource | null = null;
  private projects: ReadonlySet<number> = new Set();
  private lastId = '';

  constructor(private readonly tell: (message: FromEvents) => void) {
    this.open();
  }

  /** Follows these projects from now on. What came for them since the last event is told as well. */
  follow(projects: ReadonlySet<number>): void {
    // One that is followed without need is left until the stream changes anyway.
    if ([...projects].every((p) => this.projects.has(p))) return;
    this.projects = new Set(projects);
    this.open();
  }

  private open(): void {
    this.source?.close();
    const query = new URLSearchParams({ projects: [...this.projects].join(','), ...(this.lastId !== '' && { after: this.lastId }) });
    const source = new EventSource(`/api/events?${query}`);
    this.source = source;
    source.onopen = () => this.tell({ kind: 'open' });
    source.onmessage = (e: MessageEvent<string>) => {
      this.lastId = e.lastEventId;
      this.tell({ kind: 'event', data: e.data });
    };
    source.onerror = () => {
      this.tell({ kind: 'closed' });
      // A stream that was lost is taken up again by the browser; one that was refused is not.
      if (source.readyState !== EventSource.CLOSED) return;
      setTimeout(() => {
        if (this.source === source) this.open();
      }, RETRY_MS);
    };
  }
}
