/** A sun study on paper: dates down, hours across, and where the sun stands in each cell. */
import { inRuns, type Sheet, type SheetItem, sheetOf } from './page.js';
import { type PageRoom, roomOf, type SheetOptions } from './paper.js';

/** One render of a sun study. @typeParam P what names or holds an image. */
export interface SunRender<P> {
  picture: P;
  /** What it is of: shot and view. */
  of: string;
  date: string;
  time: string;
  /** Degrees. */
  altitude: number;
  azimuth: number;
  /** Width to height. */
  aspect: number;
}

/** Room for the dates at the left, for the hours above, and for the words below a render. */
const DATES = 20;
const HOURS = 10;
const WORDS = 5;
const GAP = 3;
/** Narrower renders show nothing. */
const NARROWEST = 22;

const distinct = (list: readonly string[]): string[] => [...new Set(list)].sort();

/** A table of some dates and hours, from `y` on. */
interface Block<P> {
  height: number;
  draw: (y: number) => SheetItem<P>[];
}

/** Tables of one shot and view: hours that have no room beside each other go below, dates that have none on a page to the next. */
function blocksOf<P>(of: string, own: readonly SunRender<P>[], { width, margin, room }: PageRoom): Block<P>[] {
  const across = width - 2 * margin - DATES;
  const most = Math.max(1, Math.floor((across + GAP) / (NARROWEST + GAP)));
  const at = new Map(own.map((r) => [`${r.date} ${r.time}`, r]));
  const times = distinct(own.map((r) => r.time));
  // Even rows rather than a full one and a rest.
  const perRow = Math.ceil(times.length / Math.ceil(times.length / most));
  const cell = (across - (perRow - 1) * GAP) / perRow;
  const height = Math.min(cell / own[0]!.aspect, room - HOURS - WORDS - GAP);
  const row = height + WORDS + GAP;
  const xOf = (column: number): number => margin + DATES + column * (cell + GAP);
  return inRuns(times, perRow).flatMap((hours) =>
    inRuns(distinct(own.map((r) => r.date)), Math.max(1, Math.floor((room - HOURS) / row))).map((dates) => ({
      height: HOURS + dates.length * row,
      draw: (y) => [
        { kind: 'text', text: of, x: margin, y, width: DATES + across, font: 'title', size: 9 },
        ...hours.map((text, i): SheetItem<P> => ({ kind: 'text', text, x: xOf(i), y: y + 5, width: cell, font: 'numbers', size: 8 })),
        ...dates.flatMap((date, k): SheetItem<P>[] => {
          const top = y + HOURS + k * row;
          return [
            { kind: 'text', text: date, x: margin, y: top, width: DATES - 1, font: 'numbers', size: 7.5 },
            ...hours.flatMap((time, i): SheetItem<P>[] => {
              const render = at.get(`${date} ${time}`);
              // The sun was not up, or that frame is not finished.
              if (!render) return [];
              const text = `${render.altitude.toFixed(1)}° up, ${render.azimuth.toFixed(0)}°`;
              return [
                { kind: 'image', picture: render.picture, x: xOf(i), y: top, width: cell, height },
                { kind: 'text', text, x: xOf(i), y: top + height + 0.6, width: cell, font: 'numbers', size: 5.5, colour: 'graphite' },
              ];
            }),
          ];
        }),
      ],
    })),
  );
}

/** The sheet: tables for each shot and view, as many on a page as it has room for. */
export function sunStudySheet<P>(renders: readonly SunRender<P>[], options: SheetOptions): Sheet<P> {
  const paper = roomOf(options);
  const bodies: SheetItem<P>[][] = [];
  let y = Infinity;
  for (const of of distinct(renders.map((r) => r.of)))
    for (const { height, draw } of blocksOf(
      of,
      renders.filter((r) => r.of === of),
      paper,
    )) {
      if (y + height > paper.top + paper.room) {
        bodies.push([]);
        y = paper.top;
      }
      bodies.at(-1)!.push(...draw(y));
      y += height;
    }
  return sheetOf(paper, options, bodies);
}
