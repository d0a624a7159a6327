/** What all PDF files have: a title block on every page, fonts in the file, text that can be found. */
import { createRequire } from 'node:module';
import PDFDocument from 'pdfkit';
import sharp from 'sharp';

/** Colour of text. */
export const INK = '#15202a';
/** Colour of what is said beside it. */
export const GRAPHITE = '#51606b';
/** Colour of rules. */
export const RULE = '#c4ccd1';
const MOUNT = '#7b7b7b';
/** Pixels an inch of the renders. */
const DPI = 200;
const MM_PER_INCH = 25.4;

const require = createRequire(import.meta.url);
const FONTS = {
  words: '@fontsource/barlow/files/barlow-latin-400-normal.woff',
  title: '@fontsource/barlow-semi-condensed/files/barlow-semi-condensed-latin-600-normal.woff',
  numbers: '@fontsource/spline-sans-mono/files/spline-sans-mono-latin-400-normal.woff',
} as const;

/** Points of so many millimetres. */
export const pt = (mm: number): number => (mm * 72) / MM_PER_INCH;

/** Letters that the fonts in the file do not have become a question mark. */
export const plain = (text: string): string => text.replace(/[^\x20-\x7e\u00a0-\u00ff\u2013-\u2026×·°]/g, '?');

/** A picture as it is put on paper into so many millimetres. Rejects where it cannot be read. @param picture its file, or the bytes of any image. */
export const imageFor = (picture: string | Buffer, { width, height }: { width: number; height: number }): Promise<Buffer> =>
  sharp(picture)
    .flatten({ background: MOUNT })
    .resize({
      width: Math.ceil((width / MM_PER_INCH) * DPI),
      height: Math.ceil((height / MM_PER_INCH) * DPI),
      fit: 'inside',
      withoutEnlargement: true,
    })
    .jpeg({ quality: 90, chromaSubsampling: '4:4:4' })
    .toBuffer();

interface PdfPages {
  /** Millimetres. */
  width: number;
  height: number;
  margin: number;
  title: string;
  /** Beside the title: revision, date. */
  facts: string;
  /** How many there will be. */
  pages: number;
}

/** A PDF that is being written. */
export interface OpenPdf {
  document: PDFKit.PDFDocument;
  /** The whole file, once the document has ended. */
  written: Promise<Buffer>;
  /** Begins a page with its title block. */
  addPage: () => void;
}

/** Begins a file. */
export function openPdf({ width, height, margin, title, facts, pages }: PdfPages): OpenPdf {
  const document = new PDFDocument({
    size: [pt(width), pt(height)],
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
  let page = 0;
  const addPage = (): void => {
    document.addPage();
    page++;
    const across = pt(width - 2 * margin);
    document
      .font('title')
      .fontSize(14)
      .fillColor(INK)
      .text(plain(title), pt(margin), pt(margin), { width: across * 0.6, lineBreak: false, ellipsis: true });
    document.font('numbers').fontSize(8).fillColor(GRAPHITE);
    document.text(plain(`${facts} · ${page} / ${pages}`), pt(margin), pt(margin) + 4, { width: across, align: 'right', lineBreak: false });
  };
  return { document, written, addPage };
}
