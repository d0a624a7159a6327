/** Compares two pictures by their addresses: the newest question is answered, those before it are left. */
import { type Difference, judgeDifference, type MeasuredDifference } from '../../core/review/difference.js';
import { type DifferenceAnswer, type DifferenceAsk, type DifferenceFigures, type DifferencePrepare, MAX_AREAS } from './differenceJob.js';
import { type DrawnPicture, measureDifference, prepareComparing } from './measuredDifference.js';
import { MESSAGES } from './words.js';

// Where it fails, the first who asks hears of it.
void prepareComparing().catch(() => undefined);

let wanted: DifferenceAsk | null = null;
let working = false;
/** Pictures that were read last, since a threshold or a next frame asks for one of them again. */
const read = new Map<string, Promise<DrawnPicture>>();
const MAX_READ = 4;
/** The one that others are compared with. */
let kept = '';

function draw(image: CanvasImageSource, width: number, height: number, quality: ImageSmoothingQuality): DrawnPicture {
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
  context.imageSmoothingQuality = quality;
  context.drawImage(image, 0, 0, width, height);
  return context;
}

async function fetchPicture(url: string): Promise<DrawnPicture> {
  const response = await fetch(url);
  if (!response.ok) throw new Error(MESSAGES.renderNotLoaded);
  // Values as they are written: no profile is applied, so that both are told by the same numbers.
  const image = await createImageBitmap(await response.blob(), { colorSpaceConversion: 'none', premultiplyAlpha: 'none' });
  const picture = draw(image, image.width, image.height, 'high');
  image.close();
  return picture;
}

function load(url: string): Promise<DrawnPicture> {
  const picture = read.get(url) ?? fetchPicture(url);
  // Those used last stand last.
  read.delete(url);
  read.set(url, picture);
  picture.catch(() => read.delete(url));
  for (const old of [...read.keys()].filter((u) => u !== kept).slice(0, Math.max(0, read.size - MAX_READ))) read.delete(old);
  return picture;
}

/** Each picture at the size at which it was last wanted smaller: made while nobody waits, where it is prepared. */
const smaller = new WeakMap<DrawnPicture, DrawnPicture>();

/** @param quality how it is made smaller, where it is. */
function atSize(picture: DrawnPicture, width: number, height: number, quality: ImageSmoothingQuality): DrawnPicture {
  const isSize = ({ canvas }: DrawnPicture): boolean => canvas.width === width && canvas.height === height;
  if (isSize(picture)) return picture;
  const known = smaller.get(picture);
  if (known && isSize(known)) return known;
  const made = draw(picture.canvas, width, height, quality);
  smaller.set(picture, made);
  return made;
}

/** Pixels from which a first look at fewer is told before, and so many. */
const MANY_PIXELS = 1_200_000;
const FEW_PIXELS = 260_000;

/** Scale of a first look at so many pixels; 1 where there is none. */
const firstLookScale = (pixels: number): number => (pixels > MANY_PIXELS ? Math.sqrt(FEW_PIXELS / pixels) : 1);
const scaled = (side: number, scale: number): number => Math.max(1, Math.round(side * scale));
const qualityAt = (scale: number): ImageSmoothingQuality => (scale < 1 ? 'medium' : 'high');

/** Fetches and decodes a picture, and makes it as small as a first look at it is. */
async function prepare(url: string): Promise<void> {
  const picture = await load(url);
  const { width, height } = picture.canvas;
  const scale = firstLookScale(width * height);
  const small = atSize(picture, scaled(width, scale), scaled(height, scale), qualityAt(scale));
  // A canvas is drawn only where it is read.
  small.getImageData(0, 0, 1, 1);
}

/** From just above the threshold to ten times it, dark to light in one hue, so that it reads in grey too. */
function rampColour(share: number): [number, number, number] {
  const t = Math.min(1, Math.max(0, share));
  return [90 + 165 * t, 20 + 200 * t * t, 60 + 110 * t * t];
}

