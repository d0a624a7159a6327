/** Pages of a sheet as PNG: words from the outlines of the fonts that ship with the application. */
import type { Font } from 'opentype.js';
import sharp, { type OverlayOptions, type Sharp } from 'sharp';
import { lineHeight, type Sheet, SHEET_COLOURS, type SheetFont, type SheetImage, type SheetText } from '../../core/handover/sheets/page.js';
import { shippedFont } from '../../formats/image/fontFile.js';
import { fontFiles, MM_PER_INCH, MOUNT, plain } from './sheetFonts.js';
import { pathSvg } from './sheetPath.js';

/** Pixels an inch: A4 is 1240 by 1754. */
const DPI = 150;
const px = (mm: number): number => (mm / MM_PER_INCH) * DPI;
const ELLIPSIS = '…';

let fonts: Map<SheetFont, Font> | null = null;

const faceOf = (name: SheetFont): Font => (fonts ??= new Map(fontFiles().map(([font, file]) => [font, shippedFont(file)] as const))).get(name)!;

/** Words in lines of so many pixels at most, the last with an ellipsis where more would follow. */
export function linesOf(text: string, width: number, lines: number, widthOf: (text: string) => number): string[] {
  const out: string[] = [];
  let rest = text.split(' ');
  while (rest.length > 0 && out.length < lines) {
    let n = 1;
    while (n < rest.length && widthOf(rest.slice(0, n + 1).join(' ')) <= width) n++;
    out.push(rest.slice(0, n).join(' '));
    rest = rest.slice(n);
  }
  let last = rest.length > 0 ? `${out.at(-1)!}${ELLIPSIS}` : (out.at(-1) ?? '');
  while (last.length > 1 && widthOf(last) > width) last = `${last.replace(ELLIPSIS, '').slice(0, -1)}${ELLIPSIS}`;
  return [...out.slice(0, -1), last];
}

function textSvg({ text, x, y, width, lines = 1, font, size, colour = 'ink', align = 'left' }: SheetText): string {
  const face = faceOf(font);
  const body = (size / 72) * DPI;
  const widthOf = (words: string): number => face.getAdvanceWidth(words, body);
  return linesOf(plain(text), px(width), lines, widthOf)
    .map((line, i) => {
      const free = px(width) - widthOf(line);
      const left = px(x) + (align === 'right' ? free : align === 'center' ? free / 2 : 0);
      const base = px(y + lineHeight(size) * i) + body;
      return `<path d="${face.getPath(line, left, base, body).toPathData(2)}" fill="${SHEET_COLOURS[colour]}"/>`;
    })
    .join('');
}

/** A picture in its box. */
async function overlay(picture: Sharp, { x, y, width, height, atBottom }: Omit<SheetImage<unknown>, 'picture'>): Promise<OverlayOptions> {
  const [w, h] = [Math.max(1, Math.floor(px(width))), Math.max(1, Math.floor(px(height)))];
  const { data, info } = await picture
    .flatten({ background: MOUNT })
    .toColourspace('srgb')
    .resize({ width: w, height: h, fit: 'inside' })
    .png()
    .toBuffer({ resolveWithObject: true });
  return {
    input: data,
    left: Math.round(px(x) + (w - info.width) / 2),
    top: Math.round(px(y) + (atBottom ? h - info.height : (h - info.height) / 2)),
  };
}

/** Each page as PNG at 150 pixels an inch. Rejects where a picture cannot be read. @param open reads a picture. */
export async function sheetPngs<P>({ width, height, pages }: Sheet<P>, open: (picture: P) => Promise<Sharp>): Promise<Buffer[]> {
  const size = { width: Math.round(px(width)), height: Math.round(px(height)) };
  const out: Buffer[] = [];
  for (const page of pages) {
    const layers: OverlayOptions[] = [];
    for (const item of page) if (item.kind === 'image') layers.push(await overlay(await open(item.picture), item));
    const drawn = page.map((item) => (item.kind === 'text' ? textSvg(item) : item.kind === 'path' ? pathSvg(item, px) : '')).join('');
    layers.push({
      input: Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" width="${size.width}" height="${size.height}">${drawn}</svg>`),
      left: 0,
      top: 0,
    });
    out.push(
      await sharp({ create: { ...size, channels: 3, background: '#ffffff' } })
        .composite(layers)
        .withMetadata({ density: DPI })
        .png()
        .toBuffer(),
    );
  }
  return out;
}
