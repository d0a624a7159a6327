/** Lets frames be in work at a time as far as the machine's memory goes: a poster alone, small frames three at once. */
import type { Frame } from '../../core/frame/frame.js';
import { framesBudget } from './memoryBudget.js';
import { bytesInOnePiece, bytesInStrips, needsStrips } from '../sampling/strips.js';

/** Larger frames than this are in work at most so many at a time: more do not trace faster, and each has its film. */
const LARGE_BYTES = 64 * 2 ** 20;
const MAX_LARGE = 3;

/** Bytes that a frame holds while it is traced, denoised and written. */
export function bytesOfFrame(frame: Pick<Frame, 'size' | 'passes'>): number {
  return needsStrips(frame, framesBudget()) ? bytesInStrips(frame) : bytesInOnePiece(frame);
}

/** Lets work in while its memory fits into what is there; the rest waits in order. */
export class MemoryGate {
  private taken = 0;
  private inside = 0;
  private large = 0;
  private readonly waiting: { bytes: number; enter: () => void }[] = [];

  /** @param budget bytes. */
  constructor(private readonly budget = framesBudget()) {}

  /** Resolves once there is room, in the order of asking. One frame is always let in, however large it is. */
  async enter(bytes: number): Promise<void> {
    if (this.waiting.length > 0 || !this.fits(bytes)) await new Promise<void>((enter) => this.waiting.push({ bytes, enter }));
    else this.take(bytes);
  }

  leave(bytes: number): void {
    this.taken -= bytes;
    this.inside--;
    if (bytes > LARGE_BYTES) this.large--;
    for (let next = this.waiting[0]; next && this.fits(next.bytes); next = this.waiting[0]) {
      this.waiting.shift();
      this.take(next.bytes);
      next.enter();
    }
  }

  private fits(bytes: number): boolean {
    if (bytes > LARGE_BYTES && this.large >= MAX_LARGE) return false;
    return this.inside === 0 || this.taken + bytes <= this.budget;
  }

  private take(bytes: number): void {
    this.taken += bytes;
    this.inside++;
    if (bytes > LARGE_BYTES) this.large++;
  }
}
