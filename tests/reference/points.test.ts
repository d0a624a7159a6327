/** Point clouds: LAS and LAZ files by the ASPRS LAS Specification 1.4 R15, written record by record, and PLY without faces. */
import { type Accessor, Document, NodeIO } from '@gltf-transform/core';
import { describe, expect, it } from 'vitest';
import { toLinear } from '../../src/core/units/colour.js';
import { type Model, modelBounds } from '../../src/core/model/model.js';
import type { AskedOptions } from '../../src/formats/format.js';
import { readModel } from '../../src/formats/formats.js';
import { ModelBuilder } from '../../src/formats/modelBuilder.js';
import { cloudModel } from '../../src/formats/points/model.js';
import { las, type Point } from '../support/las.js';
import { trace, WHITE } from '../support/trace.js';

const read = (name: string, bytes: Uint8Array, options: AskedOptions = {}): Promise<Model> => readModel([{ name, bytes }], options);

/** A square of points a step apart, on the ground unless a height says otherwise. */
const square = (side: number, step: number, more: Partial<Point> = {}, height = 0): Point[] =>
  Array.from({ length: side * side }, (_, i) => ({ at: [(i % side) * step, Math.floor(i / side) * step, height], ...more }));

const near = (actual: ArrayLike<number>, expected: number[], digits = 5): void =>
  expected.forEach((v, i) => expect(actual[i]).toBeCloseTo(v, digits));

describe('a LAS cloud', () => {
  it('comes at its size in metres, its z upwards, as discs that lie in it', async () => {
    const model = await read('site.las', las(square(21, 0.5, { rgb: [65_535, 0, 32_768] })));
    const { min, max } = modelBounds(model);
    // The outermost discs reach past the points: by half their diameter where a corner of the hexagon is, else by half of its width.
    near([max[0] - min[0], max[1] - min[1], max[2] - min[2]], [10 + 0.75 * Math.cos(Math.PI / 6), 0, 10 + 0.75]);
    expect(model.warnings).toContain('441 points, drawn as discs 750 mm across.');
    const [mesh] = model.meshes;
    expect(mesh!.indices.length / 3).toBe(441 * 4);
    near(mesh!.colours!, [1, 0, toLinear(32_768 / 65_535)]);
    near(mesh!.normals!, [0, 1, 0]);
    expect(model.parts.map((p) => p.name)).toEqual(['site']);
  });

  it('has a part for each class, by the names of the standard; what is withheld or noise is left out and told', async () => {
    const points = [
      ...square(5, 1, { kind: 2 }),
      ...square(5, 1, { kind: 6 }, 4),
      ...square(2, 1, { kind: 64 }, 8),
      ...square(3, 1, { kind: 7 }, -50),
      ...square(2, 1, { kind: 2, withheld: true }, 90),
    ];
    for (const format of [2, 7] as const) {
      // Classes beyond 31 do not fit into the earlier formats.
      const model = await read('site.las', las(format === 7 ? points : points.filter((p) => p.kind !== 64), { format }));
      expect(model.parts.map((p) => p.name)).toEqual(['site', 'Ground', 'Building', ...(format === 7 ? ['Class 64'] : [])]);
      expect(model.warnings).toContain('Left out: 4 points marked as withheld, 9 points marked as noise.');
      expect(modelBounds(model).min[1]).toBeGreaterThan(-1.5);
      expect(modelBounds(model).max[1]).toBeLessThan(9.5);
    }
  });

  it('of a map is moved to the origin, in plan alone, to the millimetre', async () => {
    const offset: [number, number, number] = [388_000, 6_672_000, 0];
    const points = square(4, 1).map((p): Point => ({ ...p, at: [p.at[0] + 388_100.125, p.at[1] + 6_672_900.5, 31.25] }));
    const model = await read('site.las', las(points, { offset }));
    expect(model.warnings).toContain('Moved to the origin, by -388,102 m, -6,672,902 m, 0 m along x, y and z of the file.');
    const { positions } = model.meshes[0]!;
    // The middle of the first disc's hexagon is its point: 388 100.125 − 388 102, 31.25, −(6 672 900.5 − 6 672 902).
    const middle = [0, 1, 2].map((k) => [0, 1, 2, 3, 4, 5].reduce((s, c) => s + positions[3 * c + k]!, 0) / 6);
    near(middle, [-1.875, 31.25, 1.5]);
  });

  it('whose colours are bytes is as bright as they say; without colours it shows its echoes, without both it is grey', async () => {
    near((await read('a.las', las(square(3, 1, { rgb: [255, 128, 0] })))).meshes[0]!.colours!, [1, toLinear(128 / 255), 0]);
    const echoes = await read('a.las', las(square(3, 1).map((p, i) => ({ ...p, echo: i === 8 ? 4000 : 1000 }))));
    near(echoes.meshes[0]!.colours!, [toLinear(0.25), toLinear(0.25), toLinear(0.25)]);
    expect(echoes.warnings).toContain('The points have no colours; they are as bright as their echo is strong.');
    const plain = await read('a.las', las(square(3, 1), { format: 0 }));
    expect(plain.meshes[0]!.colours).toBeUndefined();
    expect(plain.materials.map((m) => m.name)).toEqual(['Plain grey']);
  });

  it('is in metres unless somebody says otherwise, and the report says what was assumed', async () => {
    const bytes = las(square(11, 1));
    expect((await read('a.las', bytes)).warnings).toContain('Not stated by the file, and assumed: metres, +Z up.');
    const feet = await read('a.las', bytes, { unit: 'ft', up: 'z' });
    expect(modelBounds(feet).max[0] - modelBounds(feet).min[0]).toBeCloseTo((10 + 1.5 * Math.cos(Math.PI / 6)) * 0.3048, 5);
    expect(feet.warnings.some((w) => w.includes('assumed'))).toBe(false);
  });

  it('is refused where it is cut short, empty, withheld as a whole, or of points that nobody knows', async () => {
    const whole = las(square(4, 1));
    await expect(read('a.las', whole.subarray(0, 100))).rejects.toThrow('"a.las" is cut short: its header does not end');
    await expect(read('a.las', whole.subarray(0, whole.length - 1))).rejects.toThrow('"a.las" is cut short: it should hold 16 points');
    await expect(read('a.las', las([]))).rejects.toThrow('"a.las" holds no points');
    await expect(read('a.las', las(square(2, 1, { withheld: true })))).rejects.toThrow('holds no points but such as are marked as withheld');
    const odd = whole.slice();
    odd[104] = 40;
    await expect(read('a.las', odd)).rejects.toThrow('points of format 40 in 26 bytes');
    await expect(read('a.las', new Uint8Array(400).fill(65))).rejects.toThrow('"a.las" is no LAS file');
  });
});

