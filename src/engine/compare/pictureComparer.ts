/** The difference of two pictures, told by the kernel in bands of rows: what it works in stays small, however large they are. */
import { NOISE_REACH } from '../../../kernel/layout.js';
import { type Difference, judgeDifference, type MeasuredDifference, type Pixels } from '../../core/review/difference.js';
import { DEFAULT_THRESHOLD, MIN_THRESHOLD } from '../../core/review/threshold.js';
import { decodeTable } from '../../core/units/colour.js';
import { Arena, instantiate, type Kernel, makeMemory } from '../kernel.js';

/** Byte of the grey that stands behind what is clear. */
const GROUND = 0x7b;
/** Pixels of a band, about, without the rows above and below that its noise reaches to. */
const BAND_PIXELS = 1_100_000;
/** Rows begin at multiples of so many, the coarsest scale of the noise. */
const ALIGNMENT = 8;
/** For SSIM, larger pictures are reduced to about so many pixels of their shorter side first, as its authors advise. */
const SSIM_SIDE = 256;
/** What L* ranges over. */
const LIGHTNESS = 100;
/** Bytes that the kernel reads and writes past the last pixel at most. */
const OVER = 12;
const WARM_UPS = 4;
/** The kernel's own numbers lie below. */
const BEGIN = 1024;

/** Rows of two pictures that are told, and those that are read for them. */
export interface Band {
  from: number;
  to: number;
  top: number;
  bottom: number;
}

/** Pixels of both pictures in the rows of a band from `top` to `bottom`, RGBA without gaps. */
export interface BandPixels extends Band {
  width: number;
  first: Uint8ClampedArray | Uint8Array;
  second: Uint8ClampedArray | Uint8Array;
  /** By how much their lightness is made smaller. */
  factor: number;
}

/** What a band comes to: rows `from` to `to` of the difference, and of the smaller lightness of both pictures. */
export interface MeasuredBand {
  from: number;
  values: Float32Array;
  lightness: [Float32Array, Float32Array];
}

/** Factor by which lightness is made smaller for SSIM. */
export const lightnessFactor = (width: number, height: number): number => Math.max(1, Math.round(Math.min(width, height) / SSIM_SIDE));

/** @param count of bands at least, where there are rows enough. */
export function bandsOf(width: number, height: number, count = 1): Band[] {
  // A band ends between blocks of the lightness and of the noise's coarsest scale.
  const step = ALIGNMENT * lightnessFactor(width, height);
  const bands = Math.max(count, Math.ceil((width * height) / BAND_PIXELS));
  const rows = step * Math.ceil(height / bands / step);
  return Array.from({ length: Math.ceil(height / rows) }, (_, i) => {
    const [from, to] = [i * rows, Math.min(height, (i + 1) * rows)];
    return { from, to, top: Math.max(0, from - NOISE_REACH), bottom: Math.min(height, to + NOISE_REACH) };
  });
}

/** Compares images by the compiled loops; its memory grows to the largest pair and is used again. */
export class PictureComparer {
  private memory: WebAssembly.Memory | null = null;
  private kernel: Kernel | null = null;

  constructor(private readonly module: WebAssembly.Module) {}

  /**
   * Compares two pictures of one size. Throws an Error where they have not, or where memory is short.
   * @param threshold in CIEDE2000, MIN_THRESHOLD to MAX_THRESHOLD.
   */
  difference(first: Pixels, second: Pixels, threshold = DEFAULT_THRESHOLD): Difference {
    return judgeDifference(this.measure(first, second), threshold);
  }

  /** Compares a small picture a few times, since a browser compiles well only what has run for a while. */
  warmUp(): void {
    const [width, rows] = [512, 128];
    const [first, second] = [0x33, 0xcc].map((byte) => new Uint8Array(4 * width * rows).fill(byte)) as [Uint8Array, Uint8Array];
    for (let k = 0; k < WARM_UPS; k++) this.measureBand({ from: 0, to: rows, top: 0, bottom: rows, width, first, second, factor: 1 });
  }

  /** What `difference` judges. Throws as it does. */
  measure(first: Pixels, second: Pixels): MeasuredDifference {
    const { width, height } = first;
    if (second.width !== width || second.height !== height)
      throw new Error(`The renders are ${width} × ${height} and ${second.width} × ${second.height}; only renders of one size have a difference.`);
    const factor = lightnessFactor(width, height);
    const rows = ({ data }: Pixels, band: Band) => data.subarray(4 * width * band.top, 4 * width * band.bottom);
    const bands = bandsOf(width, height).map((band) =>
      this.measureBand({ ...band, width, factor, first: rows(first, band), second: rows(second, band) }),
    );
    return this.join(width, height, bands);
  }

