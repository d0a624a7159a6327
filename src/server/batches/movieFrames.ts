/** Frames of movies: files as they are, or with a colour behind them, words over them, or on their way through a fade. */
import sharp, { type OverlayOptions } from 'sharp';
import { type Logo, logoPlace } from '../../core/movie/logo.js';
import type { Size } from '../../core/camera/view.js';
import type { Corner } from '../../core/frame/legend.js';
import { overColour } from '../../core/image/overColour.js';
import { MOVIE_BACKGROUND } from '../../core/movie/clip.js';
import { legendOverlay, slateSvg } from '../../formats/image/legend.js';

/** A picture of a movie: its file, or what makes its bytes. */
export type MovieFrame = string | (() => Promise<Buffer>);

/** What is done to a file on its way into a movie. */
export interface FrameTreatment {
  /** Colour behind it; it stays clear where absent. */
  background?: string;
  /** How much of it is seen, and the colour of the rest. */
  share?: number;
  fadeColour?: string;
  words?: { corner: Corner; text: string }[];
  /** A logo with the bytes of its image. */
  logo?: Logo & { bytes: Buffer };
}

/** The logo as it lies over a frame of that size. */
async function logoOverlay({ bytes, opacity, ...logo }: Logo & { bytes: Buffer }, width: number, height: number): Promise<OverlayOptions> {
  const { width: w, height: h } = await sharp(bytes).metadata();
  const place = logoPlace({ width, height }, { width: w!, height: h! }, logo);
  const { data, info } = await sharp(bytes)
    .resize({ width: place.width, height: place.height, fit: 'fill' })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  if (opacity < 1) for (let i = 3; i < data.length; i += 4) data[i] = Math.round(data[i]! * opacity);
  return { input: data, raw: { width: info.width, height: info.height, channels: 4 }, left: place.left, top: place.top };
}

const openable = async (frame: MovieFrame): Promise<string | Buffer> => (typeof frame === 'string' ? frame : frame());

/** The frame with all of that, as a PNG that is quickly written. */
export const treatedFrame =
  (frame: MovieFrame, { background, share = 1, fadeColour = '#000000', words = [], logo }: FrameTreatment): (() => Promise<Buffer>) =>
  async () => {
    const { data, info } = await sharp(await openable(frame))
      .toColourspace('srgb')
      .ensureAlpha()
      .raw({ depth: 'uchar' })
      .toBuffer({ resolveWithObject: true });
    const { width, height } = info;
    const behind = background ?? (share < 1 ? fadeColour : undefined);
    const image =
      behind === undefined
        ? sharp(data, { raw: { width, height, channels: 4 } })
        : sharp(overColour(data, behind, share, fadeColour), { raw: { width, height, channels: 3 } });
    const overlays: OverlayOptions[] = words.map((w) => {
      const { left, top, svg } = legendOverlay(w, width, height, 1);
      return { input: Buffer.from(svg), left, top };
    });
    if (logo) overlays.unshift(await logoOverlay(logo, width, height));
    return image.composite(overlays).png({ compressionLevel: 1 }).toBuffer();
  };

/** The render over a colour: an encoder that drops alpha shows what lies in clear pixels. */
export const overBackground = (file: string, background = MOVIE_BACKGROUND): (() => Promise<Buffer>) => treatedFrame(file, { background });

/** What movies of drafts say in their upper left corner. */
export const DRAFT_WORDS = { corner: 'top left', text: 'DRAFT' } as const;

/** A frame of a movie with the mark of a draft, as a PNG that is quickly written. */
export const asDraft =
  (picture: MovieFrame): (() => Promise<Buffer>) =>
  async () => {
    const image = sharp(await openable(picture));
    const { width, height } = await image.metadata();
    const { left, top, svg } = legendOverlay(DRAFT_WORDS, width, height, 1);
    return image
      .composite([{ input: Buffer.from(svg), left, top }])
      .png({ compressionLevel: 1 })
      .toBuffer();
  };

/** Pixels that a frame has at another height. */
const atHeight = ({ width, height }: Size, wanted: number): Size => ({ width: Math.round((width * wanted) / height), height: wanted });

/** Pixels of two frames side by side at the height of the first, in even numbers across. */
export function joinedSize(first: Size, second: Size): Size {
  const width = first.width + atHeight(second, first.height).width;
  return { width: width + (width % 2), height: first.height };
}

/** Two frames of these sizes side by side, each with what it is called; the second comes to the height of the first. */
export const sideBySide =
  (frames: [MovieFrame, MovieFrame], [first, second]: [Size, Size], names: [string, string]): (() => Promise<Buffer>) =>
  async () => {
    const layers: OverlayOptions[] = [];
    for (const [i, { width, height }] of [first, atHeight(second, first.height)].entries()) {
      const at = i * first.width;
      const input = await sharp(await openable(frames[i]!))
        .resize({ width, height, fit: 'fill' })
        .toColourspace('srgb')
        .ensureAlpha()
        .raw({ depth: 'uchar' })
        .toBuffer();
      const { left, top, svg } = legendOverlay({ corner: 'bottom left', text: names[i]! }, width, height, 1);
      layers.push({ input, raw: { width, height, channels: 4 }, left: at, top: 0 }, { input: Buffer.from(svg), left: at + left, top });
    }
    return sharp({ create: { ...joinedSize(first, second), channels: 4, background: '#00000000' } })
      .composite(layers)
      .png({ compressionLevel: 1 })
      .toBuffer();
  };

/** A page of words, made once for all the frames that it stands. @param text lines by line breaks. */
export function slateFrame(text: string, size: Size, pixelAspect: number): () => Promise<Buffer> {
  let page: Promise<Buffer> | undefined;
  return () =>
    (page ??= sharp(Buffer.from(slateSvg(text.split('\n'), size.width, size.height, pixelAspect)))
      .png({ compressionLevel: 1 })
      .toBuffer());
}
