/**
 * Files by others: those of Debian's "assimp-testmodels" (BSD-3-Clause; the house by KIT/IAI, Karlsruhe, redistributable with
 * attribution), as test input alone. Triangles, materials and bounds as the command `assimp info FILE -tri` of assimp 5.2.5 says,
 * an independent reader (of bounds only where nothing is turned); what that does not say is counted in the file itself.
 */
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { vec3 } from 'gl-matrix';
import { Box3, SphereGeometry } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { describe, expect, it } from 'vitest';
import { type Model, uniqueTriangles } from '../../src/core/model/model.js';
import { toLinear } from '../../src/core/units/colour.js';
import { readModel } from '../../src/formats/formats.js';

const FOLDER = '/usr/share/assimp/models';

/** Reads a file with the files beside it, in metres and +Y up where it does not say. */
function read(name: string): Promise<Model> {
  const whole = path.join(FOLDER, name);
  const beside = readdirSync(path.dirname(whole), { withFileTypes: true }).filter((f) => f.isFile() && /\.(mtl|bin|png|jpe?g|tga)$/i.test(f.name));
  const files = [path.basename(whole), ...beside.map((f) => f.name)];
  return readModel(
    files.map((f) => ({ name: f, bytes: new Uint8Array(readFileSync(path.join(path.dirname(whole), f))) })),
    { unit: 'm', up: 'y' },
  );
}

/** Least and most x y z of every vertex in the world (`modelBounds` takes the corners of boxes, which turned ones overstate). */
function bounds(model: Model): number[] {
  const [low, high] = [new Array<number>(3).fill(Infinity), new Array<number>(3).fill(-Infinity)];
  for (const part of model.parts)
    for (const { mesh } of part.primitives) {
      const { positions, indices } = model.meshes[mesh]!;
      for (const i of indices) {
        const p = vec3.transformMat4(vec3.create(), [positions[i * 3]!, positions[i * 3 + 1]!, positions[i * 3 + 2]!], part.world);
        for (let k = 0; k < 3; k++) [low[k], high[k]] = [Math.min(low[k]!, p[k]!), Math.max(high[k]!, p[k]!)];
      }
    }
  return [...low, ...high];
}

// File, unique triangles, materials that surfaces wear, and the bounds where the file has no unit or axis to be turned by.
const FILES: [string, number, number, number[]?][] = [
  ['OBJ/WusonOBJ.obj', 3732, 1, [-0.459976, -0.000566, -1.622242, 0.459976, 1.515251, 1.622242]],
  ['OBJ/box.obj', 12, 1, [-0.5, -0.5, -0.5, 0.5, 0.5, 0.5]],
  ['OBJ/box_UTF16BE.obj', 12, 1, [-0.5, -0.5, -0.5, 0.5, 0.5, 0.5]],
  ['OBJ/box_longline.obj', 944, 1, [-0.5, -0.5, -0.5, 0.5, 0.5, 0.5]],
  ['OBJ/concave_polygon.obj', 64, 1, [-1.146, 1.6575, 1.6055, -1.146, 3.1425, 3.0905]],
  ['OBJ/cube_usemtl.obj', 12, 3, [0, 0, 0, 1, 1, 1]],
  ['OBJ/cube_with_vertexcolors.obj', 12, 1, [0, 0, 0, 1, 1, 1]],
  ['OBJ/empty_mat.obj', 256, 1, [-1, -1, -1, 1, 2.802455, 1]],
  ['OBJ/regr01.obj', 2710, 12, [-194.199509, -204.511566, 0, 1442.085571, 967.615295, 337.509033]],
  ['OBJ/space_in_material_name.obj', 64, 1, [-1.146, 1.6575, 1.6055, -1.146, 3.1425, 3.0905]],
  ['OBJ/spider.obj', 1368, 4, [-92.655235, -42.233826, -106.6912, 57.936218, 37.503952, 86.6912]],
  // Four points, a hexagon each.
  ['PLY/points.ply', 16, 1],
  ['glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb', 75_730, 34],
  ['glTF2/BoxTextured-glTF/BoxTextured.gltf', 12, 1, [-0.5, -0.5, -0.5, 0.5, 0.5, 0.5]],
  ['glTF2/BoxTextured-glTF-Embedded/BoxTextured.gltf', 12, 1, [-0.5, -0.5, -0.5, 0.5, 0.5, 0.5]],
  ['glTF2/BoxTextured-glTF-Binary/BoxTextured.glb', 12, 1, [-0.5, -0.5, -0.5, 0.5, 0.5, 0.5]],
  ['glTF2/ClearCoat-glTF/ClearCoatTest.gltf', 37_116, 19, [-7.357803, -6.25, -0.06, 3.1, 6.854517, 1.05]],
  ['glTF2/textureTransform/TextureTransformTest.gltf', 18, 9],
  ['Collada/COLLADA.dae', 6722, 2, [-4, 0, -2, 4, 1.08098, 2]],
  ['Collada/ConcavePolygon.dae', 64, 1],
  ['Collada/cube_UTF16LE.dae', 12, 1],
  ['Collada/cube_emptyTags.dae', 12, 1],
  ['Collada/cube_tristrips.dae', 12, 1],
  ['Collada/cube_xmlspecialchars.dae', 12, 1],
  ['Collada/duck.dae', 4212, 1],
  // One of its two materials is used but not there: plain grey, which assimp does not count.
  ['Collada/earthCylindrical.DAE', 1920, 2],
  ['Collada/kwxport_test_vcolors.dae', 12, 3],
  ['Collada/regr01.dae', 172, 6],
  ['Collada/sphere.dae', 760, 1],
  ['Collada/teapots.DAE', 2976, 3],
  ['PLY/Wuson.ply', 3732, 1, [-0.459976, -0.000566, -1.622242, 0.459976, 1.515251, 1.622242]],
  ['PLY/cube_uv.ply', 12, 1, [-1, -1.000001, -1, 1, 1, 1]],
  ['PLY/cube_binary.ply', 12, 1],
  ['3MF/box.3mf', 12, 1],
];

