/** Where the renders of a contact sheet stand on its pages. Lengths in millimetres. */

/** ISO 216, upright. */
export const PAPERS = { A4: [210, 297], A3: [297, 420], A2: [420, 594], A1: [594, 841] } as const;
/** A key of {@link PAPERS}. */
export type Paper = keyof typeof PAPERS;
/** Papers that sheets can be laid out on. */
export const PAPER_NAMES = Object.keys(PAPERS) as [Paper, ...Paper[]];

const MARGIN = 12;
/** Height of the title block, and of a caption. */
const TITLE = 16;
const CAPTION = 6;
const GAP = 5;

/** Where things stand on a sheet; points of 1/72 inch. */
export interface SheetLayout {
  width: number;
  height: number;
  margin: number;
  title: number;
  /** Of the room for one render, without its caption. */
  cell: { width: number; height: number };
  perPage: number;
  pages: number;
  /** Upper left of the nth render of a page. */
  placeOf: (nth: number) => { x: number; y: number };
}

/** @param aspect width to height of the renders. @param count how many there are. */
export function sheetLayout(
  { paper, across, columns }: { paper: Paper; across: boolean; columns: number },
  aspect: number,
  count: number,
): SheetLayout {
  const [short, long] = PAPERS[paper];
  const [width, height] = across ? [long, short] : [short, long];
  const cellWidth = (width - 2 * MARGIN - (columns - 1) * GAP) / columns;
  const room = height - 2 * MARGIN - TITLE;
  // At least one row, however high its renders are.
  const cellHeight = Math.min(cellWidth / aspect, room - CAPTION);
  const rows = Math.max(1, Math.floor((room + GAP) / (cellHeight + CAPTION + GAP)));
  const perPage = rows * columns;
  return {
    width,
    height,
    margin: MARGIN,
    title: TITLE,
    cell: { width: cellWidth, height: cellHeight },
    perPage,
    pages: Math.max(1, Math.ceil(count / perPage)),
    placeOf: (nth) => ({
      x: MARGIN + (nth % columns) * (cellWidth + GAP),
      y: MARGIN + TITLE + Math.floor(nth / columns) * (cellHeight + CAPTION + GAP),
    }),
  };
}
