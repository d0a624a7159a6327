/** A contact sheet: renders in a grid, each with its caption. */
import { inRuns, type Sheet, type SheetItem, sheetOf } from './page.js';
import { roomOf, type SheetOptions } from './paper.js';

const CAPTION = 6;
const GAP = 5;

/** One render on a sheet. @typeParam P what names or holds an image. */
export interface SheetRender<P> {
  picture: P;
  caption: string;
}

/** Where the renders of a grid stand. */
interface Grid {
  /** Of the room for one render, without its caption. */
  cell: { width: number; height: number };
  perPage: number;
  /** Upper left of the nth render of a page. */
  placeOf: (nth: number) => { x: number; y: number };
}

/** @param aspect width to height of the renders. */
export function gridOf(options: Pick<SheetOptions, 'paper' | 'across' | 'columns'>, aspect: number): Grid {
  const { width, margin, top, room } = roomOf(options);
  const { columns } = options;
  const cellWidth = (width - 2 * margin - (columns - 1) * GAP) / columns;
  // At least one row, however high its renders are.
  const cellHeight = Math.min(cellWidth / aspect, room - CAPTION);
  const rows = Math.max(1, Math.floor((room + GAP) / (cellHeight + CAPTION + GAP)));
  return {
    cell: { width: cellWidth, height: cellHeight },
    perPage: rows * columns,
    placeOf: (nth) => ({
      x: margin + (nth % columns) * (cellWidth + GAP),
      y: top + Math.floor(nth / columns) * (cellHeight + CAPTION + GAP),
    }),
  };
}

/** The sheet, renders in their order. @param aspect width to height of the first. */
export function contactSheet<P>(renders: readonly SheetRender<P>[], options: SheetOptions, aspect: number): Sheet<P> {
  const { cell, perPage, placeOf } = gridOf(options, aspect);
  const bodies = inRuns(renders, perPage).map((some) =>
    some.flatMap(({ picture, caption }, i): SheetItem<P>[] => {
      const { x, y } = placeOf(i);
      return [
        { kind: 'image', picture, x, y, ...cell, atBottom: true },
        { kind: 'text', text: caption, x, y: y + cell.height + 1, width: cell.width, font: 'words', size: 7.5 },
      ];
    }),
  );
  return sheetOf(roomOf(options), options, bodies);
}
