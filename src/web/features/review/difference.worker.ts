/** Compares two pictures by their addresses: the newest question is answered, those before it are left. */
import { differenceOf, type Difference, type Pixels } from '../../../core/review/difference.js';
import { type DifferenceAnswer, type DifferenceAsk, type DifferenceFigures, type DifferencePrepare, MAX_AREAS } from './differenceJob.js';

let wanted: DifferenceAsk | null = null;
let working = false;
/** Pictures that were decoded last, since a threshold or a next frame asks for one of them again. */
const decoded = new Map<string, Promise<ImageBitmap>>();
const MAX_DECODED = 4;

async function decode(url: string): Promise<ImageBitmap> {
  const response = await fetch(url);
  if (!response.ok) throw new Error('A render cannot be loaded. Look whether its file is still there.');
  // Values as they are written: no profile is applied, so that both are told by the same numbers.
  return createImageBitmap(await response.blob(), { colorSpaceConversion: 'none', premultiplyAlpha: 'none' });
}

function load(url: string): Promise<ImageBitmap> {
  const known = decoded.get(url);
  if (known) return known;
  const image = decode(url);
  decoded.set(url, image);
  image.catch(() => decoded.delete(url));
  for (const old of [...decoded.keys()].slice(0, Math.max(0, decoded.size - MAX_DECODED))) {
    decoded.get(old)!.then(
      (i) => i.close(),
      () => undefined,
    );
    decoded.delete(old);
  }
  return image;
}

/** @param quality how it is made smaller, where it is. */
function pixelsOf(image: ImageBitmap, width: number, height: number, quality: ImageSmoothingQuality): Pixels {
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
  context.imageSmoothingQuality = quality;
  context.drawImage(image, 0, 0, width, height);
  return { width, height, data: context.getImageData(0, 0, width, height).data };
}

/** From just above the threshold to ten times it, dark to light in one hue, so that it reads in grey too. */
function rampColour(share: number): [number, number, number] {
  const t = Math.min(1, Math.max(0, share));
  return [90 + 165 * t, 20 + 200 * t * t, 60 + 110 * t * t];
}

/** The first picture in faint grey, and over it how much each pixel differs. */
function drawMap({ width, height, mask, values, threshold }: Difference, { data }: Pixels): ImageBitmap {
  const image = new ImageData(width, height);
  const decades = Math.log(10);
  for (let i = 0; i < width * height; i++) {
    const at = i * 4;
    const grey = 200 + ((0.2126 * data[i * 4]! + 0.7152 * data[i * 4 + 1]! + 0.0722 * data[i * 4 + 2]!) / 255) * 50;
    const [r, g, b] = mask[i] ? rampColour(Math.log(values[i]! / threshold) / decades) : [grey, grey, grey];
    image.data[at] = r;
    image.data[at + 1] = g;
    image.data[at + 2] = b;
    image.data[at + 3] = 255;
  }
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext('2d')!.putImageData(image, 0, 0);
  return canvas.transferToImageBitmap();
}

/** Pixels from which a first look at fewer is told before, and so many. */
const MANY_PIXELS = 800_000;
const FEW_PIXELS = 120_000;

/** @param scale of the pixels that both have. */
function compare(a: ImageBitmap, b: ImageBitmap, threshold: number, scale: number): DifferenceFigures {
  const [width, height] = [a, b].reduce(([w, h], i) => [Math.min(w, i.width), Math.min(h, i.height)], [Infinity, Infinity]);
  const [w, h] = [Math.max(1, Math.round(width * scale)), Math.max(1, Math.round(height * scale))];
  const quality = scale < 1 ? 'medium' : 'high';
  const pictures = [pixelsOf(a, w, h, quality), pixelsOf(b, w, h, quality)] as const;
  const difference = differenceOf(...pictures, threshold);
  const { changed, ssim, largest, areas } = difference;
  const map = drawMap(difference, pictures[0]);
  const scaled = a.width !== b.width || a.height !== b.height;
  return { width: w, height: h, changed, ssim, largest, areas: areas.slice(0, MAX_AREAS), count: areas.length, map, scaled, isFirstLook: scale < 1 };
}

/** Lets a newer question come in. */
const nextTurn = (): Promise<void> => new Promise((resolve) => setTimeout(resolve));

async function answer({ key, first, second, threshold }: DifferenceAsk): Promise<void> {
  const tell = (figures: DifferenceFigures): void => postMessage({ key, figures } satisfies DifferenceAnswer, { transfer: [figures.map] });
  try {
    const [a, b] = await Promise.all([load(first), load(second)]);
    const pixels = Math.min(a.width, b.width) * Math.min(a.height, b.height);
    if (pixels > MANY_PIXELS) {
      tell(compare(a, b, threshold, Math.sqrt(FEW_PIXELS / pixels)));
      await nextTurn();
      if (wanted) return;
    }
    tell(compare(a, b, threshold, 1));
  } catch (e) {
    postMessage({ key, problem: (e as Error).message } satisfies DifferenceAnswer);
  }
}

async function work(): Promise<void> {
  working = true;
  while (wanted) {
    const ask = wanted;
    wanted = null;
    await answer(ask);
  }
  working = false;
}

onmessage = ({ data }: MessageEvent<DifferenceAsk | DifferencePrepare>) => {
  if ('prepare' in data) {
    // Where it fails, whoever asks for it hears of it.
    void load(data.prepare).catch(() => undefined);
    return;
  }
  wanted = data;
  if (!working) void work();
};
