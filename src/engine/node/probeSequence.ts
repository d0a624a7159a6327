/** What an image sequence in a ZIP holds: its files are unpacked one after another, and each is decoded. */
import { createReadStream } from 'node:fs';
import sharp from 'sharp';
import { Unzip, UnzipInflate, UnzipPassThrough } from 'fflate';
import type { ProbedMovie } from './probedMovie.js';

interface FrameFacts {
  width: number;
  height: number;
  alpha: boolean;
  number: number;
}

/** Decodes one whole. Rejects with its name where it is torn, or bears no number. */
async function frameFacts(name: string, bytes: Buffer): Promise<FrameFacts> {
  const number = /_(\d+)\.(?:png|jpg)$/.exec(name)?.[1];
  if (number === undefined) throw new Error(`${name} is no frame of a sequence.`);
  try {
    const image = sharp(bytes, { failOn: 'truncated', limitInputPixels: false });
    const { width, height, hasAlpha } = await image.metadata();
    await image.stats();
    return { width, height, alpha: hasAlpha, number: Number(number) };
  } catch (e) {
    throw new Error(`${name}: ${(e as Error).message}`, { cause: e });
  }
}

/** Reads it whole. Rejects where it is torn, or its frames are not of one size and numbered from 1 on. */
export async function probeSequence(file: string): Promise<ProbedMovie> {
  const whole: { name: string; bytes: Buffer }[] = [];
  const unzip = new Unzip((entry) => {
    const pieces: Uint8Array[] = [];
    entry.ondata = (error, data, last) => {
      if (error) throw error;
      pieces.push(data);
      if (last) whole.push({ name: entry.name, bytes: Buffer.concat(pieces) });
    };
    entry.start();
  });
  unzip.register(UnzipPassThrough);
  unzip.register(UnzipInflate);
  const push = (chunk: Uint8Array, last = false): void => {
    try {
      unzip.push(chunk, last);
    } catch (e) {
      throw new Error('The ZIP is cut short or damaged.', { cause: e });
    }
  };
  const frames: FrameFacts[] = [];
  const readFrames = async (): Promise<void> => {
    for (let next = whole.shift(); next; next = whole.shift()) frames.push(await frameFacts(next.name, next.bytes));
  };
  for await (const chunk of createReadStream(file, { highWaterMark: 1 << 20 })) {
    push(chunk as Uint8Array);
    await readFrames();
  }
  push(new Uint8Array(0), true);
  await readFrames();
  const [first] = frames;
  if (!first) throw new Error('It holds no frame.');
  for (const [i, { number, width, height }] of frames.entries()) {
    if (number !== i + 1) throw new Error(`Frame ${i + 1} is missing.`);
    if (width !== first.width || height !== first.height)
      throw new Error(`Frame ${i + 1} is ${width} × ${height}, and the first ${first.width} × ${first.height}.`);
  }
  return {
    codec: 'sequence',
    width: first.width,
    height: first.height,
    rate: '',
    frames: frames.length,
    seconds: 0,
    pixelFormat: first.alpha ? 'rgba' : 'rgb24',
    profile: '',
    range: '',
    matrix: '',
    fastStart: true,
  };
}
