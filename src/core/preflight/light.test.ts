/** Findings about light and sections, each at its limit from both sides. */
import { describe, expect, it, test } from 'vitest';
import { answer, CLEAN, findingsOf, planOf, setOf, severities } from '../../../tests/support/preflight.js';
import { type LightReach, lightRays } from './lightRays.js';
import { applyPatch } from './patch.js';
import type { LightSummary } from './probe.js';

const still = planOf(setOf());
const lit = (check: string, light: Partial<LightSummary>): string[] => severities(check, still, () => answer({ light }));

test.each([
  [0.69, []],
  [0.71, ['doubt']],
  [0.94, ['doubt']],
  [0.96, ['fault']],
])('a model of which %f is black: %j', (black, found) => expect(lit('dark', { black })).toEqual(found));

test.each([
  [0.34, []],
  [0.36, ['doubt']],
  [0.74, ['doubt']],
  [0.76, ['fault']],
])('a model of which %f is burnt out: %j', (burnt, found) => expect(lit('burnt', { burnt })).toEqual(found));

test('what is burnt out is mended by one stop less', () => {
  const [found] = findingsOf('burnt', still, () => answer({ light: { burnt: 0.5 } }));
  expect(applyPatch(still.set, found!.fix!.patch).grade.exposure).toBe(-1);
});

test.each([
  [0.0081, []],
  [0.0079, ['fault']],
])('a render whose brightness spreads by %f: %j', (spread, found) => expect(lit('flat', { spread })).toEqual(found));

describe('an exposure that is far off', () => {
  test.each([
    [3.9, []],
    [4.1, ['doubt']],
    [-3.9, []],
    [-4.1, ['doubt']],
  ])('by %f EV: %j', (wanted, found) => expect(lit('exposure-off', { wanted })).toEqual(found));

  test('is mended by what the light asks for', () => {
    const [found] = findingsOf('exposure-off', still, () => answer({ light: { wanted: -6.04 } }));
    expect(found!.message).toContain('66 times too bright');
    expect(applyPatch(still.set, found!.fix!.patch).grade.exposure).toBe(-6);
  });
});

test('frames whose light was not estimated are not judged by it', () => {
  expect(severities('dark', still, () => ({ ...CLEAN, light: null }))).toEqual([]);
});

const SITE = { latitude: 59.9, longitude: 19.3, elevation: 4, north: 0, timeZone: 'Europe/Mariehamn' };
const sunSet = (from: string, to: string, stage: object = {}) =>
  planOf(
    setOf({
      stage: { preset: 'open sky', site: SITE, ...stage },
      shots: [{ id: 'day', kind: 'sunStudy', view: 'front', dates: ['2026-03-20'], from, to, stepMinutes: 60 }],
    }),
  );

test('a sun below the horizon: some frames a doubt, all of them a fault', () => {
  expect(severities('sun-down', sunSet('10:00', '14:00'))).toEqual([]);
  expect(severities('sun-down', sunSet('03:00', '14:00'))).toEqual(['doubt']);
  expect(severities('sun-down', sunSet('01:00', '04:00'))).toEqual(['fault']);
});

test('a backdrop image that stays while the sun moves', () => {
  const image = { backdropImage: { file: 'evening.png' } };
  expect(severities('sky-stays', sunSet('10:00', '14:00'))).toEqual([]);
  expect(severities('sky-stays', sunSet('10:00', '14:00', image))).toEqual(['doubt']);
  expect(severities('sky-stays', planOf(setOf({ stage: { preset: 'open sky', ...image } })))).toEqual([]);
});

