/** 3DM, written by rhino3dm: sizes, places and units are known as they are put in. Solids need the meshes that only a modeller saves. */
import { createRequire } from 'node:module';
import type { RhinoModule } from 'rhino3dm';
import { beforeAll, describe, expect, it } from 'vitest';
import { type Model, modelBounds, triangleCount } from '../../src/core/model/model.js';
import { toLinear } from '../../src/core/units/colour.js';
import { readModel } from '../../src/formats/formats.js';

let rhino: RhinoModule;
beforeAll(async () => {
  rhino = await (createRequire(import.meta.url)('rhino3dm') as unknown as () => Promise<RhinoModule>)();
});

const read = (bytes: Uint8Array): Promise<Model> => readModel([{ name: 'hall.3dm', bytes }], {});
const boxOf = (model: Model): number[] => [...modelBounds(model).min, ...modelBounds(model).max].map((v) => Math.round(v * 1e5) / 1e5 + 0);

/** A file with a layer inside another, and a plate of 10 × 5 in the ground plane on it. */
function file(unit: 'Millimeters' | 'Centimeters' | 'Meters' | 'Inches' | 'Feet' = 'Meters') {
  const doc = new rhino.File3dm();
  doc.settings().modelUnitSystem = rhino.UnitSystem[unit];
  const layer = (name: string, colour: object, parent?: string): number => {
    const made = new rhino.Layer();
    made.name = name;
    Object.assign(made, { color: colour, ...(parent && { parentLayerId: parent }) });
    return doc.layers().add(made);
  };
  const house = layer('House', { r: 0, g: 0, b: 0, a: 255 });
  const walls = layer('Walls', { r: 255, g: 0, b: 0, a: 255 }, doc.layers().get(house).id);
  const plate = (z = 0) => {
    const mesh = new rhino.Mesh();
    for (const [x, y] of [
      [0, 0],
      [10, 0],
      [10, 5],
      [0, 5],
    ])
      mesh.vertices().add(x!, y!, z);
    mesh.faces().addQuadFace(0, 1, 2, 3);
    return mesh;
  };
  const attributes = (name: string, more: object = {}) => {
    const made = new rhino.ObjectAttributes();
    made.name = name;
    made.layerIndex = walls;
    Object.assign(made, more);
    return made;
  };
  return { doc, plate, attributes, walls, bytes: () => doc.toByteArray() };
}

describe('3DM', () => {
  it.each([
    ['Millimeters', 0.001],
    ['Centimeters', 0.01],
    ['Meters', 1],
    ['Inches', 0.0254],
    ['Feet', 0.3048],
  ] as const)('in %s has its size in metres, layers as a tree, names and the colour of the layer', async (unit, metres) => {
    const { doc, plate, attributes, bytes } = file(unit);
    doc.objects().addMesh(plate(), attributes('Plate'));
    const model = await read(bytes());
    // +Z is up: what runs along +Y goes to −Z.
    expect(boxOf(model)).toEqual([0, 0, -5 * metres, 10 * metres, 0, 0].map((v) => Math.round(v * 1e5) / 1e5 + 0));
    expect([model.parts.at(-1)!.path, triangleCount(model), model.warnings]).toEqual(['hall/House/Walls/Plate', 2, []]);
    expect(model.materials.map((m) => [m.name, m.base])).toEqual([['Colour #ff0000', [1, 0, 0]]]);
  });

  it('has materials of objects, clear ones too, curves as lines, and keeps hidden things out of renders', async () => {
    const { doc, plate, attributes, bytes, walls } = file();
    const glass = new rhino.Material();
    glass.name = 'Pane';
    Object.assign(glass, { diffuseColor: { r: 128, g: 255, b: 0, a: 255 }, transparency: 0.8 });
    const paint = new rhino.Material();
    paint.name = 'Paint';
    Object.assign(paint, { diffuseColor: { r: 128, g: 0, b: 0, a: 255 } });
    const own = (material: InstanceType<RhinoModule['Material']>) => ({
      materialIndex: doc.materials().add(material),
      materialSource: rhino.ObjectMaterialSource.MaterialFromObject,
    });
    doc.objects().addMesh(plate(), attributes('Window', own(glass)));
    doc.objects().addMesh(plate(1), attributes('Door', own(paint)));
    doc.objects().addMesh(plate(2), attributes('Helper', { visible: false }));
    const circle = new rhino.Circle(2).toNurbsCurve();
    doc.objects().addCurve(circle, attributes('Ring'));
    doc.objects().addPoint([1, 2, 3], attributes('Dot'));
    const model = await read(bytes());
    expect(walls).toBe(1);
    const of = (name: string) => model.materials[model.parts.find((p) => p.name === name)!.primitives[0]!.material]!;
    expect(of('Window')).toMatchObject({ name: 'Pane', transmission: 1 });
    expect(of('Door')).toMatchObject({ name: 'Paint', base: [expect.closeTo(toLinear(128 / 255), 3), 0, 0] });
    expect(model.parts.find((p) => p.name === 'Helper')!.renderVisible).toBe(false);
    const ring = model.curves[0]!.points;
    expect(ring).toHaveLength(96 * 6);
    for (let i = 0; i < ring.length; i += 3) expect(Math.hypot(ring[i]!, ring[i + 1]!)).toBeCloseTo(2, 4);
    expect(model.warnings).toEqual(['Left out: 1 Point.']);
  });

  it('puts blocks where they are inserted, with one mesh for all of them', async () => {
    const { doc, plate, attributes, bytes } = file();
    const block = doc.instanceDefinitions().get(doc.instanceDefinitions().add('Tile', '', '', '', [0, 0, 0], [plate()], [attributes('Tile')]));
    const Reference = rhino.InstanceReference as unknown as new (block: string, place: object) => InstanceType<RhinoModule['InstanceReference']>;
    const move = rhino.Transform as unknown as { translationXYZ(x: number, y: number, z: number): InstanceType<RhinoModule['Transform']> };
    for (const x of [20, 40]) doc.objects().addInstanceObject(new Reference(block.id, move.translationXYZ(x, 0, 7)), attributes(`At ${x}`));
    const model = await read(bytes());
    expect([boxOf(model), model.parts.filter((p) => p.name === 'Tile').length, model.warnings]).toEqual([[20, 7, -5, 50, 7, 0], 2, []]);
    expect(model.meshes).toHaveLength(1);
  });

  it('says which solids were saved without their meshes', async () => {
    const { doc, plate, attributes, bytes } = file();
    doc.objects().addMesh(plate(), attributes('Plate'));
    doc.objects().addBrep(new rhino.Sphere([0, 0, 0], 3).toBrep(), attributes('Ball'));
    expect((await read(bytes())).warnings).toEqual(['Saved without their meshes, and left out: "Ball". Shade them before saving, or export STEP.']);
  });

  it('is refused where it is cut short', async () => {
    const { doc, plate, attributes, bytes } = file();
    doc.objects().addMesh(plate(), attributes('Plate'));
    await expect(read(bytes().slice(0, 900))).rejects.toThrow('"hall.3dm"');
  });
});