/** Colours of the ramp as a canvas has them, since taking a logarithm for every pixel takes long. */
const RAMP_STEPS = 256;
const RAMP = Uint32Array.from({ length: RAMP_STEPS + 1 }, (_, i) => {
  const [r, g, b] = rampColour(Math.log10(1 + (9 * i) / RAMP_STEPS));
  return new Uint32Array(new Uint8Array([r, g, b, 255]).buffer)[0]!;
});

/** The first picture in faint grey, and over it how much each pixel differs. */
function drawMap({ width, height, mask, values, threshold }: Difference, picture: DrawnPicture): ImageBitmap {
  const heat = new ImageData(width, height);
  const pixels = new Uint32Array(heat.data.buffer);
  const scale = RAMP_STEPS / (9 * threshold);
  for (let i = mask.indexOf(1); i >= 0; i = mask[i + 1] === 1 ? i + 1 : mask.indexOf(1, i + 1))
    pixels[i] = RAMP[Math.min(RAMP_STEPS, Math.round((values[i]! - threshold) * scale))]!;
  const over = new OffscreenCanvas(width, height);
  over.getContext('2d')!.putImageData(heat, 0, 0);
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d')!;
  // From 200 to 250 of 255.
  context.fillStyle = 'rgb(249 249 249)';
  context.fillRect(0, 0, width, height);
  context.globalAlpha = 50 / 255;
  context.filter = 'grayscale(1)';
  context.drawImage(picture.canvas, 0, 0);
  context.globalAlpha = 1;
  context.filter = 'none';
  context.drawImage(over, 0, 0);
  return canvas.transferToImageBitmap();
}

/** What was measured last: another threshold asks nothing anew. */
let last: { of: string; measured: MeasuredDifference; picture: DrawnPicture } | null = null;

/** The size at which two pictures are compared. */
function commonSize({ canvas: a }: DrawnPicture, { canvas: b }: DrawnPicture): [number, number] {
  return [Math.min(a.width, b.width), Math.min(a.height, b.height)];
}

/** @param scale of the pixels that both have. */
async function compare({ first, second, threshold }: DifferenceAsk, a: DrawnPicture, b: DrawnPicture, scale: number): Promise<DifferenceFigures> {
  const [width, height] = commonSize(a, b).map((side) => scaled(side, scale)) as [number, number];
  const of = `${first}\n${second}\n${scale}`;
  if (last?.of !== of) {
    const [picture, other] = [a, b].map((p) => atSize(p, width, height, qualityAt(scale))) as [DrawnPicture, DrawnPicture];
    last = { of, picture, measured: await measureDifference(picture, other) };
  }
  const difference = judgeDifference(last.measured, threshold);
  const { changed, ssim, largest, areas } = difference;
  const map = drawMap(difference, last.picture);
  const differ = a.canvas.width !== b.canvas.width || a.canvas.height !== b.canvas.height;
  return {
    width,
    height,
    changed,
    ssim,
    largest,
    areas: areas.slice(0, MAX_AREAS),
    count: areas.length,
    map,
    scaled: differ,
    isFirstLook: scale < 1,
  };
}

/** Lets a newer question come in. */
const nextTurn = (): Promise<void> => new Promise((resolve) => setTimeout(resolve));

async function answer(ask: DifferenceAsk): Promise<void> {
  const { key, first, second } = ask;
  const tell = (figures: DifferenceFigures): void => postMessage({ key, figures } satisfies DifferenceAnswer, { transfer: [figures.map] });
  try {
    const [a, b] = await Promise.all([load(first), load(second)]);
    const [width, height] = commonSize(a, b);
    const scale = firstLookScale(width * height);
    const isMeasured = last?.of === `${first}\n${second}\n1`;
    if (scale < 1 && !isMeasured) {
      tell(await compare(ask, a, b, scale));
      await nextTurn();
      if (wanted) return;
    }
    tell(await compare(ask, a, b, 1));
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
    if (data.first) kept = data.prepare;
    // Where it fails, whoever asks for it hears of it.
    void prepare(data.prepare).catch(() => undefined);
    return;
  }
  kept = data.first;
  wanted = data;
  if (!working) void work();
};