describe('a light that was added', () => {
  const lamp = { id: 'key', name: 'Key', kind: 'point', at: [0, 1, 0], target: [0, 0, 0] };
  const under = (lumens: number) =>
    planOf(setOf({ stage: { site: SITE, daylight: { date: '2026-06-21', time: '13:00' }, lights: [{ ...lamp, lumens }] } }));

  test('is lost under a hundredth of the daylight', () => {
    // A point of 4π lm gives 1 lx at a metre; the message tells what the day gives.
    const lux = Number(/daylight ([\d,]+) lx/.exec(findingsOf('light-drowned', under(1))[0]!.message)![1]!.replaceAll(',', ''));
    expect(lux).toBeGreaterThan(50_000);
    expect(severities('light-drowned', under(4 * Math.PI * lux * 0.0099))).toEqual(['doubt']);
    expect(severities('light-drowned', under(4 * Math.PI * lux * 0.0101))).toEqual([]);
    expect(severities('light-drowned', planOf(setOf({ stage: { lights: [{ ...lamp, lumens: 1 }] } })))).toEqual([]);
  });

  test('and is off together with all others is noted, and turned on by the fix', () => {
    const set = setOf({
      stage: {
        lights: [
          { ...lamp, on: false },
          { ...lamp, id: 'fill', name: 'Fill', on: false },
        ],
      },
    });
    const [found] = findingsOf('lights-off', planOf(set));
    expect(found).toMatchObject({ severity: 'note', message: 'All 2 lights added to the stage are off.' });
    expect(applyPatch(set, found!.fix!.patch).stage.lights!.map((l) => l.on)).toEqual([true, true]);
    expect(severities('lights-off', planOf(setOf({ stage: { lights: [lamp, { ...lamp, id: 'fill', on: false }] } })))).toEqual([]);
  });
});

describe('glass deeper than light is followed', () => {
  const set = setOf({ sheet: { quality: { samples: 32, depth: { bounces: 5, refractionDepth: 4 } } } });

  test.each([
    [0.0019, []],
    [0.0021, ['doubt']],
  ])('in %f of the frame: %j', (beyondDepth, found) =>
    expect(severities('glass-depth', planOf(set), () => answer({ beyondDepth, interfaces: 10 }))).toEqual(found),
  );

  test('is mended by the depth that is needed, and nothing else of the quality changes', () => {
    const [found] = findingsOf('glass-depth', planOf(set), () => answer({ beyondDepth: 0.05, interfaces: 10 }));
    const { overrides } = applyPatch(set, found!.fix!.patch).shots[0]!;
    expect(overrides!.quality).toMatchObject({ samples: 32, depth: { bounces: 5, refractionDepth: 10 } });
  });

  test('is none where nothing is traced', () => {
    expect(severities('glass-depth', planOf(setOf({ sheet: { quality: 'quick' } })), () => answer({ beyondDepth: 0.5 }))).toEqual([]);
  });
});

const cutSet = (more: object = {}) => planOf(setOf({ section: { planes: [{ normal: [0, 0, 1], offset: 0 }] }, ...more }));
const reveal = cutSet({
  section: undefined,
  shots: [{ id: 'rise', kind: 'sectionReveal', view: 'front', stations: [{ height: 0.1 }, { height: 1.9, seconds: 1 }] }],
});

describe('a section', () => {
  const cuts = (low: number, high: number): string[] => severities('cuts-nothing', cutSet(), () => answer({ subject: { reach: [[low, high]] } }));

  test('that cuts says nothing', () => expect(cuts(-0.01, 0.01)).toEqual([]));
  test('beside the subject is a doubt', () => expect(cuts(-1, 0)).toEqual(['doubt']));
  test('that takes all of it away is a fault', () => expect(cuts(0, 1)).toEqual(['fault']));
  test('of a part that is not there is a doubt', () => expect(cuts(Infinity, -Infinity)).toEqual(['doubt']));

  test('that moves may be beside the subject in some frames', () => {
    expect(severities('cuts-nothing', reveal, ({ index }) => answer({ subject: { reach: [index === 0 ? [-2, 0] : [-1, 1]] } }))).toEqual([]);
  });
});

