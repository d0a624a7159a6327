/** Formats as their writers differ in them; each of these was once read wrong or refused. Their descriptions are from memory. */
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { triangleCount } from '../../src/core/model/model.js';
import { toLinear } from '../../src/core/units/colour.js';
import { readModel } from '../../src/formats/formats.js';
import { close, size } from '../support/solids.js';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const read = (obj: string | Uint8Array, beside: Record<string, string | Uint8Array> = {}) =>
  readModel(
    [
      { name: 'a.obj', bytes: typeof obj === 'string' ? bytes(obj) : obj },
      ...Object.entries(beside).map(([name, content]) => ({ name, bytes: typeof content === 'string' ? bytes(content) : content })),
    ],
    { unit: 'm', up: 'y' },
  );
const SQUARE = 'v 0 0 0\nv 2 0 0\nv 2 3 0\nv 0 3 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\n';
const FACE = 'f 1/1 2/2 3/3 4/4\n';
const picture = (background: string): Promise<Buffer> =>
  sharp({ create: { width: 4, height: 4, channels: 3, background } })
    .png()
    .toBuffer();

describe('OBJ', () => {
  it('keeps the faces of an object that holds lines too, and the lines as a part of their own', async () => {
    const model = await read(`${SQUARE}o Sheet\n${FACE}l 1 3\nl -4 -1\no Other\n${FACE}`);
    expect(triangleCount(model)).toBe(4);
    expect(model.parts.map((p) => p.name)).toEqual(['Sheet', 'Other', 'Sheet lines']);
    // Both from corner 1: to corner 3, and by counting back to corner 4.
    expect(model.curves.map((c) => c.points)).toEqual([[0, 0, 0, 2, 3, 0, 0, 0, 0, 0, 3, 0]]);
  });

  it('goes on behind a backslash, with unix and other ends of line', async () => {
    for (const end of ['\n', '\r\n']) expect(triangleCount(await read(`${SQUARE}${`f 1/1 2/2 \\\n3/3 4/4\n`}`.replaceAll('\n', end)))).toBe(2);
  });

  it('tells faults by the lines of the file, whatever was joined or moved above', async () => {
    await expect(read(`${SQUARE}o A\nl 1 2\n${FACE}f 1 2 \\\n3\nf 1 2 99\n`)).rejects.toThrow('line 14: the face refers to vertex 99');
  });

  it('has exponents with the sign before their letter', async () => {
    close(size(await read('v 0 0 0\nv 2.0+e1 0 0\nv 2.0e+1 300-e2 0\no a1-e2\nf 1 2 3\n')), [20, 3, 0]);
    expect((await read('v 0 0 0\nv 1 0 0\nv 0 1 0\no a1-e2\nf 1 2 3\n')).parts[0]!.name).toBe('a1-e2');
  });

  it('has names in Latin-1', async () => {
    const model = await read(new Uint8Array(Buffer.from(`${SQUARE}o Br\u00fccke\n${FACE}`, 'latin1')));
    expect(model.parts[0]!.name).toBe('Br\u00fccke');
  });
});

describe('MTL', () => {
  const dressed = (mtl: string, beside: Record<string, Uint8Array> = {}) =>
    read(`mtllib a.mtl\n${SQUARE}usemtl M\n${FACE}`, { 'a.mtl': `newmtl M\nKd 0.5 0.5 0.5\n${mtl}\n`, ...beside });

  it('has pictures behind options, repeated and moved by them, with spaces in their names', async () => {
    const red = await picture('#ff0000');
    const model = await dressed('map_Kd -blendu on -s 2 4 1 -o 0.25 0.5 -bm 0.3 oak board.png', { 'oak board.png': red });
    expect(model.warnings).toEqual([]);
    const { matrix } = model.materials[0]!.textures!.base!;
    // Twice across and four times up, moved by a quarter and a half; v is counted downwards here.
    const at = (u: number, v: number): number[] => [matrix[0] * u + matrix[2], matrix[4] * v + matrix[5]];
    const inFile = (u: number, v: number): number[] => [2 * u + 0.25, 1 - (4 * v + 0.5)];
    for (const [u, v] of [
      [0, 0],
      [1, 0],
      [0.3, 0.7],
    ] as const)
      close(at(u, 1 - v), inFile(u, v));
  });

  it('has glow and normals by picture; what else it has is named', async () => {
    const [red, blue] = [await picture('#ff0000'), await picture('#8080ff')];
    const model = await dressed('map_Ke e.png\nnorm n.png\ndisp b.png\nmap_Ns d.png', { 'e.png': red, 'n.png': blue });
    const [material] = model.materials;
    expect(Object.keys(material!.textures!).sort()).toEqual(['emission', 'normal']);
    expect(material!.emission).toEqual([1, 1, 1]);
    expect(model.warnings).toEqual(['Left out of the material "M": disp, map_ns.']);
  });

  it('has tinted glass by what passes, and nothing clear by that alone', async () => {
    expect((await dressed('d 0.3\nTf 0.2 0.6 0.4')).materials[0]).toMatchObject({ transmission: 1, base: [0.2, 0.6, 0.4] });
    expect((await dressed('Tf 0.2 0.6 0.4\nillum 6')).materials[0]).toMatchObject({ transmission: 1, base: [0.2, 0.6, 0.4] });
    expect((await dressed('Tf 1 1 1\nillum 2')).materials[0]!.transmission).toBe(0);
    expect((await dressed('d 0.3')).materials[0]!.base).toEqual([1, 1, 1]);
  });
});

