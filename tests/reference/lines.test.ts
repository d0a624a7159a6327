/** Lines and curves of files: as long as they are by closed form, in the right place, out of the picture until they are asked for. */
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { Document, WebIO } from '@gltf-transform/core';
import { vec3 } from 'gl-matrix';
import { describe, expect, it } from 'vitest';
import type { Curve, Model } from '../../src/core/model/model.js';
import { writeGlb } from '../../src/formats/glb/write.js';
import { readModel } from '../../src/formats/formats.js';
import { houseIfc } from '../support/ifc.js';

const SAMPLES = path.resolve('node_modules/occt-import-js/test/testfiles');
const read = (name: string, bytes: Uint8Array): Promise<Model> => readModel([{ name, bytes }], { unit: 'mm', up: 'z' });
const sample = (f: string): Promise<Model> => read(path.basename(f), new Uint8Array(readFileSync(path.join(SAMPLES, f))));

/** Ends of a curve's pieces in the world. */
const ends = (model: Model, { part, points }: Curve): [number, number, number][] =>
  Array.from({ length: points.length / 3 }, (_, i) => {
    const p = vec3.transformMat4(vec3.create(), points.slice(i * 3, i * 3 + 3) as [number, number, number], model.parts[part]!.world);
    return [p[0], p[1], p[2]];
  });
const lengthOf = (model: Model, curve: Curve): number => {
  const list = ends(model, curve);
  let sum = 0;
  for (let i = 0; i < list.length; i += 2) sum += vec3.distance(list[i]!, list[i + 1]!);
  return sum;
};
/** A circle drawn in n pieces. */
const ring = (radius: number, n = 96): number => 2 * n * radius * Math.sin(Math.PI / n);

describe('edges of solids', () => {
  it.each(['simple-basic-cube/cube.stp', 'cube-10x10mm/Cube 10x10.igs'])('%s: twelve, each once', async (file) => {
    const model = await sample(file);
    const solid = model.parts.find((p) => p.primitives.length > 0)!;
    const { positions } = model.meshes[solid.primitives[0]!.mesh]!;
    const xs = Array.from({ length: positions.length / 3 }, (_, i) => positions[i * 3]!);
    const edge = Math.max(...xs) - Math.min(...xs);
    const drawn = model.curves.filter((c) => model.parts[c.part]!.name === 'Edges');
    expect(drawn).toHaveLength(1);
    expect(lengthOf(model, drawn[0]!) / (12 * edge)).toBeCloseTo(1, 6);
    // They hang at the solid, apart from the picture.
    const part = model.parts[drawn[0]!.part]!;
    expect(model.parts[part.parent]).toBe(solid);
    expect(part.renderVisible).toBe(false);
    expect(solid.renderVisible).toBe(true);
  });

  it('a rod has its circles and the lines where its halves meet; repeated bodies share theirs', async () => {
    const model = await sample('cax-if/as1-oc-214.stp');
    const drawn = model.curves.filter((c) => model.parts[c.part]!.name === 'Edges');
    const solids = model.parts.filter((p) => p.primitives.length > 0);
    expect(drawn).toHaveLength(solids.length);
    // Five different bodies; eighteen stand in the assembly.
    expect(new Set(drawn.map((c) => c.points)).size).toBeLessThanOrEqual(6);
    const rod = drawn.find((c) => model.parts[c.part]!.path.includes('/rod/') && !model.parts[c.part]!.path.includes('nut'))!;
    // CAx-IF's rod, two half cylinders: two circles and the two lines where the halves meet.
    const list = ends(model, rod);
    const span = [0, 1, 2].map((k) => Math.max(...list.map((p) => p[k]!)) - Math.min(...list.map((p) => p[k]!)));
    const [across, along] = [Math.min(...span), Math.max(...span)];
    expect(along).toBeCloseTo(0.2, 6);
    expect(across).toBeCloseTo(0.01, 4);
    const around = lengthOf(model, rod) - 2 * along;
    expect(around).toBeLessThan(2 * Math.PI * 0.01);
    expect(around).toBeGreaterThan(2 * Math.PI * 0.01 * 0.97);
  });
});

