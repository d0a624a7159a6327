/** One run of a batch: its frames in work, and what has been measured of it. */
import { isMoving } from '../../core/shots/kinds.js';
import type { Frame } from '../../core/frame/frame.js';
import { framesBudget } from '../../engine/node/memoryBudget.js';
import { needsStrips } from '../../engine/sampling/strips.js';
import type { LiveFilm } from '../../engine/scheduler/job.js';
import type { ServerContext } from '../context.js';
import type { Batch, BatchFrame } from '../db/models.js';
import type { ServerError } from '../errors.js';
import type { OpenPlan } from '../planning/planner.js';
import type { LiveProgress } from './repository.js';
import { checkRoom, freeBytes } from './diskRoom.js';
import { FailurePolicy } from './failurePolicy.js';
import { MemoryGate } from '../../engine/node/memoryGate.js';
import { type BatchDigest, nameOfRun } from './snapshot.js';

const PROGRESS_INTERVAL_MS = 250;
/** Telling takes at most one part in so many of the time, however many frames a batch has. */
const PROGRESS_SHARE = 10;
/** How often it is looked whether the disk has room. */
const ROOM_INTERVAL_MS = 200;
/** Frames fetched from the planner at once. */
const FRAMES_AT_ONCE = 64;

/** Stills are looked at one by one; what moves is sampled alike. One in strips is as even as planned, or is not there. */
export function supportsEarlyStop(frame: Frame): boolean {
  return !isMoving(frame.kind) && frame.sampling.mode === 'traced' && !needsStrips(frame, framesBudget());
}

/** A frame in work. */
export interface FrameInWork {
  row: BatchFrame;
  frame: Frame;
  share: number;
  /** What is summed up of it so far; undefined before it is traced and once it is developed. */
  film?: LiveFilm;
  /** Ends its sampling; the picture is made of what is there. */
  enough: AbortController;
  /** Gives it up. */
  stop: AbortController;
}

/** What whoever runs batches says and hears of a run. */
export interface RunHost {
  /** Whether further frames may be begun. */
  wanted(): boolean;
  /** A frame came out: disk and database work. */
  rendered(): void;
  /** A lane ended early: its row must be set right before the next run, and of a `fault` of the disk or the database people are told at once. */
  interrupted(fault: ServerError | null): void;
  /** Holds the batch for a person, unless it is not running any more. */
  hold(reason: string): Promise<void>;
}

/** One batch in work. */
export class Run {
  readonly started = performance.now();
  readonly current = new Map<number, FrameInWork>();
  readonly policy = new FailurePolicy();
  readonly memory = new MemoryGate();
  /** Its row says that it is running. */
  begun = false;
  /** No further frame is begun. */
  halted = false;
  /** What stills have is kept, so that they can go on from there. */
  pausing = false;
  /** Another batch comes first: frames in work are ended, and no further one is begun. */
  yielding = false;
  private timer: NodeJS.Timeout | null = null;
  private cost = 0;
  private roomSeen = -Infinity;
  private twins: ReadonlySet<string> = new Set();
  private sharedMasters: ReadonlySet<string> = new Set();
  private page: { from: number; frames: Promise<Frame[]> } | null = null;

  /** @param tell tells everybody how the batch stands. */
  constructor(
    readonly batch: Batch,
    readonly digest: BatchDigest,
    private readonly plan: OpenPlan,
    private readonly tell: () => Promise<void>,
  ) {}

  /** No further frame is begun, for one reason or another. */
  get ending(): boolean {
    return this.halted || this.yielding;
  }

  /** Equal pictures are not taken over: somebody wants them rendered again. */
  get anew(): boolean {
    return this.digest.anew ?? false;
  }

  /** Looks whether the disk has room, now and then. Throws ServerError 'disk-full' where it has not. */
  async checkRoom({ store, config, masters }: ServerContext): Promise<void> {
    const now = performance.now();
    if (now - this.roomSeen < ROOM_INTERVAL_MS) return;
    const free = await freeBytes(store.root);
    // Masters make way for renders: twice what is missing, so that it is not so again with the next frame.
    if (free < config.reserveBytes) await masters.free(2 * (config.reserveBytes - free));
    await checkRoom(store.root, config.reserveBytes);
    this.roomSeen = now;
  }

  /** Tells which keys of files, and of masters, several frames of the batch have. */
  setTwins(files: ReadonlySet<string>, masters: ReadonlySet<string>): void {
    this.twins = files;
    this.sharedMasters = masters;
  }

  /** Whether another frame of the batch is made of the same light. */
  sharesMaster({ masterKey }: Pick<BatchFrame, 'masterKey'>): boolean {
    return masterKey !== null && this.sharedMasters.has(masterKey);
  }

  /** Whether another frame of the batch has the same files. */
  hasTwins({ filesKey }: Pick<BatchFrame, 'filesKey'>): boolean {
    return filesKey !== null && this.twins.has(filesKey);
  }

  /** The frame at a position of the batch. */
  async frameAt(position: number): Promise<Frame> {
    const from = position - (position % FRAMES_AT_ONCE);
    if (this.page?.from !== from) this.page = { from, frames: this.plan.frames(from, from + FRAMES_AT_ONCE) };
    return (await this.page.frames)[position - from]!;
  }

  /** Ends the run. A still may have hours in it: pausing keeps what it has. Frames of a movie are begun again. */
  halt(pausing: boolean): void {
    this.halted = true;
    this.pausing = pausing;
    for (const { frame, enough, stop } of this.current.values()) (pausing && supportsEarlyStop(frame) ? enough : stop).abort();
  }

  /** Lets another batch go first: what a still has is kept, and frames of a movie are ended as they are short. */
  giveWay(): void {
    if (this.ending) return;
    this.yielding = this.pausing = true;
    for (const { frame, enough } of this.current.values()) if (supportsEarlyStop(frame)) enough.abort();
  }

  /** Tells how it stands, soon, and no more often than is of use. */
  scheduleProgress(): void {
    if (this.timer) return;
    this.timer = setTimeout(
      () => {
        const started = performance.now();
        void this.tell().finally(() => {
          this.timer = null;
          this.cost = performance.now() - started;
        });
      },
      Math.max(PROGRESS_INTERVAL_MS, PROGRESS_SHARE * this.cost),
    );
  }

  stopTelling(): void {
    if (this.timer) clearTimeout(this.timer);
  }

  progress({ executor }: ServerContext): LiveProgress {
    const first = [...this.current.entries()].sort((a, b) => a[0] - b[0])[0]?.[1];
    const { busy, wall, workers } = executor.stats();
    return {
      elapsed: (performance.now() - this.started) / 1000,
      current: first
        ? {
            id: first.row.id,
            shot: nameOfRun(this.digest, first.frame.shot),
            number: first.frame.number,
            share: first.share,
            samples: Math.floor(first.share * first.frame.sampling.samples),
            ofSamples: first.frame.sampling.samples,
            still: supportsEarlyStop(first.frame),
          }
        : null,
      busy,
      wall,
      workers,
      shares: new Map([...this.current].map(([position, { share }]) => [position, share])),
      waiting: null,
    };
  }
}