describe('STL as text', () => {
  const facet = (corners: number): string =>
    `facet normal 0 0 1\nouter loop\n${['0 0 0', '1 0 0', '1 1 0', '0 1 0']
      .slice(0, corners)
      .map((c) => `vertex ${c}`)
      .join('\n')}\nendloop\nendfacet\n`;
  const stl = (...facets: string[]) =>
    readModel([{ name: 'a.stl', bytes: bytes(`solid a\n${facets.join('')}endsolid a\n`) }], { unit: 'm', up: 'y' });

  it('with a facet of four vertices is refused by its number', async () => {
    expect(triangleCount(await stl(facet(3), facet(3)))).toBe(2);
    await expect(stl(facet(3), facet(4))).rejects.toThrow('"a.stl": facet 2 has 4 vertices, and one of STL has three.');
  });
});

describe('PLY', () => {
  const ply = (header: string, vertices: string[], faces: string[], beside: Record<string, Uint8Array> = {}) =>
    readModel(
      [
        { name: 'a.ply', bytes: bytes(`ply\nformat ascii 1.0\n${header}end_header\n${[...vertices, ...faces].join('\n')}\n`) },
        ...Object.entries(beside).map(([name, content]) => ({ name, bytes: content })),
      ],
      { unit: 'm', up: 'y' },
    );
  const POINTS = ['0 0 0', '1 0 0', '1 1 0', '0 1 0'];

  it('has colours of its faces', async () => {
    const header =
      'element vertex 4\nproperty float x\nproperty float y\nproperty float z\nelement face 2\nproperty list uchar int vertex_indices\nproperty uchar red\nproperty uchar green\nproperty uchar blue\n';
    const model = await ply(header, POINTS, ['3 0 1 2 255 0 0', '3 0 2 3 0 0 255']);
    expect(triangleCount(model)).toBe(2);
    const { colours, indices } = model.meshes[0]!;
    const at = (corner: number): number[] => [...colours!.subarray(indices[corner]! * 3, indices[corner]! * 3 + 3)];
    for (const corner of [0, 1, 2]) expect(at(corner)).toEqual([1, 0, 0]);
    for (const corner of [3, 4, 5]) expect(at(corner)).toEqual([0, 0, 1]);
  });

  it('has the picture that a comment names', async () => {
    const header =
      'comment TextureFile oak.png\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\nproperty float s\nproperty float t\nelement face 1\nproperty list uchar int vertex_indices\n';
    const points = POINTS.map((p) => `${p} ${p.slice(0, 3)}`);
    const model = await ply(header, points, ['4 0 1 2 3'], { 'oak.png': await picture('#00ff00') });
    expect(model.materials[0]!.textures?.base?.texture).toBe(0);
    expect(model.textures).toHaveLength(1);
    expect(model.meshes[0]!.uvs).toHaveLength(8);
    expect((await ply(header, points, ['4 0 1 2 3'])).warnings).toContainEqual(expect.stringContaining('The texture "oak.png"'));
  });
});

