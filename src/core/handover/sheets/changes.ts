/** What changed between two sides of a set, on paper: both renders of each shot side by side, with the figures of their difference. */
import { inRuns, rule, type Sheet, type SheetItem, sheetOf } from './page.js';
import { roomOf } from './paper.js';

/** One pair of renders on the sheet. @typeParam P what names or holds an image. */
export interface ChangedShot<P> {
  /** Shot, and view of a still or number of the frame. */
  name: string;
  pictures: [P, P];
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

const CELL = { width: 62, height: 35 };
const GAP = 4;
/** Height of a shot with the space below it. */
const ROW = CELL.height + 7;
/** Parts that are named. */
const MAX_PARTS = 8;

/** Lines that say what became of a shot. */
function lines({ changed, ssim, largest, areas }: ChangedShot<unknown>): string[] {
  return [
    `${(100 * changed).toFixed(changed < 0.001 ? 3 : 1)} % of the area changed`,
    `${areas} ${areas === 1 ? 'area' : 'areas'} · SSIM ${ssim.toFixed(3)}`,
    `largest CIEDE2000 ${largest.toFixed(1)}`,
  ];
}

/** The sheet, A4 upright, one shot a row in their order. */
export function changesSheet<P>(shots: readonly ChangedShot<P>[], options: ChangesSheetOptions): Sheet<P> {
  const paper = roomOf({ paper: 'A4', across: false });
  const { width, margin, top, room } = paper;
  const columns = [0, 1].map((k) => margin + k * (CELL.width + GAP));
  const right = margin + 2 * (CELL.width + GAP);
  const breadth = width - margin - right;
  const heads = columns.map((x, k): SheetItem<P> => ({
    kind: 'text',
    text: options.sides[k]!,
    x,
    y: top - 6,
    width: CELL.width,
    font: 'title',
    size: 9,
  }));
  const bodies = inRuns(shots, Math.floor(room / ROW)).map((some): SheetItem<P>[] => [
    ...heads,
    ...some.flatMap((shot, i): SheetItem<P>[] => {
      const y = top + i * ROW;
      const named = shot.parts.slice(0, MAX_PARTS).join(' · ');
      const more = shot.parts.length > MAX_PARTS ? ` and ${shot.parts.length - MAX_PARTS} more` : '';
      return [
        ...columns.map((x, k): SheetItem<P> => ({ kind: 'image', picture: shot.pictures[k]!, x, y, ...CELL })),
        { kind: 'text', text: shot.name, x: right, y, width: breadth, lines: 2, font: 'title', size: 9 },
        ...lines(shot).map((text, n): SheetItem<P> => ({
          kind: 'text',
          text,
          x: right,
          y: y + 9 + n * 3.6,
          width: breadth,
          font: 'numbers',
          size: 7,
          colour: 'graphite',
        })),
        {
          kind: 'text',
          text: named ? `${named}${more}` : 'No part changed.',
          x: right,
          y: y + 21,
          width: breadth,
          lines: 4,
          font: 'words',
          size: 7.5,
        },
        rule(paper, y + ROW - 3),
      ];
    }),
  ]);
  return sheetOf(paper, options, bodies);
}
