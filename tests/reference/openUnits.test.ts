/** OFF, and what is assumed of files that leave their units open. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { type Model, modelBounds, triangleCount } from '../../src/core/model/model.js';
import type { AskedOptions } from '../../src/formats/format.js';
import { readModel } from '../../src/formats/formats.js';

const read = (name: string, text: string | Uint8Array, options: AskedOptions = { unit: 'm', up: 'y' }): Promise<Model> =>
  readModel([{ name, bytes: typeof text === 'string' ? new TextEncoder().encode(text) : text }], options);
const boxOf = (model: Model): number[] => [...modelBounds(model).min, ...modelBounds(model).max];

describe('OFF', () => {
  const CUBE = (): Uint8Array => new Uint8Array(readFileSync('/usr/share/assimp/models/OFF/Cube.off'));

  it('of another program is a cube of twelve triangles; its units are asked, and told where they were assumed', async () => {
    const model = await read('Cube.off', CUBE(), { unit: 'cm', up: 'y' });
    expect([triangleCount(model), model.warnings]).toEqual([12, []]);
    const [x0, y0, z0, x1, y1, z1] = boxOf(model) as [number, number, number, number, number, number];
    for (const side of [x1 - x0, y1 - y0, z1 - z0]) expect(side).toBeCloseTo(0.01, 6);
    expect((await read('Cube.off', CUBE(), {})).warnings).toEqual(['Not stated by the file, and assumed: metres, +Y up.']);
  });

  it('has polygons of any number of corners, with colours of faces or of vertices', async () => {
    const quad = '0 0 0\n1 0 0\n1 1 0\n0 1 0\n';
    const faces = await read('a.off', `OFF # a comment\n4 2 0\n${quad}4 0 1 2 3 255 0 0\n3 0 1 2 0.0 1.0 0.0 0.5\n`);
    expect([triangleCount(faces), faces.materials.map((m) => m.base)]).toEqual([
      3,
      [
        [1, 0, 0],
        [0, 1, 0],
      ],
    ]);
    const vertices = await read('b.off', `COFF\n3 1 0\n0 0 0 255 0 0 255\n1 0 0 0 255 0 255\n0 1 0 0 0 255 255\n3 0 1 2\n`);
    expect(Array.from(vertices.meshes[0]!.colours ?? []).length).toBeGreaterThanOrEqual(9);
  });

  it('says what is wrong with it', async () => {
    await expect(read('a.off', 'OFF\n3 1 0\n0 0 0\n1 0 0\n')).rejects.toThrow('"a.off" is cut short');
    await expect(read('a.off', 'OFF\n3 1 0\n0 0 0\n1 0 0\n0 1 0\n3 0 1 9\n')).rejects.toThrow('has a face (number 1) whose vertices are not there');
    await expect(read('a.off', '4OFF\n1 0 0\n0 0 0 0\n')).rejects.toThrow('of four dimensions');
  });
});

describe('BREP', () => {
  it('is in millimetres unless another unit is said', async () => {
    const bytes = new Uint8Array(readFileSync('node_modules/occt-import-js/test/testfiles/cax-if-brep/as1_pe_203.brep'));
    const [assumed, inches] = [await read('a.brep', bytes, {}), await read('a.brep', bytes, { unit: 'in' })];
    expect(assumed.warnings).toEqual(['Not stated by the file, and assumed: millimetres, +Z up.']);
    boxOf(assumed).forEach((v, i) => expect(boxOf(inches)[i]! / v).toBeCloseTo(25.4, 0));
  });
});
