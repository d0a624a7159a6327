/** A sheet as PDF: fonts in the file, text that can be found, renders at 200 pixels an inch. */
import PDFDocument from 'pdfkit';
import type { Sharp } from 'sharp';
import { lineHeight, type Sheet, SHEET_COLOURS, type SheetPath, type SheetText } from '../../core/handover/sheets/page.js';
import { fontFiles, MM_PER_INCH, plain } from './sheetFonts.js';
import { sheetJpeg } from './sheetJpeg.js';

/** Points of so many millimetres. */
const pt = (mm: number): number => (mm * 72) / MM_PER_INCH;

function putText(document: PDFKit.PDFDocument, { text, x, y, width, lines = 1, font, size, colour = 'ink', align = 'left' }: SheetText): void {
  document.font(font).fontSize(size).fillColor(SHEET_COLOURS[colour]);
  const box = { width: pt(width), align, ellipsis: true };
  // The library ends a single line in an ellipsis by its height alone.
  document.text(plain(text), pt(x), pt(y), { ...box, height: lines === 1 ? pt(lineHeight(size)) * 0.9 : pt(lineHeight(size) * lines) });
}

function putPath(document: PDFKit.PDFDocument, { points, colour, width, fill }: SheetPath): void {
  const [first, ...rest] = points;
  if (!first) return;
  document.moveTo(pt(first[0]), pt(first[1]));
  for (const [x, y] of rest) document.lineTo(pt(x), pt(y));
  document.lineWidth(pt(width)).strokeColor(SHEET_COLOURS[colour]);
  if (fill === undefined) document.stroke();
  else document.closePath().fillOpacity(fill).fillColor(SHEET_COLOURS[colour]).fillAndStroke();
  document.fillOpacity(1);
}

/** Writes the sheet. Rejects where a picture cannot be read. @param open reads a picture. */
export async function sheetPdf<P>({ width, height, title, pages }: Sheet<P>, open: (picture: P) => Promise<Sharp>): Promise<Buffer> {
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
  for (const [name, file] of fontFiles()) document.registerFont(name, file);
  for (const page of pages) {
    document.addPage();
    for (const item of page) {
      if (item.kind === 'text') putText(document, item);
      else if (item.kind === 'path') putPath(document, item);
      else {
        const { x, y, width: w, height: h, atBottom } = item;
        document.image(await sheetJpeg(await open(item.picture), item), pt(x), pt(y), {
          fit: [pt(w), pt(h)],
          valign: atBottom ? 'bottom' : 'center',
          align: 'center',
        });
      }
    }
  }
  document.end();
  return written;
}
