/** A contact sheet: renders in a grid, each with its caption. */
import { fillTokens } from '../../base/tokens.js';
import { inRuns, type Sheet, type SheetItem, sheetOf } from './page.js';
import { roomOf, type SheetOptions } from './paper.js';

/** What captions can tell of a render. */
export const CAPTION_TOKENS = ['shot', 'view', 'variant', 'revision', 'frame', 'timecode', 'size', 'date', 'time'] as const;
/** What the tokens of a caption stand for; what a render does not have is empty. */
export type CaptionWords = Readonly<Record<(typeof CAPTION_TOKENS)[number], string>>;

/** A caption by a pattern; dots between words that are not there go. Throws as fillTokens does. */
export const fillCaption = (pattern: string, words: CaptionWords): string =>
  fillTokens(pattern, words)
    .replace(/( *· *){2,}/g, ' · ')
    .replace(/^ *· *| *· *$/g, '');

/** Why a pattern cannot be used, or null. */
export function captionProblem(pattern: string): string | null {
  try {
    fillCaption(pattern, Object.fromEntries(CAPTION_TOKENS.map((t) => [t, ''])) as CaptionWords);
    return null;
  } catch (e) {
    return (e as Error).message;
  }
}

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
export function gridOf(options: Pick<SheetOptions, 'paper' | 'across' | 'columns' | 'renderWidth'>, aspect: number): Grid {
  const { width, margin, top, room } = roomOf(options);
  const { renderWidth } = options;
  const line = width - 2 * margin;
  // As many as fit, and one at least, however wide it is meant to be.
  const columns = renderWidth === undefined ? options.columns : Math.max(1, Math.floor((line + GAP) / (renderWidth + GAP)));
  const cellWidth = Math.min(renderWidth ?? Infinity, (line - (columns - 1) * GAP) / columns);
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
