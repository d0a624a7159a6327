/** A sheet as one HTML file that opens without a network: text that can be found, renders and fonts within it, a page of paper when printed. */
import { readFile } from 'node:fs/promises';
import type { Sharp } from 'sharp';
import { escapeHtml } from '../../core/base/html.js';
import { lineHeight, type Sheet, SHEET_COLOURS, type SheetImage, type SheetText } from '../../core/handover/sheets/page.js';
import { fontFiles } from './sheetFonts.js';
import { sheetJpeg } from './sheetJpeg.js';
import { pathSvg } from './sheetPath.js';

/** A length as styles have it. */
const mm = (value: number): string => `${Number(value.toFixed(3))}mm`;
const boxOf = ({ x, y, width }: { x: number; y: number; width: number }): string => `left:${mm(x)};top:${mm(y)};width:${mm(width)}`;

function textHtml({ text, lines = 1, font, size, colour = 'ink', align = 'left', ...box }: SheetText): string {
  const height = lineHeight(size);
  const style = `${boxOf(box)};height:${mm(height * lines)};font-size:${size}pt;line-height:${mm(height)};color:${SHEET_COLOURS[colour]};text-align:${align}`;
  return `<p class="${font}" style="${style};-webkit-line-clamp:${lines}">${escapeHtml(text)}</p>`;
}

async function imageHtml(picture: Sharp, item: Omit<SheetImage<unknown>, 'picture'>): Promise<string> {
  const bytes = await sheetJpeg(picture, item);
  const style = `${boxOf(item)};height:${mm(item.height)};object-position:${item.atBottom ? 'bottom' : 'center'}`;
  return `<img alt="" src="data:image/jpeg;base64,${bytes.toString('base64')}" style="${style}">`;
}

/** The fonts as styles, within the file. */
async function fontStyles(): Promise<string> {
  const faces = fontFiles().map(async ([name, file]) => {
    const bytes = (await readFile(file)).toString('base64');
    return `@font-face{font-family:${name};src:url(data:font/woff;base64,${bytes}) format("woff")}.${name}{font-family:${name},sans-serif}`;
  });
  return (await Promise.all(faces)).join('\n');
}

/** The sheet as HTML. Rejects where a picture cannot be read. @param open reads a picture. */
export async function sheetHtml<P>({ width, height, title, pages }: Sheet<P>, open: (picture: P) => Promise<Sharp>): Promise<string> {
  const written: string[] = [];
  for (const page of pages) {
    const images: string[] = [];
    for (const item of page) if (item.kind === 'image') images.push(await imageHtml(await open(item.picture), item));
    // Cones of sight and other shapes lie over images.
    const shapes = page.map((item) => (item.kind === 'path' ? pathSvg(item) : '')).join('');
    const texts = page.map((item) => (item.kind === 'text' ? textHtml(item) : '')).filter(Boolean);
    const parts = [...images, `<svg viewBox="0 0 ${width} ${height}" aria-hidden="true">${shapes}</svg>`, ...texts];
    written.push(`<section>${parts.join('\n')}</section>`);
  }
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escapeHtml(title)}</title><style>
${await fontStyles()}
@page{size:${mm(width)} ${mm(height)};margin:0}
body{margin:0;background:#dfe4e7}
section{position:relative;width:${mm(width)};height:${mm(height)};background:#fff;break-after:page;overflow:hidden}
section>*{position:absolute;margin:0}
p{display:-webkit-box;-webkit-box-orient:vertical;overflow:hidden}
img{object-fit:contain}
svg{left:0;top:0;width:100%;height:100%}
@media screen{section{margin:8mm auto}}
</style></head><body>
${written.join('\n')}
</body></html>
`;
}
