/** What is drawn on a frame to show a finding. */
import fc from 'fast-check';
import { PerspectiveCamera, Vector3 } from 'three';
import { describe, expect, it, test } from 'vitest';
import { probesOf, planOfModel } from '../../../tests/support/checkModel.js';
import { answer, findingsOf, planOf, setOf, turntableOf } from '../../../tests/support/preflight.js';
import { house, screen, still as stillOf } from '../../../tests/support/preflightScenes.js';
import { boxInFrame } from './boxInFrame.js';
import { cellBoxes, cellsWhere } from './cells.js';

const still = planOf(setOf());

describe('cells', () => {
  it('cover the pixels that hold, each once and no other', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 9 }), fc.array(fc.boolean(), { minLength: 1, maxLength: 60 }), (width, list) => {
        const on = list.concat(Array<boolean>((width - (list.length % width)) % width).fill(false));
        const height = on.length / width;
        const covered = new Array<number>(on.length).fill(0);
        for (const box of cellBoxes(cellsWhere(width, on.length, (i) => on[i]!)))
          for (let y = Math.round(box.y * height); y < Math.round((box.y + box.height) * height); y++)
            for (let x = Math.round(box.x * width); x < Math.round((box.x + box.width) * width); x++) covered[y * width + x]!++;
        expect(covered).toEqual(on.map(Number));
      }),
    );
  });

  it('join equal runs below each other', () => {
    const block = cellsWhere(6, 24, (i) => i % 6 >= 2 && i % 6 < 5 && i >= 6 && i < 18);
    expect(cellBoxes(block)).toEqual([{ x: 2 / 6, y: 1 / 4, width: 3 / 6, height: 2 / 4 }]);
  });
});

const cells = { width: 2, height: 2, runs: [1, 2] };

test.each([
  ['dark', 'black', { light: { black: 0.8 } }],
  ['burnt', 'burnt', { light: { burnt: 0.8 } }],
  ['glass-depth', 'deep', { beyondDepth: 0.2, interfaces: 30 }],
  ['too-near', 'near', { nearest: 0.001 }],
  ['subject-hidden', 'blocker', { subject: { hidden: 0.9, hiddenBy: 'Tree' } }],
] as const)('%s is drawn where it is', (check, mark, values) => {
  const [found] = findingsOf(check, still, () => answer({ ...values, marks: { [mark]: cells } }));
  expect(found!.overlay).toEqual({ kind: 'cells', cells });
  const [plain] = findingsOf(check, still, () => answer({ ...values, marks: {} }));
  expect(plain!.overlay?.kind).not.toBe('cells');
});

test('what crosses the view is drawn in the frame in which it hides most', () => {
  const [found] = findingsOf('crossing', planOf(setOf(turntableOf({ frames: 24 }))), ({ number }) =>
    answer(number < 4 ? { subject: { hidden: 0.2 + number / 10, hiddenBy: 'Tree' }, marks: { blocker: { ...cells, runs: [number, 1] } } } : {}),
  );
  expect(found).toMatchObject({ worst: 3, overlay: { kind: 'cells', cells: { runs: [3, 1] } } });
});

test('a subject off the ground is drawn by its box as three.js projects it', () => {
  const set = setOf({ stage: { ground: { kind: 'plane', height: -0.5 } } });
  const plan = planOf(set);
  const [found] = findingsOf('floating', plan);
  const { size, camera } = plan.outputs[0]!.frames[0]!;
  // 36 × 24 mm film: 35 mm see 2·atan(18 / 35) across.
  const aspect = size.width / size.height;
  const lens = new PerspectiveCamera((2 * Math.atan(18 / 35 / aspect) * 180) / Math.PI, aspect);
  lens.position.set(...camera.eye);
  lens.lookAt(0, 1, 0);
  lens.updateMatrixWorld();
  const places = [-1, 1].flatMap((x) => [0, 2].flatMap((y) => [-1, 1].map((z) => new Vector3(x, y, z).project(lens))));
  const us = places.map((p) => (p.x + 1) / 2);
  const vs = places.map((p) => (1 - p.y) / 2);
  const box = found!.overlay!.kind === 'box' ? found!.overlay!.box : [];
  [Math.min(...us), Math.min(...vs), Math.max(...us), Math.max(...vs)].forEach((v, i) => expect(box[i]).toBeCloseTo(v, 4));
});

test('a box that reaches behind the eye is not drawn', () => {
  const frame = still.outputs[0]!.frames[0]!;
  expect(boxInFrame(frame, { min: [-1, 0, -1], max: [1, 2, 7] })).toBeUndefined();
  expect(boxInFrame(frame, { min: [-1, 0, -1], max: [1, 2, 5] })!.every(Number.isFinite)).toBe(true);
});

test('the kernel marks the pixels of what hides the subject, and of nothing where all is well', () => {
  const [open] = probesOf(planOfModel(house(1), stillOf(1)));
  expect(open!.marks).toEqual({});
  const [shut] = probesOf(planOfModel([...house(1), screen(1, -3, 0.3)], stillOf(1)));
  expect(shut!.subject!.hiddenBy).toMatch(/Screen/);
  const { runs, width, height } = shut!.marks.blocker!;
  const share = runs.reduce((n, length, k) => n + (k % 2) * length, 0) / (width * height);
  // The screen reaches from beyond the left edge to a little right of the middle.
  expect(share).toBeGreaterThan(0.4);
  expect(share).toBeLessThan(0.75);
  expect(cellBoxes(shut!.marks.blocker!)[0]!.x).toBe(0);
});
