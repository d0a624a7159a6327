/** Pages as lists of what stands on them, so that a PDF and an image are made of the same. Lengths in millimetres, from the upper left. */
import type { PageRoom, SheetOptions } from './paper.js';

/** Colours of sheets: of words, of what is said beside them, of rules, and of what is pointed out. */
export const SHEET_COLOURS = { ink: '#15202a', graphite: '#51606b', rule: '#c4ccd1', madder: '#a8294b', blue: '#2f5d8c' } as const;
/** A key of {@link SHEET_COLOURS}. */
export type SheetColour = keyof typeof SHEET_COLOURS;

/** Fonts of sheets, by what they are for. */
export type SheetFont = 'words' | 'title' | 'numbers';

/** An image, fitted into a box: against its lower edge, else in its middle. @typeParam P what names or holds an image. */
export interface SheetImage<P> {
  kind: 'image';
  picture: P;
  x: number;
  y: number;
  width: number;
  height: number;
  atBottom?: boolean;
}

/** Words in a box; what does not fit ends in an ellipsis. */
export interface SheetText {
  kind: 'text';
  text: string;
  x: number;
  y: number;
  width: number;
  /** Lines at most, 1 where absent. */
  lines?: number;
  font: SheetFont;
  /** Points. */
  size: number;
  colour?: SheetColour;
  align?: 'left' | 'right' | 'center';
}

/** A line, or a closed shape where it is filled. */
export interface SheetPath {
  kind: 'path';
  points: readonly (readonly [number, number])[];
  colour: SheetColour;
  /** Of its line. */
  width: number;
  /** Share of the colour that its inside has; not filled where absent. */
  fill?: number;
}

/** Something on a page. */
export type SheetItem<P> = SheetImage<P> | SheetText | SheetPath;

/** A sheet of one or more pages of one size. */
export interface Sheet<P> {
  width: number;
  height: number;
  title: string;
  pages: SheetItem<P>[][];
}

/** Height of a line of words of so many points, in millimetres. */
export const lineHeight = (points: number): number => points * 1.2 * (25.4 / 72);

/** A sheet of pages below their title blocks. At least one page, however little there is. */
export function sheetOf<P>(
  { width, height, margin }: PageRoom,
  { title, facts }: Pick<SheetOptions, 'title' | 'facts'>,
  bodies: readonly SheetItem<P>[][],
): Sheet<P> {
  const all = bodies.length > 0 ? bodies : [[]];
  const across = width - 2 * margin;
  const pages = all.map((body, i): SheetItem<P>[] => [
    { kind: 'text', text: title, x: margin, y: margin, width: across * 0.5, font: 'title', size: 14 },
    {
      kind: 'text',
      text: `${facts} · ${i + 1} / ${all.length}`,
      x: margin + across * 0.5,
      y: margin + 1.4,
      width: across * 0.5,
      font: 'numbers',
      size: 8,
      colour: 'graphite',
      align: 'right',
    },
    ...body,
  ]);
  return { width, height, title, pages };
}

/** A level rule over the page's room. */
export const rule = ({ width, margin }: PageRoom, y: number): SheetPath => ({
  kind: 'path',
  points: [
    [margin, y],
    [width - margin, y],
  ],
  colour: 'rule',
  width: 0.18,
});

/** A list in runs of so many. */
export const inRuns = <T>(list: readonly T[], most: number): T[][] =>
  Array.from({ length: Math.ceil(list.length / most) }, (_, i) => list.slice(i * most, (i + 1) * most));
