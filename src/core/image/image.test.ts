import { describe, expect, it } from 'vitest';
import { clipProblem } from '../movie/clip.js';
import { fitStagePreset, stageSchema } from '../stage/stage.js';
import { toDisplay } from '../units/colour.js';
import { validateRender } from './validateRender.js';
import { applyGrade } from './grade.js';
import { reinhard } from './tone.js';

describe('tone', () => {
  it('is the published curve', () => {
    // Reinhard et al. 2002, equation 4: white maps to 1, and without white it is L / (1 + L).
    expect(reinhard(2.5)).toBeCloseTo(1, 12);
    expect(reinhard(1, Infinity)).toBe(0.5);
  });
  it('keeps the order of brightness and the colour of greys', () => {
    const linear = Float32Array.from(Array.from({ length: 300 }, (_, i) => [i / 100, i / 100, i / 100]).flat());
    const out = new Float32Array(linear.length);
    applyGrade(linear, out);
    for (let i = 3; i < out.length; i += 3) {
      expect(out[i]).toBeGreaterThanOrEqual(out[i - 3]!);
      expect(out[i]).toBe(out[i + 1]);
    }
    const l = 0.2 * 1.5;
    expect(out[60]).toBeCloseTo(toDisplay(reinhard(l)), 5);
  });
});

describe('a picture before it counts', () => {
  it('must not be black, empty or not a number', () => {
    const grey = new Float32Array(12).fill(0.2);
    expect(validateRender(grey)).toBeNull();
    expect(validateRender(new Float32Array(12))).toContain('black');
    expect(validateRender(grey, () => 0)).toContain('empty');
    const broken = grey.slice();
    broken[7] = NaN;
    expect(validateRender(broken)).toContain('not a number, at pixel 2');
  });
});

describe('clip', () => {
  it('says why it cannot be made', () => {
    expect(clipProblem({ size: { width: 480, height: 270 }, frames: 72, missing: 0 })).toBeNull();
    expect(clipProblem({ size: { width: 481, height: 270 }, frames: 72, missing: 0 })).toContain('even sizes');
    expect(clipProblem({ size: { width: 480, height: 270 }, frames: 72, missing: 3 })).toContain('3 of 72');
    expect(clipProblem({ size: { width: 480, height: 270 }, frames: 1, missing: 0 })).toContain('at least two');
  });
});

describe('stage', () => {
  it('scales with the subject and turns every lamp to it', () => {
    const bounds = { min: [1, 0, 1] as [number, number, number], max: [3, 4, 5] as [number, number, number] };
    for (const ready of ['bright sweep', 'open sky'] as const) {
      for (const light of fitStagePreset(stageSchema.parse({ preset: ready }), bounds).lights) {
        if (light.kind !== 'rectangle') continue;
        const [u, v] = [light.u, light.v];
        const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
        const to = [2, 2, 3].map((c, i) => c - light.centre[i]!);
        const dot = n.reduce((s, c, i) => s + c * to[i]!, 0) / (Math.hypot(...n) * Math.hypot(...to));
        expect(dot).toBeCloseTo(1, 6);
      }
    }
  });
});
