import { describe, expect, it } from 'vitest';
import { formatHex, parseHex } from '../units/colour.js';
import { STAGE_PRESETS, fitStagePreset, stageSchema } from './stage.js';

const small = { min: [-0.1, 0, -0.1] as [number, number, number], max: [0.1, 0.3, 0.1] as [number, number, number] };
const large = { min: [-10, 0, -10] as [number, number, number], max: [10, 30, 10] as [number, number, number] };

describe('ready stages', () => {
  it.each(STAGE_PRESETS)('%s gives a subject of any size the same light', (ready) => {
    const [a, b] = [fitStagePreset({ preset: ready }, small), fitStagePreset({ preset: ready }, large)];
    expect(a.lights).toHaveLength(b.lights.length);
    a.lights.forEach((light, i) => {
      const other = b.lights[i]!;
      if (light.kind !== 'rectangle' || other.kind !== 'rectangle') throw new Error('ready stages have rectangles alone');
      // A hundred times the subject: a hundred times the distance and the edge, the same radiance.
      expect(Math.hypot(...other.u)).toBeCloseTo(100 * Math.hypot(...light.u), 6);
      expect(other.centre[1] / light.centre[1]).toBeCloseTo(100, 6);
      expect(other.radiance).toEqual(light.radiance);
      // u × v points back to the subject's middle.
      const { u, v, centre } = light;
      const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
      const to = [0, 0.15, 0].map((m, k) => m - centre[k]!);
      const cosine = n.reduce((s, c, k) => s + c * to[k]!, 0) / Math.hypot(...n) / Math.hypot(...to);
      expect(cosine).toBeCloseTo(1, 6);
    });
    if (a.base) expect(b.base!.outer / a.base.outer).toBeCloseTo(100, 6);
  });
});

describe('a stage of one’s own', () => {
  it('takes a backdrop, a ground and lamps of the model', () => {
    const stage = fitStagePreset(
      { preset: 'bright sweep', backdrop: '#102030', ground: { kind: 'plane', height: -0.5, colour: '#808080' }, modelLights: true },
      small,
    );
    expect(stage.backdrop.top).toEqual(parseHex('#102030'));
    expect(stage.backdrop.top).toEqual(stage.backdrop.bottom);
    expect(stage.displayReferred).toBe(true);
    expect(stage.base).toMatchObject({ height: -0.5, colour: parseHex('#808080') });
    expect(stage.modelLights).toBe(true);
    // What lights is not what is seen.
    expect(stage.environment).toEqual(fitStagePreset({ preset: 'bright sweep' }, small).environment);
  });

  it('shadows alone, none at all, and a ground where the ready stage has none', () => {
    expect(fitStagePreset({ preset: 'bright sweep', ground: { kind: 'shadow' } }, small).base).toMatchObject({ shadowCatcher: true, height: 0 });
    expect(fitStagePreset({ preset: 'bright sweep', ground: { kind: 'none' } }, small).base).toBeNull();
    expect(fitStagePreset({ preset: 'open sky' }, small).base).toBeNull();
    expect(fitStagePreset({ preset: 'open sky', ground: { kind: 'plane' } }, small).base!.outer).toBeGreaterThan(0);
  });

  it('is lit by its picture alone, named by content where that is known', () => {
    const choice = stageSchema.parse({ environment: { file: 'court.hdr', rotation: 30 } });
    const stage = fitStagePreset(choice, small);
    expect(stage.lights).toEqual([]);
    expect(stage.image).toEqual({ id: 'court.hdr', rotation: 30, strength: 1, visible: true });
    expect(fitStagePreset(choice, small, 'abc.hdr').image!.id).toBe('abc.hdr');
  });

  it('refuses paths and other files', () => {
    for (const file of ['../court.hdr', 'a/b.exr', 'court.png', '.hdr']) expect(stageSchema.safeParse({ environment: { file } }).success).toBe(false);
  });

  it('has a gradient of exactly these colours behind everything, which lights nothing, and not beside one colour', () => {
    const gradient = { top: '#203040', middle: '#ffffff', bottom: '#804020' };
    const plain = fitStagePreset(stageSchema.parse({ preset: 'bright sweep' }), small);
    const stage = fitStagePreset(stageSchema.parse({ preset: 'bright sweep', backdropGradient: gradient }), small);
    expect(Object.fromEntries(Object.entries(stage.backdrop).map(([stop, colour]) => [stop, formatHex(colour)]))).toEqual(gradient);
    expect([stage.displayReferred, stage.environment, stage.lights]).toEqual([true, plain.environment, plain.lights]);
    const read = stageSchema.safeParse({ backdrop: '#ffffff', backdropGradient: gradient });
    expect(read.error?.issues[0]?.message).toBe('A backdrop is one colour or a gradient; remove one of the two.');
  });
});