it('BREP with a number on a line after its shape is read as without it; cut before it, it is refused', async () => {
  const whole = new Uint8Array(readFileSync('node_modules/occt-import-js/test/testfiles/cax-if-brep/as1_pe_203.brep'));
  const brep = (content: Uint8Array) => readModel([{ name: 'a.brep', bytes: content }], { unit: 'mm', up: 'z' });
  const [plain, further] = [await brep(whole), await brep(Buffer.concat([whole, bytes('0\n')]))];
  expect(triangleCount(further)).toBe(triangleCount(plain));
  await expect(brep(whole.subarray(0, whole.length - 40))).rejects.toThrow('"a.brep"');
});

describe('STL in binary', () => {
  it('has the colour of its header, and those of its facets (common practice, no source)', async () => {
    const file = new Uint8Array(84 + 50 * 2);
    const view = new DataView(file.buffer);
    file.set(bytes('COLOR='), 0);
    file.set([255, 0, 0, 255], 6);
    view.setUint32(80, 2, true);
    [0, 1].forEach((facet) => {
      const at = 84 + 50 * facet;
      [0, 0, 1, 0, 0, facet, 1, 0, facet, 0, 1, facet].forEach((v, i) => view.setFloat32(at + 4 * i, v, true));
      // The highest bit says that the header's colour holds; else five bits each of red, green and blue.
      view.setUint16(at + 48, facet === 0 ? 0x8000 : 31 << 10, true);
    });
    const model = await readModel([{ name: 'a.stl', bytes: file }], { unit: 'm', up: 'y' });
    const colours = model.meshes[0]!.colours!;
    const seen = new Set(Array.from({ length: colours.length / 3 }, (_, i) => [...colours.slice(3 * i, 3 * i + 3)].map((v) => Math.round(v)).join()));
    expect([...seen].sort()).toEqual(['0,0,1', '1,0,0']);
  });
});

describe('Collada', () => {
  it('of exporters that mean opaque by a transparency of nought is opaque, and says so; what is half clear stays glass', async () => {
    const effect = (id: string, transparency: number): string =>
      `<effect id="${id}-fx"><profile_COMMON><technique sid="c"><lambert><diffuse><color>0.2 0.4 0.6 1</color></diffuse>
       <transparent><color>1 1 1 1</color></transparent><transparency><float>${transparency}</float></transparency></lambert></technique></profile_COMMON></effect>`;
    const material = (id: string): string => `<material id="${id}" name="${id}"><instance_effect url="#${id}-fx"/></material>`;
    const mesh = (id: string): string =>
      `<geometry id="${id}-mesh"><mesh><source id="${id}-p"><float_array id="${id}-a" count="9">0 0 0 1 0 0 0 1 0</float_array><technique_common><accessor source="#${id}-a" count="3" stride="3"><param name="X" type="float"/><param name="Y" type="float"/><param name="Z" type="float"/></accessor></technique_common></source>
       <vertices id="${id}-v"><input semantic="POSITION" source="#${id}-p"/></vertices><triangles count="1" material="m"><input semantic="VERTEX" source="#${id}-v" offset="0"/><p>0 1 2</p></triangles></mesh></geometry>`;
    const node = (id: string): string =>
      `<node name="${id}"><instance_geometry url="#${id}-mesh"><bind_material><technique_common><instance_material symbol="m" target="#${id}"/></technique_common></bind_material></instance_geometry></node>`;
    const all = (of: (id: string) => string): string => of('Wall') + of('Pane');
    const dae = `<?xml version="1.0"?><COLLADA xmlns="http://www.collada.org/2005/11/COLLADASchema" version="1.4.1"><asset><unit meter="1"/><up_axis>Y_UP</up_axis></asset>
      <library_effects>${effect('Wall', 0)}${effect('Pane', 0.4)}</library_effects><library_materials>${all(material)}</library_materials>
      <library_geometries>${all(mesh)}</library_geometries><library_visual_scenes><visual_scene id="s">${all(node)}</visual_scene></library_visual_scenes>
      <scene><instance_visual_scene url="#s"/></scene></COLLADA>`;
    const model = await readModel([{ name: 'a.dae', bytes: bytes(dae) }], {});
    const of = (name: string) => model.materials.find((m) => m.name === name)!;
    expect([of('Wall').transmission, of('Pane').transmission]).toEqual([0, 1]);
    [0.2, 0.4, 0.6].forEach((v, k) => expect(of('Wall').base[k]).toBeCloseTo(toLinear(v), 3));
    expect(model.warnings).toEqual(['Clear by the letter of the file, and taken for opaque: "Wall".']);
  });
});