/** Triangles without area, as the report says them. */
const leftOut = (model: Model): number =>
  Number(/^(\d+) triangles? without area/.exec(model.warnings.find((w) => w.includes('without area')) ?? '')?.[1] ?? 0);

describe('files by others', () => {
  it.each(FILES)('%s: %i triangles', async (name, triangles, materials, box) => {
    const model = await read(name);
    // What has no area is left out and counted; assimp keeps it.
    expect(uniqueTriangles(model) + leftOut(model)).toBe(triangles);
    const worn = new Set(model.parts.flatMap((p) => p.primitives.map(({ material }) => material)));
    expect(worn.size).toBe(materials);
    if (box) bounds(model).forEach((v, i) => expect(v).toBeCloseTo(box[i]!, Math.abs(box[i]!) > 100 ? 3 : 5));
  });

  it('an assembly that repeats its parts: each mesh once, every part in the tree', async () => {
    const model = await read('glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb');
    // 82 nodes besides assimp's own root, 34 meshes.
    expect([model.parts.length, model.meshes.length]).toEqual([82, 34]);
    // Its nested places as three.js's own loader has them.
    const bytes = readFileSync(path.join(FOLDER, 'glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb'));
    const { scene } = await new GLTFLoader().parseAsync(Uint8Array.from(bytes).buffer, '');
    const box = new Box3().setFromObject(scene, true);
    bounds(model).forEach((v, i) => expect(v).toBeCloseTo([...box.min.toArray(), ...box.max.toArray()][i]!, 2));
  });

  it('pictures beside them come along, TGA too', async () => {
    expect((await read('OBJ/spider.obj')).textures.map((t) => t.name).sort()).toContain('wal67ar_small.jpg');
    const [picture] = (await read('glTF2/BoxTextured-glTF/BoxTextured.gltf')).textures;
    // PNG's header (RFC 2083) has width and height in its bytes 16 to 23.
    const png = readFileSync(path.join(FOLDER, 'glTF2/BoxTextured-glTF/CesiumLogoFlat.png'));
    expect([picture!.width, picture!.height]).toEqual([png.readUInt32BE(16), png.readUInt32BE(20)]);
    const duck = await read('Collada/duck.dae');
    // TGA has them in its bytes 12 to 15.
    const tga = readFileSync(path.join(FOLDER, 'Collada/duckCM.tga'));
    expect(duck.textures.map((t) => [t.width, t.height])).toEqual([[tga.readUInt16LE(12), tga.readUInt16LE(14)]]);
  });

  it('colours of vertices are linear', async () => {
    const model = await read('OBJ/cube_with_vertexcolors.obj');
    const { positions, colours } = model.meshes[0]!;
    const at = Array.from({ length: positions.length / 3 }, (_, i) => i).filter((i) => positions.subarray(i * 3, i * 3 + 3).every((v) => v === 0));
    expect(at.length).toBeGreaterThan(0);
    for (const i of at) [0.48627, 0.43137, 0.47059].forEach((c, k) => expect(colours![i * 3 + k]).toBeCloseTo(toLinear(c), 5));
  });

  it('triangles without area are counted', async () => {
    // The same model in two formats.
    for (const name of ['STL/Spider_binary.stl', 'OBJ/spider.obj']) {
      const model = await read(name);
      expect([uniqueTriangles(model), leftOut(model)], name).toEqual([1312, 56]);
    }
  });

  it('an OBJ without normals is smooth where it bends little, and sharp at its edges', async () => {
    // A ball of 32 × 24 pieces: flat faces would look up to 5° past the way out from its middle.
    const ball = new SphereGeometry(1, 32, 24);
    const [position, index] = [ball.getAttribute('position'), ball.getIndex()!];
    const lines = [
      ...Array.from({ length: position.count }, (_, i) => `v ${position.getX(i)} ${position.getY(i)} ${position.getZ(i)}`),
      ...Array.from({ length: index.count / 3 }, (_, t) => `f ${[0, 1, 2].map((k) => index.getX(t * 3 + k) + 1).join(' ')}`),
    ];
    const model = await readModel([{ name: 'ball.obj', bytes: new TextEncoder().encode(lines.join('\n')) }], { unit: 'm', up: 'y' });
    const { positions, normals } = model.meshes[0]!;
    for (let i = 0; i < normals!.length; i += 3) {
      const out =
        [0, 1, 2].reduce((sum, k) => sum + normals![i + k]! * positions[i + k]!, 0) / Math.hypot(positions[i]!, positions[i + 1]!, positions[i + 2]!);
      expect(out).toBeGreaterThan(Math.cos((2 * Math.PI) / 180));
    }
    const box = (await read('OBJ/box.obj')).meshes[0]!;
    for (let i = 0; i < box.normals!.length; i += 3) expect([...box.normals!.subarray(i, i + 3)].map(Math.abs).sort()).toEqual([0, 0, 1]);
  });

  it.each([
    ['glTF2/BoxTextured-glTF-techniqueWebGL/BoxTextured.gltf', 'needs the glTF extension KHR_technique_webgl, which is not read. Export it without.'],
    ['glTF2/MissingBin/BoxTextured.gltf', 'needs the file "BoxTextured0.bin", which was not given'],
    ['glTF2/IndexOutOfRange/IndexOutOfRange.gltf', 'refers to vertex 255, but has only 24'],
    ['glTF2/BoxWithInfinites-glTF-Binary/BoxWithInfinites.glb', 'a coordinate that is not a number'],
    ['glTF2/RecursiveNodes/RecursiveNodes.gltf', 'no surfaces'],
    // Its numbers are read, in every way there is of writing them; its one triangle has no area.
    ['OBJ/number_formats.obj', 'has no surfaces to render'],
    ['invalid/malformed.obj', 'line 23: the face refers to vertex 12, but there are 8'],
    ['invalid/empty.ply', 'is empty'],
    ['glTF/BoxTextured-glTF-Binary/BoxTextured.glb', 'only version 2 can be read'],
  ])('%s is refused with its reason', async (name, reason) => {
    await expect(read(name)).rejects.toThrow(reason);
  });
});

