/**
 * CityJSON: a town written out by hand. Volumes and areas are worked out beside it; that surfaces turn outwards, by the divergence
 * theorem. The names of things are those of CityJSON 2.0 (OGC 20-072; from memory).
 */
import { describe, expect, it } from 'vitest';
import { modelBounds, type Model } from '../../src/core/model/model.js';
import { readModel } from '../../src/formats/formats.js';
import { TOWN } from '../support/town.js';

const open = (town: object = TOWN, name = 'town.city.json'): Promise<Model> =>
  readModel([{ name, bytes: new TextEncoder().encode(JSON.stringify(town)) }], {});

const partOf = (model: Model, path: string) => model.parts.find((p) => p.path === path)!;

/** Sums of what each triangle of a part gives, corner by corner. */
function sumOf(model: Model, path: string, give: (a: number[], b: number[], c: number[]) => number, material?: string): number {
  let sum = 0;
  for (const { mesh, material: worn } of partOf(model, path).primitives) {
    if (material !== undefined && model.materials[worn]!.name !== material) continue;
    const { positions, indices } = model.meshes[mesh]!;
    const at = (i: number): number[] => [...positions.subarray(3 * indices[i]!, 3 * indices[i]! + 3)];
    for (let i = 0; i < indices.length; i += 3) sum += give(at(i), at(i + 1), at(i + 2));
  }
  return sum;
}

const cross = (a: number[], b: number[]): number[] => [a[1]! * b[2]! - a[2]! * b[1]!, a[2]! * b[0]! - a[0]! * b[2]!, a[0]! * b[1]! - a[1]! * b[0]!];
const dot = (a: number[], b: number[]): number => a.reduce((s, v, i) => s + v * b[i]!, 0);
const minus = (a: number[], b: number[]): number[] => a.map((v, i) => v - b[i]!);
const volume = (model: Model, path: string): number => sumOf(model, path, (a, b, c) => dot(a, cross(b, c)) / 6);
const area = (model: Model, path: string, material?: string): number =>
  sumOf(model, path, (a, b, c) => Math.hypot(...cross(minus(b, a), minus(c, a))) / 2, material);

