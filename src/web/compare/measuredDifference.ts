/** The difference of two decoded pictures, half of its bands told here and half beside. */
import type { MeasuredDifference } from '../../core/review/difference.js';
import { type Band, type BandPixels, bandsOf, lightnessFactor, type MeasuredBand, PictureComparer } from '../../engine/compare/pictureComparer.js';
import { loadKernel } from '../preview/loadKernel.js';
import type { BandAsk } from './differenceBand.worker.js';
import { MESSAGES } from './words.js';

/** Pictures of fewer pixels are told here alone. */
const MIN_SHARED_PIXELS = 200_000;

interface Comparing {
  comparer: PictureComparer;
  beside: Worker;
}

let comparing: Promise<Comparing> | null = null;

async function start(): Promise<Comparing> {
  const kernel = await loadKernel();
  const beside = new Worker(new URL('./differenceBand.worker.ts', import.meta.url), { type: 'module' });
  beside.postMessage({ kernel } satisfies BandAsk);
  const comparer = new PictureComparer(kernel);
  comparer.warmUp();
  return { comparer, beside };
}

/** What compares, made once; also asked for before it is needed. */
export function prepareComparing(): Promise<Comparing> {
  comparing ??= start().catch((e: unknown) => {
    comparing = null;
    throw e;
  });
  return comparing;
}

/** It may be short of memory: the next question starts another. */
function stop(beside: Worker): void {
  beside.terminate();
  comparing = null;
}

function askBeside(beside: Worker, bands: readonly BandPixels[]): Promise<MeasuredBand[]> {
  return new Promise((resolve, reject) => {
    const measured: MeasuredBand[] = [];
    beside.onmessage = ({ data }: MessageEvent<MeasuredBand>) => {
      if (measured.push(data) === bands.length) resolve(measured);
    };
    beside.onerror = () => {
      stop(beside);
      reject(new Error(MESSAGES.differenceFailed));
    };
    for (const band of bands) beside.postMessage({ band } satisfies BandAsk, [band.first.buffer, band.second.buffer]);
  });
}

/** A canvas that holds a picture at some size. */
export type DrawnPicture = OffscreenCanvasRenderingContext2D;

function pixelsOf(picture: DrawnPicture, { top, bottom }: Band): Uint8ClampedArray<ArrayBuffer> {
  return picture.getImageData(0, top, picture.canvas.width, bottom - top).data;
}

/** Compares two pictures of one size. Throws an Error where the kernel cannot be fetched or memory is short. */
export async function measureDifference(first: DrawnPicture, second: DrawnPicture): Promise<MeasuredDifference> {
  const { width, height } = first.canvas;
  const { comparer, beside } = await prepareComparing();
  const factor = lightnessFactor(width, height);
  const read = (band: Band): BandPixels => ({ ...band, width, factor, first: pixelsOf(first, band), second: pixelsOf(second, band) });
  const bands = bandsOf(width, height, width * height < MIN_SHARED_PIXELS ? 1 : 2);
  const here = Math.ceil(bands.length / 2);
  const others = bands.length > 1 ? askBeside(beside, bands.slice(here).map(read)) : Promise.resolve([]);
  // Where those here fail, nobody waits for the others.
  others.catch(() => undefined);
  let own: MeasuredBand[];
  try {
    own = bands.slice(0, here).map((band) => comparer.measureBand(read(band)));
  } catch (e) {
    // What is told beside must not come as an answer to the next question.
    stop(beside);
    throw e;
  }
  return comparer.join(width, height, [...own, ...(await others)]);
}