describe('a house as IFC by others', () => {
  const name = 'IFC/AC14-FZK-Haus.ifc';
  const text = readFileSync(path.join(FOLDER, name), 'latin1');
  /** Names of the entities of a class, as the file has them (the third value: identifier, history, name). */
  const named = (kind: string): string[] => Array.from(text.matchAll(new RegExp(`= ?${kind}\\('[^']*',#\\d+,'((?:[^']|'')*)'`, 'g')), (m) => m[1]!);

  it('has its storeys, walls, windows and doors, and openings and spaces out of picture', async () => {
    const model = await read(name);
    const storeys = named('IFCBUILDINGSTOREY');
    expect(storeys).toHaveLength(2);
    const under = (storey: string) => model.parts.filter((p) => p.path.includes(`/${storey}/`));
    const all = storeys.flatMap(under);
    const shown = (n: string) => all.filter((p) => p.name.replace(/ \d+$/, '') === n.replace(/ \d+$/, '') || p.name === n);
    for (const [kind, count] of [
      ['IFCWALLSTANDARDCASE', 13],
      ['IFCWINDOW', 11],
      ['IFCDOOR', 5],
      ['IFCSLAB', 4],
    ] as const) {
      const names = named(kind);
      expect(names, kind).toHaveLength(count);
      for (const n of names) expect(shown(n).length, `${kind} ${n}`).toBeGreaterThan(0);
    }
    const unseen = new Set(model.parts.filter((p) => !p.renderVisible).map((p) => p.name));
    for (const n of [...named('IFCSPACE'), ...named('IFCOPENINGELEMENT')]) expect(unseen, n).toContain(n);
    const wall = model.parts.find((p) => p.name === named('IFCWALLSTANDARDCASE')[0])!;
    expect(wall.renderVisible).toBe(true);
    // The ground that the site has turns with nothing and is measured by nothing: it is surroundings.
    const ground = model.parts.filter((p) => p.isContext && p.primitives.length > 0);
    expect(ground.length).toBeGreaterThan(0);
    for (const p of ground) expect(p.path).toMatch(/^Ground of Gelände/);
    expect(wall.isContext).toBe(false);
  });
});
