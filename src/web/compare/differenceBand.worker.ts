/** Tells bands of rows of a difference beside the worker that has the pictures. */
import { type BandPixels, PictureComparer } from '../../engine/compare/pictureComparer.js';

/** The kernel comes first. */
export type BandAsk = { kernel: WebAssembly.Module } | { band: BandPixels };

let comparer: PictureComparer;

onmessage = ({ data }: MessageEvent<BandAsk>) => {
  if ('kernel' in data) {
    comparer = new PictureComparer(data.kernel);
    comparer.warmUp();
    return;
  }
  const measured = comparer.measureBand(data.band);
  postMessage(measured, { transfer: [measured.values.buffer, ...measured.lightness.map((p) => p.buffer)] });
};
