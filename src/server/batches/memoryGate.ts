/** Lets frames be in work at a time as far as the machine's memory goes: a poster alone, small frames three at once. */
import { totalmem } from 'node:os';
import type { Frame } from '../../core/frame/frame.js';
import { filmLayout } from '../../engine/upload/filmLayout.js';

/** Larger frames than this are in work at most so many at a time: more do not trace faster, and each has its film. */
const LARGE_BYTES = 64 * 2 ** 20;
const MAX_LARGE = 3;
/** Share of the machine's memory that frames in work may take. */
const SHARE = 0.5;
/** Bytes a pixel beside the film: the picture, the denoiser's planes, and what makes the files. */
const OTHER_BYTES = 12 + 96 + 40;

/** Bytes that a frame holds while it is traced, denoised and written. */
export function bytesOfFrame({ size, passes }: Pick<Frame, 'size' | 'passes'>): number {
  return size.width * size.height * (4 * filmLayout({ passes }).stride + OTHER_BYTES);
}

export class MemoryGate {
  private taken = 0;
  private inside = 0;
  private large = 0;
  private readonly waiting: { bytes: number; enter: () => void }[] = [];

  /** @param budget bytes. */
  constructor(private readonly budget = SHARE * totalmem()) {}

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
