/** The pool's workers: which tasks are at each, and a new one for each that breaks down or hangs. */
import type { FromWorker, TaskMessage, Thread, TileInWork, ToWorker } from './messages.js';

/** Milliseconds without a word from a worker that has something to do, after which it counts as hung. */
export const HANG_MS = 10 * 60_000;
/** Workers that may be replaced within a minute: more die of something that a new one does not mend. */
const MAX_LOSSES = 12;
const LOSSES_WITHIN_MS = 60_000;

/** How workers are watched and replaced. */
export interface CrewOptions {
  /** Makes the worker anew that has this place; without it the crew is lost with the first worker. */
  restart?: (place: number) => Thread;
  /** HANG_MS where absent. */
  hangMs?: number;
}

/** Who hears from the workers. */
export interface CrewHost {
  receive(place: number, message: FromWorker): void;
  /** A new worker is in this place: it knows nothing yet. The tasks that were at the old one come back, the one in work first. */
  replaced(place: number, tasks: TaskMessage[], error: Error): void;
  /** No worker can be had any more. */
  lost(error: Error): void;
}

/** Workers and the tasks that they have: one that dies or hangs is replaced, and its tasks go to others. */
export class Crew {
  /** The tasks at each worker, the one in work first. */
  private readonly at: TaskMessage[][];
  /** When each was last heard of, or given its first task. */
  private readonly heard: number[];
  /** Places whose worker is being replaced. */
  private readonly empty = new Set<number>();
  private losses: number[] = [];
  private readonly watch: ReturnType<typeof setInterval> | null = null;
  private closed = false;

  constructor(
    private readonly threads: Thread[],
    private readonly host: CrewHost,
    private readonly options: CrewOptions = {},
  ) {
    this.at = threads.map(() => []);
    this.heard = threads.map(() => 0);
    threads.forEach((_, place) => this.listen(place));
    const { restart, hangMs = HANG_MS } = options;
    if (!restart) return;
    this.watch = setInterval(() => this.lookForHung(hangMs), hangMs / 4);
    // Node alone lets a timer not hold up the end.
    (this.watch as { unref?: () => void }).unref?.();
  }

  get size(): number {
    return this.threads.length;
  }

  /** Tasks at a worker; Infinity while it is being replaced. */
  load(place: number): number {
    return this.empty.has(place) ? Infinity : this.at[place]!.length;
  }

  /** Where in a job's frame workers are at this moment. */
  tilesOf(job: number): TileInWork[] {
    return this.at.flatMap(([task], place) => {
      if (task?.job !== job) return [];
      const { x, y, width, height } = task;
      return [{ worker: place + 1, x, y, width, height }];
    });
  }

  /** Says something that is no task to one worker. */
  tell(place: number, message: ToWorker): void {
    if (!this.empty.has(place)) this.threads[place]!.post(message);
  }

  /** Says the same to all. */
  tellAll(message: ToWorker): void {
    this.threads.forEach((_, place) => this.tell(place, message));
  }

  give(place: number, task: TaskMessage): void {
    const tasks = this.at[place]!;
    if (tasks.length === 0) this.heard[place] = performance.now();
    tasks.push(task);
    this.threads[place]!.post(task);
  }

  async close(): Promise<void> {
    this.closed = true;
    if (this.watch) clearInterval(this.watch);
    await Promise.all(this.threads.map((t) => t.close()));
  }

  private listen(place: number): void {
    const thread = this.threads[place]!;
    thread.onMessage((message) => {
      // What an old one still had to say is told by its tasks, which are done again.
      if (this.threads[place] !== thread || this.empty.has(place)) return;
      this.heard[place] = performance.now();
      this.at[place]!.shift();
      this.host.receive(place, message);
    });
    thread.onFailure((error) => void this.replace(place, thread, error));
  }

  private lookForHung(hangMs: number): void {
    const now = performance.now();
    this.threads.forEach((thread, place) => {
      if (this.load(place) === 0 || this.empty.has(place) || now - this.heard[place]! < hangMs) return;
      void this.replace(place, thread, new Error(`it did not answer for ${Math.round(hangMs / 1000)} seconds`));
    });
  }

  private async replace(place: number, thread: Thread, error: Error): Promise<void> {
    if (this.closed || this.empty.has(place) || this.threads[place] !== thread) return;
    const { restart } = this.options;
    const now = performance.now();
    this.losses = [...this.losses.filter((at) => now - at < LOSSES_WITHIN_MS), now];
    if (!restart || this.losses.length > MAX_LOSSES) {
      this.host.lost(error);
      return;
    }
    this.empty.add(place);
    // Two of them must not write into one place's memory.
    await thread.close().catch(() => undefined);
    if (this.closed) return;
    this.threads[place] = restart(place);
    this.listen(place);
    this.empty.delete(place);
    const tasks = this.at[place]!;
    this.at[place] = [];
    this.host.replaced(place, tasks, error);
  }
}
