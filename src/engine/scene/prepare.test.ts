import { describe, expect, it } from 'vitest';
import { writeGlb } from '../../formats/glb/write.js';
import { displacedSphere } from '../../../bench/scenes.js';
import { MeshMaker, modelOf } from '../../core/model/meshMaker.js';
import { loadKernelModule } from '../node/assets.js';
import { prepare } from './prepare.js';

const summaryOf = async (model: Parameters<typeof writeGlb>[0]) =>
  prepare(loadKernelModule(), [{ name: 'm.glb', bytes: await writeGlb(model) }], { unit: 'm', up: 'y' });

describe('the summary of a model', () => {
  it('lists the groups of faces in the order in which pictures have them, also where two have one material', async () => {
    const model = modelOf('block', [
      { mesh: new MeshMaker().quad([0, 0, 0], [2, 0, 0], [0, 1, 0]).mesh(), material: { name: 'Oak' } },
      { mesh: new MeshMaker().quad([0, 0, 0], [3, 0, 0], [0, 1, 0]).mesh() },
      { mesh: new MeshMaker().quad([0, 0, 0], [5, 0, 0], [0, 1, 0]).mesh(), material: { name: 'Slate' } },
    ]);
    const [a, b, c] = model.parts.map((p) => p.primitives[0]!) as [
      { mesh: number; material: number },
      { mesh: number; material: number },
      { mesh: number; material: number },
    ];
    model.parts = [{ ...model.parts[0]!, primitives: [a, { ...b, material: a.material }, c] }];
    const { summary, viewport } = await summaryOf(model);
    expect(summary.parts[0]).toMatchObject({ materials: ['Oak', 'Oak', 'Slate'], area: 10, triangles: 6 });
    summary.parts[0]!.areas.forEach((v, i) => expect(v).toBeCloseTo([2, 3, 5][i]!, 6));
    expect([viewport, summary.reduced]).toEqual([null, undefined]);
  });

  it('says how light the form is that the viewport shows', async () => {
    const { summary, viewport } = await summaryOf(displacedSphere(520));
    expect(summary.triangles).toBeGreaterThan(250_000);
    expect(summary.reduced).toBeLessThanOrEqual(251_000);
    expect(viewport!.length).toBeGreaterThan(1e6);
  });
});
