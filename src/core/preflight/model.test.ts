/** Findings about the model and the format, each at its limit from both sides. */
import { describe, expect, test } from 'vitest';
import { answer, BOUNDS, findingsOf, PARTS, planOf, setOf, severities, turntableOf } from '../../../tests/support/preflight.js';
import { applyPatch } from './patch.js';
import { preflightPlan, runPreflight } from './preflight.js';

const still = planOf(setOf());

describe('parts that the viewport and renders show otherwise', () => {
  const hidden = setOf({ materials: { parts: [{ path: 'House', viewportVisible: false }], rules: [], materials: [], swaps: [], variants: [] } });

  test('hidden while working and rendered: a doubt, mended by leaving it out', () => {
    const [found] = findingsOf('hidden-rendered', planOf(hidden));
    expect(found).toMatchObject({ severity: 'doubt', message: '“House” is hidden in the viewport and will render.' });
    expect(findingsOf('hidden-rendered', planOf(applyPatch(hidden, found!.fix!.patch)))).toEqual([]);
  });

  test('shown while working and not rendered: a note', () => {
    const set = setOf({
      materials: { parts: [{ path: 'House', renderVisible: false, viewportVisible: true }], rules: [], materials: [], swaps: [], variants: [] },
    });
    expect(severities('hidden-rendered', planOf(set))).toEqual(['note']);
  });

  test('says a part once, not all that hangs below it', () => {
    const parts = [...PARTS, { path: 'House/Wall', renderVisible: true, isContext: false, triangles: 2 }];
    expect(findingsOf('hidden-rendered', planOf(hidden, { parts }))[0]!.message).toBe('“House” is hidden in the viewport and will render.');
  });
});

test('parts that a revision lacks: a fault where they are cut, else a doubt', () => {
  const section = { planes: [{ normal: [0, 0, 1], offset: 0, part: 'Gone' }] };
  expect(severities('lost-parts', planOf(setOf({ section })))).toEqual(['fault']);
  const materials = { parts: [{ path: 'Gone', material: 'Glass' }], rules: [], materials: [], swaps: [], variants: [] };
  expect(severities('lost-parts', planOf(setOf({ materials })))).toEqual(['doubt']);
  expect(severities('lost-parts', still)).toEqual([]);
  const subject = { shots: [{ id: 'still', kind: 'still', views: ['front'], subject: ['Gone'] }] };
  expect(severities('lost-parts', planOf(setOf(subject)))).toEqual(['doubt']);
});

test('missing images are faults by name', () => {
  expect(severities('missing-files', planOf(setOf(), { missingFiles: ['oak.png'] }))).toEqual(['fault']);
});

test.each([
  [299, []],
  [301, ['doubt']],
  [0.011, []],
  [0.009, ['doubt']],
])('a model %f m across: %j', (size, found) => {
  const bounds = { min: [0, 0, 0] as [number, number, number], max: [size, size / 2, size / 2] as [number, number, number] };
  const views = [{ id: 'front', name: 'Front', eye: [0, 1, 600], target: [0, 1, 0] }];
  expect(severities('unit-suspect', planOf(setOf({ views }), { bounds }))).toEqual(found);
});

describe('a subject off the ground', () => {
  const at = (height: number, kind = 'plane') => setOf({ stage: { ground: { kind, height } } });

  test.each([
    [-0.019, []],
    [-0.021, ['doubt']],
    [0.019, []],
    [0.021, ['doubt']],
  ])('by %f m of two metres: %j', (height, found) => expect(severities('floating', planOf(at(height)))).toEqual(found));

  test('is mended by putting the ground at the lowest point', () => {
    const [found] = findingsOf('floating', planOf(at(-0.5)));
    expect(found!.message).toBe('The subject hangs 50 cm above the ground.');
    expect(findingsOf('floating', planOf(applyPatch(at(-0.5), found!.fix!.patch)))).toEqual([]);
  });

  test('is none where there is no ground', () => expect(severities('floating', planOf(at(-0.5, 'none')))).toEqual([]));
});

test.each([
  [0.49, []],
  [0.51, ['doubt']],
])('a floor of the model over %f of its footprint: %j', (share, found) => {
  expect(severities('doubled-floor', still, () => answer({ floor: { height: 0, share } }))).toEqual(found);
});

test('two floors are mended by turning the ground off', () => {
  const [found] = findingsOf('doubled-floor', still, () => answer({ floor: { height: 0, share: 0.9 } }));
  expect(applyPatch(still.set, found!.fix!.patch).stage.ground).toEqual({ kind: 'none' });
});

test('nothing to render is a fault', () => {
  expect(severities('renders-nothing', still)).toEqual([]);
  expect(severities('renders-nothing', planOf(setOf({ shots: [] })))).toEqual(['fault']);
  expect(severities('renders-nothing', planOf(setOf({ shots: [{ id: 'still', kind: 'still', views: ['front'], off: true }] })))).toEqual(['fault']);
});