describe('curves of files', () => {
  it('a STEP file by others: its six free circles', async () => {
    const text = readFileSync(path.join(SAMPLES, 'cax-if/io1-tu-203.stp'), 'latin1');
    const set = /GEOMETRIC_CURVE_SET\('[^']*',\(([^)]*)\)\)/.exec(text)![1]!.split(',');
    const radii = set.map((ref) => Number(new RegExp(`${ref}=CIRCLE\\('[^']*',#\\d+,([\\d.]+)\\)`).exec(text)![1]));
    expect(radii).toHaveLength(6);
    const model = await sample('cax-if/io1-tu-203.stp');
    const curves = model.curves.filter((c) => model.parts[c.part]!.name.startsWith('Curves'));
    expect(curves).toHaveLength(1);
    expect(lengthOf(model, curves[0]!)).toBeCloseTo(
      radii.reduce((s, r) => s + ring(r * 1e-3), 0),
      9,
    );
    expect(model.parts[curves[0]!.part]!.renderVisible).toBe(false);
    // The first circle: its middle as the file has it (mm, +Z up), in metres with +Y up.
    const [, x, y, z] = /#21=CARTESIAN_POINT\('[^']*',\(([\d.-]+),([\d.-]+),([\d.-]+)\)\)/.exec(text)!.map(Number);
    const at = ends(model, curves[0]!);
    const near = at.filter((p) => Math.abs(vec3.distance(p, [x! / 1e3, z! / 1e3, -y! / 1e3]) - radii[1]! / 1e3) < 1e-7);
    expect(near.length).toBeGreaterThanOrEqual(2 * 96);
  });

  it('a STEP assembly by others: the axis of every bolt, nut and rod, where the solid library puts its body', async () => {
    const model = await sample('cax-if/as1_pe_203.stp');
    const box = (points: [number, number, number][]): number[] =>
      [0, 1, 2].flatMap((k) => [Math.min(...points.map((p) => p[k]!)), Math.max(...points.map((p) => p[k]!))]);
    const solids = model.parts
      .filter((p) => p.primitives.length > 0)
      .map((p) =>
        box(
          p.primitives.flatMap(({ mesh }) => {
            const { positions } = model.meshes[mesh]!;
            return Array.from(
              { length: positions.length / 3 },
              (_, i) =>
                vec3.transformMat4([0, 0, 0], [...positions.subarray(i * 3, i * 3 + 3)] as [number, number, number], p.world) as [
                  number,
                  number,
                  number,
                ],
            );
          }),
        ),
      );
    const curves = model.curves.filter((c) => model.parts[c.part]!.name.startsWith('Curves'));
    // Eighteen bodies stand there, each with one set: of a single line, its axis, in 15 of them.
    expect([solids.length, curves.length]).toEqual([18, 18]);
    const axes = curves.filter((c) => c.points.length === 6).map((c) => box(ends(model, c)));
    expect(axes).toHaveLength(15);
    const owners = axes.map((axis) =>
      solids.findIndex((s) =>
        [0, 1, 2].every((k) => {
          const [from, to, low, high] = [axis[k * 2]!, axis[k * 2 + 1]!, s[k * 2]!, s[k * 2 + 1]!];
          const along = to - from > 1e-6;
          return along ? Math.abs(from - low) < 2e-4 && Math.abs(to - high) < 2e-4 : Math.abs(from - (low + high) / 2) < 2e-4;
        }),
      ),
    );
    // Every axis is that of one body, and no two of the same.
    expect(owners).not.toContain(-1);
    expect(new Set(owners).size).toBe(15);
  });

  it.each(['IFC2X3', 'IFC4'] as const)('%s: an annotation where its placement puts it', async (schema) => {
    const model = await read('house.ifc', new TextEncoder().encode(houseIfc(schema)));
    const curve = model.curves.find((c) => model.parts[c.part]!.name === 'Door swing')!;
    expect(model.parts[curve.part]!.renderVisible).toBe(false);
    // A leaf of 0.9 m and a quarter of a circle in 24 pieces.
    expect(lengthOf(model, curve)).toBeCloseTo(0.9 + ring(0.9) / 4, 6);
    const list = ends(model, curve);
    // The hinge stands at x 2 m, y 1 m in the plan, which is z −1 m here.
    list[0]!.forEach((v, k) => expect(v).toBeCloseTo([2, 0, -1][k]!, 6));
    list.at(-1)!.forEach((v, k) => expect(v).toBeCloseTo([2, 0, -1.9][k]!, 6));
  });

  it('OBJ: lines are parts of their own', async () => {
    const model = await read('l.obj', new TextEncoder().encode('o sheet\nv 0 0 0\nv 1000 0 0\nv 0 1000 0\nf 1 2 3\no path\nl 1 2 3\n'));
    expect(model.curves).toHaveLength(1);
    expect(lengthOf(model, model.curves[0]!)).toBeCloseTo(1 + Math.SQRT2, 9);
    expect(model.parts[model.curves[0]!.part]!.renderVisible).toBe(false);
  });

  it('glTF: lines beside a mesh come apart from it, and come back the same', async () => {
    const document = new Document();
    const buffer = document.createBuffer();
    const list = (values: number[]) => document.createAccessor().setType('VEC3').setArray(Float32Array.from(values)).setBuffer(buffer);
    const mesh = document
      .createMesh('plate')
      .addPrimitive(document.createPrimitive().setAttribute('POSITION', list([0, 0, 0, 1, 0, 0, 0, 1, 0])))
      .addPrimitive(
        document
          .createPrimitive()
          .setMode(2)
          .setAttribute('POSITION', list([0, 0, 0, 1, 0, 0, 0, 1, 0])),
      );
    document.createScene().addChild(document.createNode('plate').setMesh(mesh).setTranslation([0, 2, 0]));
    const first = await read('p.glb', await new WebIO().writeBinary(document));
    const again = await read('p.glb', await writeGlb(first));
    for (const model of [first, again]) {
      expect(model.parts.map((p) => [p.path, p.renderVisible, p.primitives.length])).toEqual([
        ['plate', true, 1],
        ['plate/Lines', false, 0],
      ]);
      expect(lengthOf(model, model.curves[0]!)).toBeCloseTo(2 + Math.SQRT2, 6);
      expect(ends(model, model.curves[0]!)[0]![1]).toBe(2);
    }
  });
});