  /** Tells the rows of one band; throws an Error where memory is short. */
  measureBand({ width, factor, first, second, from, to, top, bottom }: BandPixels): MeasuredBand {
    const rows = bottom - top;
    const [w, h] = [Math.ceil(width / factor), Math.ceil((to - from) / factor)];
    const { kernel, buffer, places } = this.lay((k, arena) => ({
      table: arena.take(4 * 256),
      first: arena.take(4 * width * rows + OVER),
      second: arena.take(4 * width * rows + OVER),
      values: arena.take(4 * width * (to - from) + OVER),
      lightness: [arena.take(k.planeBytes(w, h)), arena.take(k.planeBytes(w, h))] as const,
      scratch: arena.take(k.differenceScratchBytes(width, rows)),
    }));
    new Float32Array(buffer, places.table, 256).set(decodeTable());
    new Uint8Array(buffer, places.first).set(first);
    new Uint8Array(buffer, places.second).set(second);
    const { table, scratch, values } = places;
    kernel.differenceOfRows(places.first, places.second, width, rows, from - top, to - top, table, GROUND, MIN_THRESHOLD, scratch, values);
    const [a, b] = places.lightness.map((start) => kernel.inPlane(start, w)) as [number, number];
    kernel.shrinkLightness(scratch, width, rows, from - top, to - top, factor, a, b);
    return {
      from,
      values: new Float32Array(buffer, values, width * (to - from)).slice(),
      lightness: [readPlane(kernel, buffer, a, w, h), readPlane(kernel, buffer, b, w, h)],
    };
  }

  /** The whole of which all bands are there. */
  join(width: number, height: number, bands: readonly MeasuredBand[]): MeasuredDifference {
    const factor = lightnessFactor(width, height);
    const [w, h] = [Math.ceil(width / factor), Math.ceil(height / factor)];
    const values = new Float32Array(width * height);
    const { kernel, buffer, places } = this.lay((k, arena) => ({
      lightness: [arena.take(k.planeBytes(w, h)), arena.take(k.planeBytes(w, h))] as const,
      scratch: arena.take(k.ssimScratchBytes(w, h)),
    }));
    const [a, b] = places.lightness.map((start) => kernel.inPlane(start, w)) as [number, number];
    for (const band of bands) {
      values.set(band.values, band.from * width);
      const down = (band.from / factor) * pitchOf(kernel, w);
      writePlane(kernel, buffer, a + down, w, band.lightness[0]);
      writePlane(kernel, buffer, b + down, w, band.lightness[1]);
    }
    return { width, height, values, ssim: kernel.ssimOfPlanes(a, b, w, h, LIGHTNESS, places.scratch) };
  }

  /** Lays out what one step works in; its sizes are the kernel's to tell, and its memory grows to hold it. */
  private lay<T>(layOut: (kernel: Kernel, arena: Arena) => T): { kernel: Kernel; buffer: ArrayBufferLike; places: T } {
    this.memory ??= makeMemory(BEGIN);
    this.kernel ??= instantiate(this.module, this.memory);
    const arena = new Arena(BEGIN);
    const places = layOut(this.kernel, arena);
    if (arena.at > this.memory.buffer.byteLength) {
      this.memory = makeMemory(arena.at);
      this.kernel = instantiate(this.module, this.memory);
    }
    return { kernel: this.kernel, buffer: this.memory.buffer, places };
  }
}

/** Bytes from row to row. */
const pitchOf = (kernel: Kernel, width: number): number => kernel.planeBytes(width, 1) - kernel.planeBytes(width, 0);

function readPlane(kernel: Kernel, buffer: ArrayBufferLike, at: number, width: number, height: number): Float32Array {
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) out.set(new Float32Array(buffer, at + y * pitchOf(kernel, width), width), y * width);
  return out;
}

function writePlane(kernel: Kernel, buffer: ArrayBufferLike, at: number, width: number, values: Float32Array): void {
  for (let y = 0; y * width < values.length; y++)
    new Float32Array(buffer, at + y * pitchOf(kernel, width), width).set(values.subarray(y * width, (y + 1) * width));
}
