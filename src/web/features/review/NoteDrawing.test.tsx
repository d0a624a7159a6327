// @vitest-environment happy-dom
import { screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { show } from '../../../../tests/support/render.js';
import type { NoteShape } from '../../../core/review/notes.js';
import { NoteDrawing } from './NoteDrawing.js';
import type { NoteKind } from './NoteMarks.js';

const placed = { left: 0, top: 0, width: 100, height: 50, scale: 1 };

function draw(kind: NoteKind) {
  const drawn: NoteShape[] = [];
  let cancelled = 0;
  const person = show(<NoteDrawing kind={kind} placed={placed} onDrawn={(s) => drawn.push(s)} onCancel={() => cancelled++} />);
  return { drawn, cancelled: () => cancelled, press: (keys: string) => person.keyboard(keys) };
}

const rounded = (shapes: NoteShape[]) => shapes.map(({ kind, points }) => [kind, points.map((p) => p.map((v) => Number(v.toFixed(3))))]);

describe('a note drawn by keyboard', () => {
  it('has the focus at once; the arrow keys move a cross, Shift finely, and Enter sets a pin', async () => {
    const { drawn, press } = draw('pin');
    expect(document.activeElement).toBe(screen.getByRole('application'));
    expect(screen.queryByTestId('note-cross')).toBeNull();
    await press('{ArrowRight}{ArrowRight}{ArrowUp}{Shift>}{ArrowLeft}{/Shift}');
    expect(parseFloat(screen.getByTestId('note-cross').style.left)).toBeCloseTo(53.8, 6);
    expect(screen.getByText('54 % across, 48 % down').getAttribute('aria-live')).toBe('polite');
    await press('{Enter}');
    expect(rounded(drawn)).toEqual([['pin', [[0.538, 0.48]]]]);
  });

  it('stays within the render', async () => {
    const { drawn, press } = draw('pin');
    await press('{ArrowLeft>30}{/ArrowLeft}{ArrowDown>30}{/ArrowDown}{Enter}');
    expect(rounded(drawn)).toEqual([['pin', [[0, 1]]]]);
  });

  it('is a box between two points, and no box of one place', async () => {
    const { drawn, press } = draw('box');
    await press('{ArrowLeft}{Enter}{Enter}');
    expect(drawn).toEqual([]);
    await press('{ArrowRight>5}{/ArrowRight}{ArrowDown}{Enter}');
    expect(rounded(drawn)).toEqual([
      [
        'box',
        [
          [0.48, 0.5],
          [0.58, 0.52],
        ],
      ],
    ]);
  });

  it('is a stroke through as many points as are set, the last one twice', async () => {
    const { drawn, press } = draw('stroke');
    await press('{ArrowLeft}{Enter}{ArrowUp}{Enter}{ArrowUp}{Enter}');
    expect(drawn).toEqual([]);
    await press('{Enter}');
    expect(rounded(drawn)).toEqual([
      [
        'stroke',
        [
          [0.48, 0.5],
          [0.48, 0.48],
          [0.48, 0.46],
        ],
      ],
    ]);
  });

  it('is given up by Escape: first its points, then itself', async () => {
    const { drawn, press, cancelled } = draw('arrow');
    await press('{ArrowLeft}{Enter}{Escape}');
    expect(cancelled()).toBe(0);
    await press('{ArrowRight}{Enter}{ArrowRight}{Enter}');
    expect(rounded(drawn)).toEqual([
      [
        'arrow',
        [
          [0.5, 0.5],
          [0.52, 0.5],
        ],
      ],
    ]);
    await press('{Escape}');
    expect(cancelled()).toBe(1);
  });
});