describe('a section reveal', () => {
  const { frames } = reveal.outputs[0]!;
  const ends = (first: [number, number], last: [number, number]): string[] =>
    findingsOf('reveal-ends', reveal, ({ index }) =>
      answer({ subject: { reach: [index === 0 ? first : index === frames.length - 1 ? last : [-1, 1]] } }),
    ).map((f) => `${f.severity} ${f.frames!.join()} ${/cuts off|leaves/.exec(f.message)![0]}`);

  test('may begin with the whole and end with nothing', () => expect(ends([-2, 0], [0, 2])).toEqual([]));
  test('that takes off a sliver at first', () => expect(ends([-1.97, 0.03], [-1, 1])).toEqual([`doubt ${frames[0]!.number} cuts off`]));
  test('that leaves a sliver at last', () => expect(ends([-1, 1], [-0.03, 1.97])).toEqual([`doubt ${frames.at(-1)!.number} leaves`]));
  test('that takes off more than a fiftieth', () => expect(ends([-1.95, 0.05], [-0.05, 1.95])).toEqual([]));
});

describe('a light of the set', () => {
  const set = setOf({ stage: { preset: 'overcast court', lights: [{ id: 'key', name: 'Key', kind: 'point', at: [0, 3, 0], target: [0, 0, 0] }] } });
  const of = (reach: LightReach | null) =>
    findingsOf('idle-light', planOf(set), (f) => answer({ lights: f.stage.lights.map((_, i) => (i === f.stage.lights.length - 1 ? reach : null)) }));

  it('is told where none of its rays meets anything', () => {
    expect(of({ reached: 1 / 64, enclosed: 0 })).toEqual([]);
    const [found] = of({ reached: 0, enclosed: 0 });
    expect(found).toMatchObject({ severity: 'doubt', message: 'The light “Key” reaches neither the model nor the ground.' });
    expect(applyPatch(set, found!.fix!.patch).stage.lights![0]!.on).toBe(false);
  });

  it('is told where it stands inside of something solid', () => {
    expect(of({ reached: 1, enclosed: 0.969, enclosedBy: 'House' })).toEqual([]);
    expect(of({ reached: 1, enclosed: 0.97, enclosedBy: 'House/Base' })[0]!.message).toBe(
      'The light “Key” is inside “Base”, and none of its light gets out.',
    );
  });

  it('from afar, and a preset’s own, is not judged', () => {
    expect(of(null)).toEqual([]);
    const preset = setOf({ stage: { preset: 'bright sweep' } });
    expect(findingsOf('idle-light', planOf(preset), (f) => answer({ lights: f.stage.lights.map(() => ({ reached: 0, enclosed: 0 })) }))).toEqual([]);
  });
});

describe('rays of a light', () => {
  const angles = (rays: Float32Array, axis: number[]): number[] =>
    Array.from({ length: rays.length / 6 }, (_, i) => Math.acos(axis.reduce((n, a, k) => n + a * rays[i * 6 + 3 + k]!, 0)));

  it('go where it shines: all round, into the half space, or within the cone', () => {
    const at: [number, number, number] = [1, 2, 3];
    const point = lightRays({ kind: 'point', centre: at, intensity: [1, 1, 1] })!;
    expect([...point.subarray(0, 3)]).toEqual(at);
    expect(Math.max(...angles(point, [0, 1, 0]))).toBeGreaterThan(2.8);
    const down = angles(lightRays({ kind: 'rectangle', centre: at, u: [1, 0, 0], v: [0, 0, 1], radiance: [1, 1, 1] })!, [0, -1, 0]);
    expect(Math.max(...down)).toBeLessThan(Math.PI / 2);
    const cone = angles(lightRays({ kind: 'spot', centre: at, direction: [0, -1, 0], intensity: [1, 1, 1], inner: 0.1, outer: 0.3 })!, [0, -1, 0]);
    expect(Math.max(...cone)).toBeLessThan(0.3);
    expect(Math.max(...cone)).toBeGreaterThan(0.28);
    expect(lightRays({ kind: 'sun', direction: [0, -1, 0], radius: 0, irradiance: [1, 1, 1] })).toBeNull();
  });
});
