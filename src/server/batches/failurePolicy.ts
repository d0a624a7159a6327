/** What a failed frame means for its batch: tried again, passed over, held for a person, or waited out. */
import { DeadlyFrameError } from '../../engine/scheduler/job.js';
import { type ServerError, storageFault } from '../errors.js';

const MAX_ATTEMPTS = 2;
/** As many frames failing one after another for the same reason hold the batch. */
const MAX_CONSECUTIVE_FAILURES = 3;
/** Seconds of the longest pause before trying again. */
const MAX_PAUSE_SECONDS = 60;

/** What follows from a failed frame. */
export type Verdict =
  /** The frame waits and is tried again. */
  | { kind: 'again'; message: string }
  /** The frame is passed over and reported. */
  | { kind: 'failed'; message: string }
  /** The frame waits, and so does the batch, until the disk or database works again. */
  | { kind: 'wait'; fault: ServerError }
  /** The frame waits or has failed, and the batch is held for a person. */
  | { kind: 'hold'; message: string; reason: string; failed: boolean };

/** Tells a fault of one frame from one that all frames share. */
export class FailurePolicy {
  private cause = '';
  private count = 0;

  /** A frame came out: whatever failed before was not common to all. */
  succeeded(): void {
    this.count = 0;
  }

  judge(error: Error, attempts: number): Verdict {
    const fault = storageFault(error, true);
    // Whatever frame meets it, the disk or the database is at fault and not the frame.
    if (fault?.code === 'unusable') return { kind: 'hold', message: fault.message, reason: fault.message, failed: false };
    if (fault) return { kind: 'wait', fault };
    // Frames differ in their names; the cause is what follows.
    const cause = error.message.replace(/^Shot .*?: /, '');
    this.count = cause === this.cause ? this.count + 1 : 1;
    this.cause = cause;
    // What workers ended of twice has had its second try.
    const failed = attempts >= MAX_ATTEMPTS || error instanceof DeadlyFrameError;
    if (this.count >= MAX_CONSECUTIVE_FAILURES)
      return { kind: 'hold', message: error.message, reason: `The same fault three times in a row: ${cause}`, failed };
    return { kind: failed ? 'failed' : 'again', message: error.message };
  }
}

/** Seconds to wait before the nth try (from 0): `first`, then twice as long each time, up to a minute. */
export function pauseSeconds(tries: number, first: number): number {
  return Math.min(MAX_PAUSE_SECONDS, first * 2 ** tries);
}
