/** Movies are made one after another, beside batches: each can be stopped, and tells how far it is. */

/** Milliseconds from one telling to the next. */
const TELL_MS = 300;

/** A movie that waits or is made. */
export interface MovieJob {
  /** Of the row. */
  id: number;
  /** Never rejects. @param onShare how much of it is encoded, 0..1. */
  run: (signal: AbortSignal, onShare: (share: number) => void) => Promise<void>;
  /** Tells pages how far it is. */
  tell: (share: number) => void;
}

/** Why a movie was ended before it was whole. */
export const STOPPED = 'stopped';

/** Makes movies one after another; each can be stopped. */
export class MovieQueue {
  private readonly waiting: MovieJob[] = [];
  private current: { job: MovieJob; stop: AbortController; share: number } | null = null;

  /** @param closing aborted when the server ends: what is being made is left for the next start. */
  constructor(private readonly closing: AbortSignal) {}

  /** How much of a movie is encoded, 0..1; null of one that waits, or is none of the queue's. */
  shareOf(id: number): number | null {
    return this.current?.job.id === id ? this.current.share : null;
  }

  add(job: MovieJob): void {
    this.waiting.push(job);
    void this.next();
  }

  /** Stops a movie that is being made or waits; says whether there was one. */
  async stop(id: number): Promise<boolean> {
    if (this.current?.job.id === id) {
      this.current.stop.abort(STOPPED);
      return true;
    }
    const at = this.waiting.findIndex((j) => j.id === id);
    if (at < 0) return false;
    const [job] = this.waiting.splice(at, 1);
    // It writes down that it was stopped, without having begun.
    await job!.run(AbortSignal.abort(STOPPED), () => undefined);
    return true;
  }

  private async next(): Promise<void> {
    if (this.current || this.closing.aborted) return;
    const job = this.waiting.shift();
    if (!job) return;
    const stop = new AbortController();
    const current = { job, stop, share: 0 };
    this.current = current;
    const onEnd = (): void => stop.abort(this.closing.reason);
    this.closing.addEventListener('abort', onEnd, { once: true });
    let told = 0;
    try {
      await job.run(stop.signal, (share) => {
        current.share = share;
        if (Date.now() - told < TELL_MS) return;
        told = Date.now();
        job.tell(share);
      });
    } finally {
      this.closing.removeEventListener('abort', onEnd);
      this.current = null;
      void this.next();
    }
  }
}