describe('a town in CityJSON', () => {
  it('has its objects as a tree, each closed and turned outwards', async () => {
    const model = await open();
    expect(model.name).toBe('town');
    expect(model.parts.filter((p) => p.renderVisible).map((p) => p.path)).toEqual(['House', 'House/annexe', 'ground', 'post', 'path']);
    // 4 × 3 × 2.5, 2 × 2 × 2, and a metre square that is two high.
    expect(volume(model, 'House')).toBeCloseTo(30, 3);
    expect(volume(model, 'House/annexe')).toBeCloseTo(8, 3);
    expect(volume(model, 'post')).toBeCloseTo(2, 3);
  });

  it('has roofs, walls and floors apart, and materials of the file', async () => {
    const model = await open();
    expect(area(model, 'House', 'RoofSurface')).toBeCloseTo(12, 3);
    expect(area(model, 'House', 'GroundSurface')).toBeCloseTo(12, 3);
    // (4 + 3) × 2 × 2.5.
    expect(area(model, 'House', 'WallSurface')).toBeCloseTo(35, 3);
    const [worn] = partOf(model, 'House/annexe').primitives;
    expect(model.materials[worn!.material]).toMatchObject({ name: 'Blue render', base: [0, 0, 1], alpha: 0.75, alphaMode: 'blend' });
  });

  it('leaves holes open, and takes the ground for surroundings', async () => {
    const model = await open();
    // 20 × 20 without 4 × 4.
    expect(area(model, 'ground')).toBeCloseTo(384, 2);
    expect(model.parts.filter((p) => p.isContext).map((p) => p.name)).toEqual(['ground', 'path', 'Lines']);
    // All of it faces up.
    expect(sumOf(model, 'ground', (a, b, c) => cross(minus(b, a), minus(c, a))[1]! / 2)).toBeCloseTo(384, 2);
  });

  it('lies at the origin with +Y up, and says what was done and left out', async () => {
    const model = await open();
    const { min, max } = modelBounds(model);
    // The middle of the map is moved in whole metres; heights stay: 2 m at the ground.
    // The subject: from the house's corner to the post's.
    expect([max[0] - min[0], max[2] - min[2]]).toEqual([expect.closeTo(9.5, 3), expect.closeTo(9.5, 3)]);
    expect([min[1], max[1]]).toEqual([expect.closeTo(2, 3), expect.closeTo(4.5, 3)]);
    expect(Math.max(...[...min, ...max].map(Math.abs))).toBeLessThan(20);
    expect(model.curves).toHaveLength(1);
    expect(model.curves[0]!.points).toHaveLength(12);
    expect(model.warnings).toEqual(
      expect.arrayContaining([
        'Only the most detailed geometry of each object is read. Left out: 1 at level 1.2.',
        'Left out: 1 of MultiPoint.',
        'Reference system of the file: "https://www.opengis.net/def/crs/EPSG/0/7415".',
        'Not stated by the file, and assumed: metres, +Z up.',
      ]),
    );
    expect(model.warnings.find((w) => w.startsWith('Moved to the origin'))).toContain('85,');
  });

  it('shows what can be shown, though something else is more detailed', async () => {
    const { house } = TOWN.CityObjects;
    const points = { type: 'MultiPoint', lod: '3', boundaries: [0, 1] };
    const solid = await open({ ...TOWN, CityObjects: { house: { ...house, geometry: [...house.geometry, points] } } });
    expect(volume(solid, 'House')).toBeCloseTo(30, 3);
    // An instance is as detailed as its template, of level 2.
    const instance = { type: 'GeometryInstance', template: 0, boundaries: [24] };
    const coarse = { type: 'Solid', lod: '1', boundaries: house.geometry[0]!.boundaries };
    const post = await open({ ...TOWN, CityObjects: { post: { type: 'CityFurniture', geometry: [coarse, instance] } } });
    expect(volume(post, 'post')).toBeCloseTo(1, 3);
    expect(post.warnings).toContain('Only the most detailed geometry of each object is read. Left out: 1 at level 1.');
  });

  it.each([
    [
      'a vertex that is not there',
      { CityObjects: { a: { type: 'Building', geometry: [{ type: 'MultiSurface', boundaries: [[[0, 1, 99]]] }] } } },
      'vertex 99',
    ],
    [
      'boundaries that are none',
      { CityObjects: { a: { type: 'Building', geometry: [{ type: 'Solid', boundaries: [0] }] } } },
      'Solid without its boundaries',
    ],
    ['an early version', { version: '0.9' }, 'CityJSON 0.9; versions 1.0 to 2.0 are read'],
    ['a feature alone', { type: 'CityJSONFeature' }, 'a single feature of a sequence'],
    ['an instance of nothing', { 'geometry-templates': {} }, 'an instance without its template'],
    ['a coordinate that is none', { vertices: [['x', 0, 0]] }, 'a coordinate that is not a number'],
  ])('is refused by name with %s', async (_, change, said) => {
    const torn = open({ ...TOWN, ...change });
    await expect(torn).rejects.toThrow('town.city.json');
    await expect(torn).rejects.toThrow(said);
  });

  it('is refused by name where it is cut short or a sequence, and other JSON is no town', async () => {
    const bytes = new TextEncoder().encode(JSON.stringify(TOWN));
    await expect(readModel([{ name: 'a.city.json', bytes: bytes.slice(0, 900) }], {})).rejects.toThrow(
      '"a.city.json" is not a complete CityJSON file',
    );
    await expect(open({ format: 'cold-easel.set' }, 'plan.json')).rejects.toThrow('plan.json');
  });
});
