/** Compares two pictures by their addresses: the newest question is answered, those before it are left. */
import { differenceOf, type Difference, type Pixels } from '../../../core/review/difference.js';
import { type DifferenceAnswer, type DifferenceAsk, MAX_AREAS } from './differenceJob.js';

let wanted: DifferenceAsk | null = null;
let working = false;
/** Pictures that were decoded last, since a threshold or a next frame asks for one of them again. */
const decoded = new Map<string, ImageBitmap>();
const MAX_DECODED = 4;

async function load(url: string): Promise<ImageBitmap> {
  const known = decoded.get(url);
  if (known) return known;
  const response = await fetch(url);
  if (!response.ok) throw new Error('A render cannot be loaded. Look whether its file is still there.');
  // Values as they are written: no profile is applied, so that both are told by the same numbers.
  const image = await createImageBitmap(await response.blob(), { colorSpaceConversion: 'none', premultiplyAlpha: 'none' });
  decoded.set(url, image);
  for (const old of [...decoded.keys()].slice(0, Math.max(0, decoded.size - MAX_DECODED))) {
    decoded.get(old)!.close();
    decoded.delete(old);
  }
  return image;
}

function pixelsOf(image: ImageBitmap, width: number, height: number): Pixels {
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
  context.imageSmoothingQuality = 'high';
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

async function answer({ key, first, second, threshold }: DifferenceAsk): Promise<DifferenceAnswer> {
  try {
    const [a, b] = await Promise.all([load(first), load(second)]);
    const [width, height] = [Math.min(a.width, b.width), Math.min(a.height, b.height)];
    const pictures = [pixelsOf(a, width, height), pixelsOf(b, width, height)] as const;
    const difference = differenceOf(...pictures, threshold);
    const { changed, ssim, largest, areas } = difference;
    const scaled = a.width !== b.width || a.height !== b.height;
    const map = drawMap(difference, pictures[0]);
    return { key, figures: { width, height, changed, ssim, largest, areas: areas.slice(0, MAX_AREAS), count: areas.length, map, scaled } };
  } catch (e) {
    return { key, problem: (e as Error).message };
  }
}

async function work(): Promise<void> {
  working = true;
  while (wanted) {
    const ask = wanted;
    wanted = null;
    const reply = await answer(ask);
    postMessage(reply, 'figures' in reply ? { transfer: [reply.figures.map] } : {});
  }
  working = false;
}

onmessage = ({ data }: MessageEvent<DifferenceAsk>) => {
  wanted = data;
  if (!working) void work();
};
