/** A contact sheet as PDF: renders in a grid with captions, a title block on every page, fonts in the file, text that can be found. */
import { createRequire } from 'node:module';
import PDFDocument from 'pdfkit';
import sharp from 'sharp';
import { type Paper, sheetLayout } from '../../core/handover/sheetLayout.js';

export interface SheetRender {
  /** Its file, or the bytes of any image. */
  picture: string | Buffer;
  caption: string;
}

export interface SheetOptions {
  paper: Paper;
  /** The paper lies across. */
  across: boolean;
  columns: number;
  title: string;
  /** Beside the title: revision, date. */
  facts: string;
}

const POINTS_PER_MM = 72 / 25.4;
/** Pixels an inch of the renders. */
const DPI = 200;
const INK = '#15202a';
const GRAPHITE = '#51606b';
const MOUNT = '#7b7b7b';

const require = createRequire(import.meta.url);
const FONTS = {
  words: '@fontsource/barlow/files/barlow-latin-400-normal.woff',
  title: '@fontsource/barlow-semi-condensed/files/barlow-semi-condensed-latin-600-normal.woff',
  numbers: '@fontsource/spline-sans-mono/files/spline-sans-mono-latin-400-normal.woff',
} as const;

/** Letters that the fonts in the file do not have become a question mark. */
const plain = (text: string): string => text.replace(/[^\x20-\x7e\u00a0-\u00ff\u2013-\u2026×·°]/g, '?');

/** Writes the sheet. Rejects where a render cannot be read. @param renders in their order. */
export async function contactSheet(renders: readonly SheetRender[], options: SheetOptions): Promise<Buffer> {
  const { title, facts } = options;
  const first = renders[0] && (await sharp(renders[0].picture).metadata());
  const layout = sheetLayout(options, first ? first.width / first.height : 16 / 9, renders.length);
  const pt = (mm: number): number => mm * POINTS_PER_MM;
  const document = new PDFDocument({
    size: [pt(layout.width), pt(layout.height)],
    margin: 0,
    autoFirstPage: false,
    info: { Title: title, Producer: 'Cold Easel' },
  });
  const chunks: Buffer[] = [];
  const written = new Promise<Buffer>((resolve, reject) => {
    document.on('data', (chunk: Buffer) => chunks.push(chunk));
    document.on('end', () => resolve(Buffer.concat(chunks)));
    document.on('error', reject);
  });
  for (const [name, file] of Object.entries(FONTS)) document.registerFont(name, require.resolve(file));
  const { margin, cell } = layout;
  for (let page = 0; page < layout.pages; page++) {
    document.addPage();
    const width = pt(layout.width - 2 * margin);
    document
      .font('title')
      .fontSize(14)
      .fillColor(INK)
      .text(plain(title), pt(margin), pt(margin), { width: width * 0.6, lineBreak: false, ellipsis: true });
    document.font('numbers').fontSize(8).fillColor(GRAPHITE);
    document.text(plain(`${facts} · ${page + 1} / ${layout.pages}`), pt(margin), pt(margin) + 4, { width, align: 'right', lineBreak: false });
    for (const [i, { picture, caption }] of renders.slice(page * layout.perPage, (page + 1) * layout.perPage).entries()) {
      const { x, y } = layout.placeOf(i);
      const image = await sharp(picture)
        .flatten({ background: MOUNT })
        .resize({
          width: Math.ceil((cell.width / 25.4) * DPI),
          height: Math.ceil((cell.height / 25.4) * DPI),
          fit: 'inside',
          withoutEnlargement: true,
        })
        .jpeg({ quality: 90, chromaSubsampling: '4:4:4' })
        .toBuffer();
      document.image(image, pt(x), pt(y), { fit: [pt(cell.width), pt(cell.height)], valign: 'bottom' });
      document.font('words').fontSize(7.5).fillColor(INK);
      document.text(plain(caption), pt(x), pt(y + cell.height) + 3, { width: pt(cell.width), height: 10, lineBreak: false, ellipsis: true });
    }
  }
  document.end();
  return written;
}
