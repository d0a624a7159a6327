import { describe, expect, it } from 'vitest';
import { type Bounds, corners } from '../math/bounds.js';
import { projectPoint } from '../camera/view.js';
import { deliveryFindings, deliverySchema } from '../plan/delivery.js';
import { planFrames } from '../planning/planFrames.js';
import { parsePresetFile, presetFile } from './presets.js';
import { parseSet, type SetFile } from '../plan/set.js';
import { isMeantFor } from './subjectSize.js';
import { TEMPLATES, rotatedView } from './templates.js';

const LAMP: Bounds = { min: [-0.2, 0, -0.1], max: [0.25, 0.5, 0.12] };
const HOUSE: Bounds = { min: [-6, -1.2, -4], max: [5, 4.1, 4] };
const VARIANTS = parseSet({
  format: 'cold-easel.set',
  version: 2,
  name: 'x',
  materials: {
    variants: [
      { id: 'a', name: 'A', swaps: [] },
      { id: 'b', name: 'B', swaps: [{ from: 'x', to: 'y' }] },
    ],
  },
}).materials!;

describe('set templates', () => {
  it.each(TEMPLATES.map((r) => [r.name, r] as const))('%s shows a lamp and a house whole', (_, template) => {
    for (const bounds of [LAMP, HOUSE]) {
      const set = template.make(bounds, { year: 2026 });
      const frames = planFrames(set, { bounds, scene: 's' });
      const cover = frames.filter((f) => f.shot === template.cover.shot)[template.cover.index]!;
      expect([cover!.shot, cover!.index]).toEqual([template.cover.shot, template.cover.index]);
      // A walk ends near; all others see all of the subject, in all their views.
      if (template.id === 'entrance-walk') continue;
      const first = frames.filter((f) => f.index === 0 && f.view !== 'close');
      for (const f of first)
        for (const c of corners(bounds)) {
          const [x, y] = projectPoint(f.camera, f.size, c)!;
          expect(Math.min(x, f.size.width - x) / f.size.width).toBeGreaterThan(-0.01);
          expect(Math.min(y, f.size.height - y) / f.size.height).toBeGreaterThan(-0.01);
        }
    }
  });

  it('stand on the ground of a design with foundations', () => {
    const walk = TEMPLATES.find((r) => r.id === 'entrance-walk')!.make(HOUSE, { year: 2026 });
    expect(planFrames(walk, { bounds: HOUSE, scene: 's' })[0]!.camera.eye[1]).toBeCloseTo(1.65, 6);
  });

  it('walks up to a lamp at the size of a lamp, and says that it is meant for buildings', () => {
    const template = TEMPLATES.find((r) => r.id === 'entrance-walk')!;
    const [lamp, house] = [LAMP, HOUSE].map((bounds) => planFrames(template.make(bounds, { year: 2026 }), { bounds, scene: 's' }));
    for (const f of [lamp![0]!, lamp!.at(-1)!]) {
      const ends = [LAMP.min, LAMP.max].map((p) => projectPoint(f.camera, f.size, [0, p[1], 0])!);
      // The whole height of it stands in the frame, and it takes at least a tenth of that at the end.
      for (const [, y] of ends) expect(Math.abs(y / f.size.height - 0.5)).toBeLessThan(0.5);
    }
    const tall = (f: (typeof lamp & object)[number]): number =>
      Math.abs(projectPoint(f.camera, f.size, [0, 0, 0])![1] - projectPoint(f.camera, f.size, [0, 0.5, 0])![1]) / f.size.height;
    expect(tall(lamp!.at(-1)!)).toBeGreaterThan(0.3);
    // At a walking pace of its own scale it takes as long as the walk up to a building.
    expect(Math.abs(lamp!.length / house!.length - 1)).toBeLessThan(0.5);
    expect([isMeantFor(template.subject, 0.5), isMeantFor(template.subject, 11)]).toEqual([false, true]);
    expect(TEMPLATES.filter((t) => isMeantFor(t.subject, 0.5)).map((t) => t.id)).toEqual([
      'eight-angles',
      'turntable-sizes',
      'section-reveal',
      'material-board',
    ]);
  });

  it('take the variants of the project, one picture each', () => {
    const board = TEMPLATES.find((r) => r.id === 'material-board')!.make(LAMP, { year: 2026, variants: VARIANTS });
    expect(planFrames(board, { bounds: LAMP, scene: 's' }).map((f) => f.name)).toContain('Material-board/Material-board/Whole_b_beauty');
  });

  it('keep a turning subject inside its bounds', () => {
    const t = rotatedView(LAMP);
    for (let a = 0; a < 360; a += 7) {
      const [c, s] = [Math.cos((a * Math.PI) / 180), Math.sin((a * Math.PI) / 180)];
      for (const [x, , z] of corners(LAMP)) {
        const [dx, dz] = [x - 0.025, z - 0.01];
        expect(0.025 + c * dx + s * dz).toBeLessThanOrEqual(t.max[0] + 1e-9);
        expect(0.01 + c * dz - s * dx).toBeGreaterThanOrEqual(t.min[2] - 1e-9);
      }
    }
  });
});