describe('a LAZ cloud', () => {
  it('gives its first point, which the compression keeps as it is', async () => {
    const model = await read('one.laz', las([{ at: [1.5, 2.25, 3.125], rgb: [65_535, 65_535, 0] }], { compressed: true }));
    const { positions, colours } = model.meshes[0]!;
    near(
      [0, 1, 2].map((k) => [0, 1, 2, 3, 4, 5].reduce((s, c) => s + positions[3 * c + k]!, 0) / 6),
      [1.5, 3.125, -2.25],
    );
    near(colours!, [1, 1, 0]);
  });

  it('is refused where it is damaged', async () => {
    const bytes = las([{ at: [1, 2, 3] }, { at: [1, 2, 3] }], { compressed: true });
    await expect(read('two.laz', bytes.subarray(0, 330))).rejects.toThrow('"two.laz"');
  });
});

describe('a PLY without faces', () => {
  const ply = (properties: string[], rows: string[]): Uint8Array =>
    new TextEncoder().encode(
      `ply\nformat ascii 1.0\nelement vertex ${rows.length}\n${properties.map((p) => `property ${p}\n`).join('')}end_header\n${rows.join('\n')}\n`,
    );
  const XYZ = ['float x', 'float y', 'float z'];

  it('is a cloud in the unit and axis that are asked, with its normals and colours', async () => {
    const rows = Array.from({ length: 225 }, (_, i) => `${(i % 15) * 10} ${Math.floor(i / 15) * 10} 0 1 0 0 255 0 0`);
    const model = await read('scan.ply', ply([...XYZ, 'float nx', 'float ny', 'float nz', 'uchar red', 'uchar green', 'uchar blue'], rows), {
      unit: 'mm',
      up: 'z',
    });
    expect(model.warnings).toContain('225 points, drawn as discs 15 mm across.');
    near(model.meshes[0]!.normals!, [1, 0, 0]);
    near(model.meshes[0]!.colours!, [1, 0, 0]);
    // Discs across x reach past the points by their corners along y upwards or along z.
    const { min, max } = modelBounds(model);
    expect(max[0] - min[0]).toBeCloseTo(0.14, 5);
    expect(max[2] - min[2]).toBeCloseTo(0.14 + 0.015, 5);
  });

  it('is refused where it has no points, or one that is no number', async () => {
    await expect(read('scan.ply', ply(XYZ, []))).rejects.toThrow('neither faces nor points');
    await expect(read('scan.ply', ply(XYZ, ['0 0 nan', '1 1 1']))).rejects.toThrow('a coordinate that is not a number');
  });
});

