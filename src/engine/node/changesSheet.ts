/** What changed between two sides of a set as PDF: both renders of each shot side by side, with the figures of their difference. */
import { imageFor, INK, GRAPHITE, openPdf, plain, pt, RULE } from './pdf.js';

/** One pair of renders on the sheet. */
export interface ChangedShot {
  /** Shot, and view of a still or number of the frame. */
  name: string;
  /** Bytes or file of both renders. */
  pictures: [string | Buffer, string | Buffer];
  /** As Comparison has them. */
  changed: number;
  ssim: number;
  largest: number;
  areas: number;
  /** Names of the parts that changed, most first. */
  parts: string[];
}

/** Words of the sheet. */
export interface ChangesSheetOptions {
  title: string;
  facts: string;
  /** What the two sides are called. */
  sides: [string, string];
}

/** A4 upright, millimetres. */
const PAGE = { width: 210, height: 297, margin: 12 };
const TOP = 28;
const CELL = { width: 62, height: 35 };
const GAP = 4;
/** Height of a shot with the space below it. */
const ROW = CELL.height + 7;
/** Parts that are named. */
const MAX_PARTS = 8;
const PER_PAGE = Math.floor((PAGE.height - TOP - PAGE.margin) / ROW);

/** Lines that say what became of a shot. */
function lines({ changed, ssim, largest, areas }: ChangedShot): string[] {
  return [
    `${(100 * changed).toFixed(changed < 0.001 ? 3 : 1)} % of the area changed`,
    `${areas} ${areas === 1 ? 'area' : 'areas'} · SSIM ${ssim.toFixed(3)}`,
    `largest CIEDE2000 ${largest.toFixed(1)}`,
  ];
}

/** Writes the sheet, one shot a row in their order. Rejects where a render cannot be read. */
export async function changesSheet(shots: readonly ChangedShot[], { title, facts, sides }: ChangesSheetOptions): Promise<Buffer> {
  const pages = Math.max(1, Math.ceil(shots.length / PER_PAGE));
  const { document, written, addPage } = openPdf({ ...PAGE, title, facts, pages });
  const columns = [0, 1].map((k) => PAGE.margin + k * (CELL.width + GAP));
  const right = PAGE.margin + 2 * (CELL.width + GAP);
  const room = PAGE.width - PAGE.margin - right;
  for (let page = 0; page < pages; page++) {
    addPage();
    document.font('title').fontSize(9).fillColor(INK);
    for (const k of [0, 1])
      document.text(plain(sides[k]!), pt(columns[k]!), pt(TOP - 6), { width: pt(CELL.width), lineBreak: false, ellipsis: true });
    for (const [i, shot] of shots.slice(page * PER_PAGE, (page + 1) * PER_PAGE).entries()) {
      const y = TOP + i * ROW;
      for (const k of [0, 1])
        document.image(await imageFor(shot.pictures[k]!, CELL), pt(columns[k]!), pt(y), { fit: [pt(CELL.width), pt(CELL.height)] });
      document
        .font('title')
        .fontSize(9)
        .fillColor(INK)
        .text(plain(shot.name), pt(right), pt(y), { width: pt(room), height: 24, ellipsis: true });
      document.font('numbers').fontSize(7).fillColor(GRAPHITE);
      lines(shot).forEach((line, n) => document.text(plain(line), pt(right), pt(y + 9 + n * 3.6), { width: pt(room), lineBreak: false }));
      const named = shot.parts.slice(0, MAX_PARTS).join(' · ');
      const more = shot.parts.length > MAX_PARTS ? ` and ${shot.parts.length - MAX_PARTS} more` : '';
      document.font('words').fontSize(7.5).fillColor(INK);
      document.text(plain(named ? `${named}${more}` : 'No part changed.'), pt(right), pt(y + 21), {
        width: pt(room),
        height: pt(CELL.height - 21),
        ellipsis: true,
      });
      const end = pt(y + ROW - 3);
      document
        .moveTo(pt(PAGE.margin), end)
        .lineTo(pt(PAGE.width - PAGE.margin), end)
        .lineWidth(0.5)
        .strokeColor(RULE)
        .stroke();
    }
  }
  document.end();
  return written;
}
