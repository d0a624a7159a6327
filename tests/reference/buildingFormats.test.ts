/** STEP, IGES, BREP and IFC: sizes, areas and volumes of known solids, trees, names and colours. */
import { vec3 } from 'gl-matrix';
import { describe, expect, it } from 'vitest';
import { IDENTITY_TRS, type Model, triangleCount } from '../../src/core/model/model.js';
import { readModel } from '../../src/formats/formats.js';
import type { ReadOptions } from '../../src/formats/format.js';
import { cadFiles, cadFilesUpTo, expectWhole, readCadFile } from '../support/cadFiles.js';
import { houseIfc } from '../support/ifc.js';
import { close, measure, size } from '../support/solids.js';

const MM_Z = { unit: 'mm', up: 'z' } as const;
const text = (t: string): Uint8Array => new TextEncoder().encode(t);
const read = (name: string, bytes: Uint8Array, options: ReadOptions = MM_Z): Promise<Model> => readModel([{ name, bytes }], options);

describe('STEP, IGES and BREP', () => {
  it('there are at least forty files by others', () => expect(cadFiles.length).toBeGreaterThanOrEqual(40));

  // The larger ones, which take longer, are read by `npm run corpus`.
  it('the smaller ones are read whole, or are said to refer to others', async () => {
    expect(await expectWhole(cadFilesUpTo(40_000))).toBeGreaterThanOrEqual(20);
  });

  it('a cube of a metre is one in millimetres, inches and metres', async () => {
    for (const unit of ['mm', 'in', 'm']) {
      const model = await readCadFile(`cube-units/cube-${unit}.step`);
      close(size(model), [1, 1, 1], 5);
      expect(measure(model).volume).toBeCloseTo(1, 5);
      expect(measure(model).area).toBeCloseTo(6, 5);
    }
  });

  it('a cube of 10 mm is the same as STEP and as IGES', async () => {
    for (const f of ['Cube 10x10.stp', 'Cube 10x10.igs']) expect(measure(await readCadFile(`cube-10x10mm/${f}`)).volume).toBeCloseTo(1e-6, 12);
  });

  it('an assembly keeps its tree, its names and its colours', async () => {
    const model = await readCadFile('cax-if/as1-oc-214.stp');
    const paths = model.parts.map((p) => p.path);
    // CAx-IF's sample: a plate, two brackets with three bolts and nuts each, a rod with two nuts.
    expect(paths.filter((p) => /\/bolt( \d+)?$/.test(p))).toHaveLength(6);
    expect(paths.filter((p) => /\/nut( \d+)?$/.test(p))).toHaveLength(8);
    expect(paths.filter((p) => /\/l-bracket( \d+)?$/.test(p))).toHaveLength(2);
    expect(paths).toContain('as1/plate');
    expect(model.materials.length).toBeGreaterThanOrEqual(4);
    // Repeated bodies are one mesh: bolt, nut, bracket, rod, plate.
    expect(model.meshes.length).toBeLessThanOrEqual(6);
  });

  it('keeps the faces of solids apart where that is asked for: each a group of its own, together what they were', async () => {
    const apart = { ...MM_Z, facesApart: true };
    const cube = await readCadFile('cube-units/cube-mm.step', apart);
    const [solid] = cube.parts.filter((p) => p.primitives.length > 0);
    expect(solid!.primitives).toHaveLength(6);
    expect(solid!.primitives.map((p) => cube.meshes[p.mesh]!.indices.length / 3)).toEqual([2, 2, 2, 2, 2, 2]);
    expect(measure(cube)).toEqual({ area: expect.closeTo(6, 5) as number, volume: expect.closeTo(1, 5) as number });

    const [whole, pieces] = [await readCadFile('cax-if/as1-oc-214.stp'), await readCadFile('cax-if/as1-oc-214.stp', apart)];
    expect(pieces.parts.map((p) => p.path)).toEqual(whole.parts.map((p) => p.path));
    expect(triangleCount(pieces)).toBe(triangleCount(whole));
    expect(measure(pieces).volume).toBeCloseTo(measure(whole).volume, 9);
    // Bolts and nuts still wear the faces of the first of them, moved.
    const bolts = pieces.parts.filter((p) => /\/bolt( \d+)?$/.test(p.path));
    expect(new Set(bolts.map((b) => b.primitives.map((p) => p.mesh).join())).size).toBe(1);
    expect(bolts.filter((b) => b.place !== IDENTITY_TRS).length).toBeGreaterThanOrEqual(5);
  });
});

describe('IFC', () => {
  it.each(['IFC2X3', 'IFC4'] as const)('%s: storeys, walls, an opening, a window, a space', async (schema) => {
    const model = await read('house.ifc', text(houseIfc(schema)));
    const paths = model.parts.map((p) => p.path);
    expect(paths).toEqual(
      expect.arrayContaining([
        'House/Plot/Boathouse/Ground floor/South wall',
        'House/Plot/Boathouse/Ground floor/Window',
        'House/Plot/Boathouse/Loft/Gable',
      ]),
    );
    const only = (name: string) => measure(model, (p) => p.includes(name));
    // The opening of 1.2 × 1.2 m is cut through a wall of 6 × 3 m, 0.2 m thick.
    expect(only('South wall').volume).toBeCloseTo((6 * 3 - 1.2 * 1.2) * 0.2, 4);
    expect(only('North wall').volume).toBeCloseTo(6 * 3 * 0.2, 4);
    expect(only('Gable').volume).toBeCloseTo(0.2 * 4 * 2, 4);
    // Up is +Y: the gable stands on the first floor's height.
    const gable = model.parts.find((p) => p.name === 'Gable')!;
    const heights = gable.primitives.flatMap(({ mesh }) => {
      const { positions } = model.meshes[mesh]!;
      return Array.from(
        { length: positions.length / 3 },
        (_, i) => vec3.transformMat4(vec3.create(), [positions[i * 3]!, positions[i * 3 + 1]!, positions[i * 3 + 2]!], gable.world)[1],
      );
    });
    expect(Math.min(...heights)).toBeCloseTo(3, 4);
    expect(Math.max(...heights)).toBeCloseTo(5, 4);
    const hidden = model.parts.filter((p) => !p.renderVisible).map((p) => p.name);
    expect(hidden).toEqual(expect.arrayContaining(['Opening', 'Hall']));
    expect(hidden).not.toContain('South wall');
    const window = model.parts.find((p) => p.name === 'Window')!;
    expect(model.materials[window.primitives[0]!.material]!.transmission).toBe(1);
    const wall = model.materials[model.parts.find((p) => p.name === 'North wall')!.primitives[0]!.material]!;
    expect(wall.base[0]).toBeGreaterThan(3 * wall.base[1]);
  });
});
