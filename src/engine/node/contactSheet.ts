/** A contact sheet as PDF: renders in a grid with captions, a title block on every page, fonts in the file, text that can be found. */
import sharp from 'sharp';
import { type Paper, sheetLayout } from '../../core/handover/sheetLayout.js';
import { imageFor, INK, openPdf, plain, pt } from './pdf.js';

/** One render on a sheet. */
export interface SheetRender {
  /** Its file, or the bytes of any image. */
  picture: string | Buffer;
  caption: string;
}

/** How a contact sheet is laid out. */
export interface SheetOptions {
  paper: Paper;
  /** The paper lies across. */
  across: boolean;
  columns: number;
  title: string;
  /** Beside the title: revision, date. */
  facts: string;
}

/** Writes the sheet. Rejects where a render cannot be read. @param renders in their order. */
export async function contactSheet(renders: readonly SheetRender[], options: SheetOptions): Promise<Buffer> {
  const { title, facts } = options;
  const first = renders[0] && (await sharp(renders[0].picture).metadata());
  const layout = sheetLayout(options, first ? first.width / first.height : 16 / 9, renders.length);
  const { document, written, addPage } = openPdf({ ...layout, title, facts, pages: layout.pages });
  const { cell } = layout;
  for (let page = 0; page < layout.pages; page++) {
    addPage();
    for (const [i, { picture, caption }] of renders.slice(page * layout.perPage, (page + 1) * layout.perPage).entries()) {
      const { x, y } = layout.placeOf(i);
      const image = await imageFor(picture, cell);
      document.image(image, pt(x), pt(y), { fit: [pt(cell.width), pt(cell.height)], valign: 'bottom' });
      document.font('words').fontSize(7.5).fillColor(INK);
      document.text(plain(caption), pt(x), pt(y + cell.height) + 3, { width: pt(cell.width), height: 10, lineBreak: false, ellipsis: true });
    }
  }
  document.end();
  return written;
}
