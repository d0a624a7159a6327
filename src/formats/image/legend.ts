/** Burns words into a picture, drawn from the outlines of the font that ships with the application: no font of the machine is asked for. */
import type { Font } from 'opentype.js';
import sharp from 'sharp';
import type { Legend } from '../../core/frame/legend.js';
import { shippedFont } from './fontFile.js';

/** Height of the letters' body and distance from the edges, of the picture's short side. */
const BODY = 0.034;
const INSET = 0.03;
/** Pixels below which letters are not drawn smaller, and the widest share of the picture that words may take. */
const MIN_FONT_SIZE = 10;
const MAX_WIDTH_SHARE = 0.9;
const [CHALK, INK] = ['#ffffff', '#15202a'];

let font: Font | null = null;

const face = (): Font => (font ??= shippedFont('@fontsource/spline-sans-mono/files/spline-sans-mono-latin-500-normal.woff'));

/** Where the words are: the box in pixels, and what draws them into it. */
export function legendOverlay(
  { corner, text }: Legend,
  width: number,
  height: number,
  pixelAspect: number,
): { left: number; top: number; svg: string } {
  const letters = face();
  // Everything is measured in pixels of the height; a wide pixel holds more of it.
  const wide = width * pixelAspect;
  const short = Math.min(wide, height);
  const edge = INSET * short;
  const own = letters.getAdvanceWidth(text, 1);
  const size = Math.min(Math.max(MIN_FONT_SIZE, BODY * short), (MAX_WIDTH_SHARE * wide) / own);
  const stroke = Math.max(1, size / 7);
  const [w, h] = [own * size + 2 * stroke, size * 1.2 + 2 * stroke];
  const x = corner.endsWith('left') ? edge : wide - edge - w;
  const y = corner.startsWith('top') ? edge : height - edge - h;
  const [left, top] = [Math.max(0, Math.floor(x / pixelAspect)), Math.max(0, Math.floor(y))];
  const [across, down] = [Math.min(width - left, Math.ceil(w / pixelAspect) + 1), Math.min(height - top, Math.ceil(h) + 1)];
  const outline = letters.getPath(text, stroke, stroke + size * 0.95, size).toPathData(2);
  // Light letters with a dark edge are read on any picture.
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${across}" height="${down}"><path transform="scale(${1 / pixelAspect} 1)" d="${outline}" fill="${CHALK}" stroke="${INK}" stroke-width="${stroke.toFixed(2)}" stroke-linejoin="round" paint-order="stroke"/></svg>`;
  return { left, top, svg };
}

/** Height of a slate's letters, of the picture's short side, and of a line of them. */
const SLATE_BODY = 0.05;
const SLATE_LINE = 1.6;

/** A dark page with lines of words, the block in the middle of its height. @param width and height in pixels. */
export function slateSvg(lines: readonly string[], width: number, height: number, pixelAspect: number): string {
  const letters = face();
  const wide = width * pixelAspect;
  const widest = Math.max(...lines.map((l) => letters.getAdvanceWidth(l, 1)), 1e-6);
  const inset = 0.08 * wide;
  const size = Math.min(SLATE_BODY * Math.min(wide, height), (wide - 2 * inset) / widest, (0.84 * height) / (lines.length * SLATE_LINE));
  const top = (height - lines.length * SLATE_LINE * size) / 2;
  const paths = lines.map((line, i) => letters.getPath(line, inset, top + (i * SLATE_LINE + 1.1) * size, size).toPathData(2));
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><rect width="100%" height="100%" fill="${INK}"/><path transform="scale(${1 / pixelAspect} 1)" d="${paths.join('')}" fill="${CHALK}"/></svg>`;
}

/** Burns the legend into display values 0..1, three or (straight alpha) four a pixel, in place. */
export async function burnLegend(display: Float32Array, width: number, height: number, legend: Legend, pixelAspect = 1): Promise<void> {
  const { left, top, svg } = legendOverlay(legend, width, height, pixelAspect);
  const { data, info } = await sharp(Buffer.from(svg)).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  const channels = display.length / (width * height);
  for (let y = 0; y < info.height; y++) {
    for (let x = 0; x < info.width; x++) {
      const from = (y * info.width + x) * 4;
      const over = data[from + 3]! / 255;
      if (over === 0) continue;
      const at = ((top + y) * width + left + x) * channels;
      const under = channels === 4 ? display[at + 3]! : 1;
      const alpha = over + under * (1 - over);
      for (let c = 0; c < 3; c++) display[at + c] = ((data[from + c]! / 255) * over + display[at + c]! * under * (1 - over)) / alpha;
      if (channels === 4) display[at + 3] = alpha;
    }
  }
}
