/** Moving shots on paper: each as a strip of frames, evenly from its first to its last, with their numbers and times. */
import { rule, type Sheet, type SheetItem, sheetOf } from './page.js';
import { roomOf, type SheetOptions } from './paper.js';

/** A moving shot. @typeParam P what names or holds an image. */
export interface StripShot<P> {
  name: string;
  /** Length, rate, size. */
  facts: string;
  /** Width to height. */
  aspect: number;
  /** In their order; twice as many as there are columns are shown, 12 at most. */
  frames: readonly { picture: P; number: string; time: string }[];
}

/** Frames of a strip at most. */
const MOST_FRAMES = 12;
const HEAD = 7;
const WORDS = 5;
const GAP = 3;
const BELOW = 6;

/** So many of a list, evenly, with its first and last. */
export function evenly<T>(list: readonly T[], most: number): T[] {
  if (list.length <= most) return [...list];
  if (most === 1) return [list[0]!];
  return Array.from({ length: most }, (_, i) => list[Math.round((i * (list.length - 1)) / (most - 1))]!);
}

/** The sheet, shots in their order. */
export function stripSheet<P>(shots: readonly StripShot<P>[], options: SheetOptions): Sheet<P> {
  const paper = roomOf(options);
  const { width, margin, top, room } = paper;
  // Frames of one strip are told apart at half the size of a render that stands alone.
  const columns = Math.min(MOST_FRAMES, 2 * options.columns);
  const cell = (width - 2 * margin - (columns - 1) * GAP) / columns;
  const heightOf = ({ aspect }: StripShot<P>): number => Math.min(cell / aspect, room - HEAD - WORDS - BELOW);
  const bodies: SheetItem<P>[][] = [];
  let y = Infinity;
  for (const shot of shots) {
    const height = heightOf(shot);
    const whole = HEAD + height + WORDS + BELOW;
    if (y + whole - BELOW > top + room) {
      bodies.push([]);
      y = top;
    }
    const body = bodies.at(-1)!;
    body.push(
      rule(paper, y),
      { kind: 'text', text: shot.name, x: margin, y: y + 1.5, width: (width - 2 * margin) * 0.5, font: 'title', size: 9 },
      {
        kind: 'text',
        text: shot.facts,
        x: margin + (width - 2 * margin) * 0.5,
        y: y + 2,
        width: (width - 2 * margin) * 0.5,
        font: 'numbers',
        size: 7,
        colour: 'graphite',
        align: 'right',
      },
    );
    evenly(shot.frames, columns).forEach(({ picture, number, time }, i) => {
      const x = margin + i * (cell + GAP);
      body.push(
        { kind: 'image', picture, x, y: y + HEAD, width: cell, height },
        { kind: 'text', text: number, x, y: y + HEAD + height + 0.6, width: cell * 0.4, font: 'numbers', size: 6.5 },
        {
          kind: 'text',
          text: time,
          x: x + cell * 0.4,
          y: y + HEAD + height + 0.6,
          width: cell * 0.6,
          font: 'numbers',
          size: 6.5,
          colour: 'graphite',
          align: 'right',
        },
      );
    });
    y += whole;
  }
  return sheetOf(paper, options, bodies);
}
