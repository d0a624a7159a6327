/** Parts of light mixed anew, by hand. */
import { describe, expect, it } from 'vitest';
import { toDisplay } from '../units/colour.js';
import { applyGrade, gradeSchema } from './grade.js';
import { type Mix, mixBeauty, NO_DEPTH, passesOfMix } from './mix.js';
import type { PassId } from './passes.js';

const planes: Partial<Record<PassId, Float32Array>> = {
  diffuse: Float32Array.of(0.3, 0.2, 0.1, 0, 0, 0),
  specular: Float32Array.of(0.1, 0.1, 0.1, 0.4, 0.4, 0.4),
  occlusion: Float32Array.of(0.5, 1),
  depth: Float32Array.of(30, NO_DEPTH),
};
/** Diffuse, specular and a little light of its own. */
const beauty = Float32Array.of(0.45, 0.3, 0.2, 0.4, 0.4, 0.4);
const mix = (m: Mix, of: typeof planes = planes, alpha: Float32Array | null = null): number[] => [
  ...mixBeauty(beauty, (id) => of[id] ?? null, m, 0, alpha),
];
const close = (a: number[], b: number[]): void => a.forEach((v, i) => expect(v).toBeCloseTo(b[i]!, 6));

describe('a mix', () => {
  it('of plain factors changes nothing, and reads nothing', () => {
    expect(mix({ diffuse: 1, specular: 1, occlusion: 0 })).toEqual([...beauty]);
    expect(passesOfMix({ diffuse: 1, specular: 1, occlusion: 0 })).toEqual([]);
    expect(passesOfMix({ diffuse: 0.5, specular: 2, occlusion: 0.1, fog: { colour: '#ffffff', start: 0, half: 1 } })).toEqual([
      'diffuse',
      'specular',
      'occlusion',
      'depth',
    ]);
  });
  it('scales parts and leaves the rest', () => {
    close(mix({ diffuse: 0 }), [0.15, 0.1, 0.1, 0.4, 0.4, 0.4]);
    close(mix({ specular: 2 }), [0.55, 0.4, 0.3, 0.8, 0.8, 0.8]);
    close(mix({ occlusion: 0.5 }), [0.3375, 0.225, 0.15, 0.4, 0.4, 0.4]);
  });
  it('leaves what has no pass', () => {
    expect(mix({ diffuse: 0, specular: 3, occlusion: 1, fog: { colour: '#ffffff', start: 0, half: 1 } }, {})).toEqual([...beauty]);
  });
  it('halves light after the stated metres of fog, and leaves the backdrop', () => {
    // 30 m, of which 10 are clear, at 20 m for a half.
    const black = mix({ fog: { colour: '#000000', start: 10, half: 20 } });
    close(black, [0.225, 0.15, 0.1, 0.4, 0.4, 0.4]);
    // Premultiplied light has as much fog as there is surface.
    const [full, half] = [Float32Array.of(1, 0), Float32Array.of(0.5, 0)].map((a) =>
      mix({ fog: { colour: '#ffffff', start: 10, half: 20 } }, planes, a),
    );
    expect(full![0]! - black[0]!).toBeCloseTo(2 * (half![0]! - black[0]!), 6);
  });
  it('shows dense fog in its own colour, whatever the exposure', () => {
    for (const exposure of [-2, 0, 3]) {
      const light = mixBeauty(beauty, (id) => planes[id] ?? null, { fog: { colour: '#8090a0', start: 0, half: 0.1 } }, exposure, null);
      const out = new Float32Array(6);
      applyGrade(light, out, gradeSchema.parse({ exposure, curve: 'straight' }));
      close(
        [...out.slice(0, 3)].map((v) => Math.round(v * 255)),
        [0x80, 0x90, 0xa0],
      );
    }
    expect(toDisplay(0)).toBe(0);
  });
});