test('a size that is nearly a standard one is mended to that; one that the client asks for is left', () => {
  const at = (width: number, height: number, more: object = {}) => setOf({ sheet: { size: { width, height } }, ...more });
  const set = at(1918, 1080);
  const [found] = findingsOf('near-standard-size', planOf(set));
  expect([found!.severity, found!.message]).toEqual(['doubt', '1918 × 1080 is nearly HD 1080, which is 1920 × 1080.']);
  expect(applyPatch(set, found!.fix!.patch).sheet.size).toEqual({ width: 1920, height: 1080 });
  // Both sides of the limit of two in a hundred, and what is a size of its own.
  expect(severities('near-standard-size', planOf(at(1882, 1080)))).toEqual(['doubt']);
  expect(severities('near-standard-size', planOf(at(1880, 1080)))).toEqual([]);
  expect(severities('near-standard-size', planOf(at(1920, 1080)))).toEqual([]);
  expect(severities('near-standard-size', planOf(at(1500, 1000)))).toEqual([]);
  expect(severities('near-standard-size', planOf(at(1918, 1080, { delivery: { name: 'Client', sizes: [{ width: 1918, height: 1080 }] } })))).toEqual(
    [],
  );
});

test('a size that movies do not take is mended where it is set; a still may have it', () => {
  const set = setOf({ ...turntableOf(), sheet: { size: { width: 961, height: 540 } } });
  const [found] = findingsOf('odd-size', planOf(set));
  expect(found!.severity).toBe('doubt');
  expect(applyPatch(set, found!.fix!.patch).sheet.size).toEqual({ width: 962, height: 540 });
  expect(severities('odd-size', planOf(setOf({ sheet: { size: { width: 961, height: 540 } } })))).toEqual([]);
});

test('perspective and parallel views in one shot are noted', () => {
  const views = [...still.set.views, { id: 'top', name: 'Top', kind: 'parallel', eye: [0, 9, 0], target: [0, 0, 0], width: 4 }];
  const shots = (ids: string[]) => [{ id: 'still', kind: 'still', views: ids }];
  expect(severities('mixed-projection', planOf(setOf({ views, shots: shots(['front', 'top']) })))).toEqual(['note']);
  expect(severities('mixed-projection', planOf(setOf({ views, shots: shots(['top']) })))).toEqual([]);
});

test('what the client asked for is checked here too', () => {
  const delivery = { name: 'Board', sizes: [{ width: 1920, height: 1080 }] };
  expect(severities('client-delivery', planOf(setOf({ delivery })))).toEqual([]);
  expect(severities('client-delivery', planOf(setOf({ delivery, sheet: { size: { width: 960, height: 540 } } })))).toEqual(['fault']);
});

test('settings without effect are noted', () => {
  expect(severities('no-effect', planOf(setOf({ sheet: { shutter: 180 } })))).toEqual(['note']);
  expect(severities('no-effect', planOf(setOf({ sheet: { shutter: 180 }, ...turntableOf() })))).toEqual([]);
});

describe('what a shot is about', () => {
  const subjectOf = (values: object): readonly string[] | null =>
    preflightPlan(setOf(), planOf(setOf({ shots: [{ id: 'still', kind: 'still', views: ['front'], ...values }] })).outputs[0]!.frames, {
      parts: PARTS,
      bounds: BOUNDS,
      scene: 's',
    }).outputs[0]!.subject;

  test('is what renders and is no context, unless it says otherwise', () => {
    expect(subjectOf({})).toEqual(['House']);
    const declared = planOf(setOf({ shots: [{ id: 'still', kind: 'still', views: ['front'], subject: ['Tree'] }] }));
    expect(declared.outputs[0]!.subject).toEqual(['Tree']);
    const none = planOf(setOf({ shots: [{ id: 'still', kind: 'still', views: ['front'], subject: 'none' }] }));
    expect(none.outputs[0]!.subject).toBeNull();
  });

  test('is nothing of a walk, unless it says so', () => {
    const walk = (subject?: string) =>
      planOf(
        setOf({
          shots: [
            {
              id: 'w',
              kind: 'walkthrough',
              look: 'ahead',
              stations: [{ eye: [0, 1, 5] }, { eye: [0, 1, 3], seconds: 1 }],
              ...(subject && { subject }),
            },
          ],
        }),
      ).outputs[0]!;
    expect(walk().subject).toBeNull();
    expect(walk('model').subject).toEqual(['House']);
  });
});

test('the report of a clean plan is empty', () => {
  expect(runPreflight(still, () => answer()).findings).toEqual([]);
});