describe('points of a glTF', () => {
  it('are discs in the material and place of their node, with their colours, where the primitive says points', async () => {
    const document = new Document();
    const buffer = document.createBuffer();
    const side = 15;
    const places = Float32Array.from({ length: side * side * 3 }, (_, i) => [Math.floor(i / 3) % side, 0, Math.floor(i / 3 / side)][i % 3]! * 0.01);
    const accessor = (array: Float32Array, type: 'VEC3' | 'VEC4'): Accessor =>
      document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
    const primitive = document
      .createPrimitive()
      .setMode(0)
      .setAttribute('POSITION', accessor(places, 'VEC3'))
      .setAttribute(
        'COLOR_0',
        accessor(
          Float32Array.from({ length: side * side * 4 }, (_, i) => [0.25, 0.5, 1, 1][i % 4]!),
          'VEC4',
        ),
      )
      .setMaterial(document.createMaterial('Scan'));
    const node = document.createNode('Scan of the jetty').setMesh(document.createMesh().addPrimitive(primitive)).setTranslation([0, 2, 0]);
    document.createScene().addChild(node);
    const model = await read('scan.glb', await new NodeIO().writeBinary(document));
    expect(model.warnings).toContain('"Scan of the jetty": 225 points, drawn as discs 15 mm across.');
    expect(model.meshes[0]!.indices.length / 3).toBe(225 * 4);
    near(model.meshes[0]!.colours!, [0.25, 0.5, 1]);
    expect(model.materials.map((m) => m.name)).toContain('Scan');
    expect(modelBounds(model).min[1]).toBeCloseTo(2, 5);
  });
});

describe('the ground under a coloured cloud', () => {
  it('is as it is under a grey one, where neither reflects in it nor shades it', () => {
    const cloud = (colours: boolean): Model => {
      const at = square(12, 0.1).flatMap((p) => p.at);
      const positions = Float32Array.from(at, (v, i) => v + (i % 3 === 1 ? 0.5 : 0));
      const red = Float32Array.from(at, (_, i) => (i % 3 === 0 ? 1 : 0));
      return cloudModel(new ModelBuilder(), 'cloud', { positions, ...(colours && { colours: red }) }, () => '');
    };
    const picture = (colours: boolean): Float64Array =>
      trace(cloud(colours), {
        eye: [0.5, 3, 6],
        target: [0.5, 0.2, 0],
        width: 48,
        height: 32,
        samples: 16,
        bounces: 1,
        stage: {
          environment: WHITE,
          base: { height: 0, x: 0, z: 0, inner: 20, outer: 30, colour: [0.5, 0.5, 0.5], roughness: 1, shadowCatcher: false },
        },
      }).colour;
    const [coloured, grey] = [picture(true), picture(false)];
    // The lowest rows show the ground before the cloud alone: they look past it, and paths of other pixels have met it before.
    const lowest = (p: Float64Array): number[] => Array.from(p.subarray(p.length - 4 * 48 * 3));
    expect(Math.max(...lowest(grey))).toBeGreaterThan(0.1);
    expect(lowest(coloured)).toEqual(lowest(grey));
    // And the cloud itself is red.
    const reds = Array.from({ length: 48 * 32 }, (_, i) => coloured[3 * i]! - coloured[3 * i + 1]!);
    expect(Math.max(...reds)).toBeGreaterThan(0.2);
  });
});