describe('a preset file', () => {
  const body = TEMPLATES[0]!.make(LAMP, { year: 2026 }).sheet;
  it('comes back as it went', () => {
    const preset = { kind: 'sheet' as const, name: 'Review', body };
    expect(parsePresetFile(JSON.parse(presetFile(preset)))).toEqual(preset);
  });
  it('says what is wrong with it', () => {
    expect(() => parsePresetFile({ format: 'other' })).toThrow('This is not a preset of Cold Easel.');
    expect(() =>
      parsePresetFile({ format: 'cold-easel.recipe', version: 1, kind: 'sheet', name: 'x', body: { size: { width: 2, height: 9 } } }),
    ).toThrow('size.width');
  });
});

describe('a delivery', () => {
  const set = (values: object = {}): SetFile =>
    parseSet({
      format: 'cold-easel.set',
      version: 2,
      name: 'Set',
      views: [{ id: 'a', name: 'A', eye: [0, 1, 9], target: [0, 1, 0] }],
      shots: [
        { id: 's', name: 'Cover', kind: 'still', views: ['a'] },
        { id: 't', name: 'Turn', kind: 'turntable', view: 'a', frames: 72 },
      ],
      ...values,
    });
  const check = (asked: object, planned: SetFile = set()): string[] =>
    deliveryFindings(
      deliverySchema.parse({ name: 'Board', ...asked }),
      planned.sheet,
      planned.shots,
      planFrames(planned, { bounds: LAMP, scene: 's' }),
    ).map((f) => `${f.message} ${f.fix}`);

  it('asks for nothing that is not said, and is met by what it asks for', () => {
    expect(check({})).toEqual([]);
    expect(
      check({ sizes: [{ width: 1920, height: 1080 }], rates: ['24'], files: ['png 8'], names: '*', movie: 'h264', maxSeconds: 3, maxFrames: 73 }),
    ).toEqual([]);
  });

  it.each([
    [{ sizes: [{ width: 1080, height: 1080 }] }, 'Cover is 1920 × 1080, which is not accepted. Use 1080 × 1080.'],
    [{ rates: ['25', '30000/1001'] }, 'Turn runs at 24. Use 25 or 29.97 frames per second.'],
    [{ files: ['exr 16'] }, 'Cover has no exr 16. Add it to the files.'],
    [{ passes: ['depth'] }, 'Cover has no depth. Add it to the passes.'],
    [{ alpha: true }, 'Cover has no alpha. Switch the transparent backdrop on.'],
    [{ names: 'NFL_*' }, 'Cover is named "A_beauty". File names must match NFL_*.'],
    [{ maxSeconds: 2.5 }, 'Turn lasts 3.00 s. Make it at most 2.5 s.'],
    [{ maxFrames: 50 }, 'The set has 73 renders. Make at most 50.'],
  ])('names the shot and the remedy: %j', (asked, said) => {
    expect(check(asked)).toContain(said);
  });

  it('counts digits in names, and takes each size of a shot by itself', () => {
    expect(check({ names: '*.####' })).toEqual(['Cover is named "A_beauty". File names must match *.####.']);
    const sizes = set({ sheet: { size: { width: 1920, height: 1080 }, sizes: [{ id: 'odd', width: 1081, height: 1081 }] } });
    expect(check({ movie: 'h264' }, sizes)).toEqual(['Turn is 1081 × 1081; H.264 takes even sizes only. Make both sides even.']);
    // ITU-T H.264, table A-1: level 5.2 has 36 864 macroblocks a picture, 4096 × 2304 exactly.
    const large = (height: number): SetFile => set({ sheet: { size: { width: 4096, height }, quality: 'quick' } });
    expect(check({ movie: 'h264' }, large(2304))).toEqual([]);
    expect(check({ movie: 'h264' }, large(2320))).toHaveLength(1);
  });
});
