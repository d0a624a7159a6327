/** Every family of files: sizes, areas and volumes of known solids, trees, names and colours, and what is at fault said. */
import { readFileSync } from 'node:fs';
import { strToU8, zipSync } from 'fflate';
import { BoxGeometry, CylinderGeometry, Mesh as ThreeMesh, MeshStandardMaterial, Scene, SphereGeometry } from 'three';
import { PLYExporter } from 'three/examples/jsm/exporters/PLYExporter.js';
import { STLExporter } from 'three/examples/jsm/exporters/STLExporter.js';
import { USDZExporter } from 'three/examples/jsm/exporters/USDZExporter.js';
import { describe, expect, it } from 'vitest';
import { type Model, modelBounds, triangleCount } from '../../src/core/model/model.js';
import { readModel } from '../../src/formats/formats.js';
import { ModelError, type ReadOptions } from '../../src/formats/format.js';
import { makeIO } from '../../src/formats/glb/io.js';
import { writeGlb } from '../../src/formats/glb/write.js';
import { ternGlb } from '../support/box.js';
import { houseIfc } from '../support/ifc.js';
import { close, measure, size } from '../support/solids.js';

const MM_Z = { unit: 'mm', up: 'z' } as const;
const text = (t: string): Uint8Array => new TextEncoder().encode(t);
const read = (name: string, bytes: Uint8Array, options: ReadOptions = MM_Z): Promise<Model> => readModel([{ name, bytes }], options);

describe('STL', () => {
  const box = new ThreeMesh(new BoxGeometry(20, 30, 50));
  it.each([true, false])('of a box 20 × 30 × 50 mm, binary: %s', async (binary) => {
    const out = new STLExporter().parse(box, { binary: binary as true });
    const bytes = typeof out === 'string' ? text(out) : new Uint8Array((out as DataView).buffer);
    const model = await read('box.stl', bytes);
    // z is up in the file, y here.
    close(size(model), [0.02, 0.05, 0.03]);
    const { volume, area } = measure(model);
    expect(volume).toBeCloseTo(20 * 30 * 50 * 1e-9, 12);
    expect(area).toBeCloseTo(2 * (20 * 30 + 30 * 50 + 20 * 50) * 1e-6, 9);
    // Creased: eight corners with three normals each.
    expect(model.meshes[0]!.positions).toHaveLength(24 * 3);
  });

  it('smooths what bends little, and drops triangles without area', async () => {
    const ball = new STLExporter().parse(new ThreeMesh(new SphereGeometry(1, 48, 24)), { binary: true }) as unknown as DataView;
    const model = await read('ball.stl', new Uint8Array(ball.buffer), { unit: 'm', up: 'y' });
    const { positions, normals } = model.meshes[0]!;
    for (let i = 0; i < positions.length; i += 3) {
      const r = Math.hypot(positions[i]!, positions[i + 1]!, positions[i + 2]!);
      const cosine = [0, 1, 2].reduce((s, k) => s + (positions[i + k]! / r) * normals![i + k]!, 0);
      expect(cosine).toBeGreaterThan(0.995);
    }
    const sliver =
      'solid s\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 2 0 0\nendloop\nendfacet\nendsolid s\n';
    const flat = await read('s.stl', text(sliver));
    expect(flat.meshes[0]!.indices).toHaveLength(3);
    expect(flat.warnings).toEqual(['1 triangle without area was left out.']);
  });
});

describe('PLY', () => {
  const cylinder = new ThreeMesh(new CylinderGeometry(1, 1, 4, 256));
  // Asked for by the exporter, which answers at once all the same.
  globalThis.requestAnimationFrame ??= (() => 0) as typeof requestAnimationFrame;
  it.each([true, false])('of a cylinder, binary: %s', async (binary) => {
    const out = new PLYExporter().parse(cylinder, () => {}, { binary } as never) as unknown as string | ArrayBuffer;
    const model = await read('c.ply', typeof out === 'string' ? text(out) : new Uint8Array(out), { unit: 'in', up: 'y' });
    // A prism of 256 sides: its base is n/2 · sin(2π/n).
    const base = 128 * Math.sin((2 * Math.PI) / 256);
    expect(measure(model).volume / (base * 4 * 0.0254 ** 3)).toBeCloseTo(1, 4);
  });

  it('keeps colours of vertices, of points too', async () => {
    const head =
      'ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nproperty uchar red\nproperty uchar green\nproperty uchar blue\n';
    const rows = '0 0 0 255 0 0\n1 0 0 0 255 0\n0 1 0 0 0 255\n';
    const model = await read('t.ply', text(`${head}element face 1\nproperty list uchar int vertex_indices\nend_header\n${rows}3 0 1 2\n`));
    expect(Array.from(model.meshes[0]!.colours!)).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
    const points = await read('p.ply', text(`${head}end_header\n${rows}`));
    expect([0, 18, 36].map((at) => Array.from(points.meshes[0]!.colours!.subarray(at, at + 3)))).toEqual([
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ]);
  });
});

/** A 3MF of one box of `edge` units, twice: once as it is, once moved and turned over. */
function box3mf(unit: string, edge: number): Uint8Array {
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((i) => [i & 1, (i >> 1) & 1, i >> 2].map((v) => v * edge));
  const faces = [
    [0, 2, 1],
    [1, 2, 3],
    [4, 5, 6],
    [5, 7, 6],
    [0, 1, 4],
    [1, 5, 4],
    [2, 6, 3],
    [3, 6, 7],
    [0, 4, 2],
    [2, 4, 6],
    [1, 3, 5],
    [3, 7, 5],
  ];
  const model = `<?xml version="1.0"?><model unit="${unit}" xml:lang="en" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"><resources><object id="1" type="model"><mesh><vertices>${corners.map(([x, y, z]) => `<vertex x="${x}" y="${y}" z="${z}"/>`).join('')}</vertices><triangles>${faces.map(([a, b, c]) => `<triangle v1="${a}" v2="${b}" v3="${c}"/>`).join('')}</triangles></mesh></object></resources><build><item objectid="1"/><item objectid="1" transform="1 0 0 0 1 0 0 0 1 ${3 * edge} 0 0"/></build></model>`;
  return zipSync({
    '[Content_Types].xml': strToU8(
      '<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>',
    ),
    '_rels/.rels': strToU8(
      '<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>',
    ),
    '3D/3dmodel.model': strToU8(model),
  });
}

describe('3MF', () => {
  it.each([
    ['millimeter', 1e-3],
    ['inch', 0.0254],
    ['meter', 1],
  ])('in %s, an object built twice', async (unit, metres) => {
    const model = await read('b.3mf', box3mf(unit, 2));
    close(size(model), [8 * metres, 2 * metres, 2 * metres]);
    expect(measure(model).volume / (2 * 8 * metres ** 3)).toBeCloseTo(1, 5);
    // Both builds wear the same mesh.
    const worn = model.parts.flatMap((p) => p.primitives.map((q) => q.mesh));
    expect(worn).toHaveLength(2);
    expect(new Set(worn).size).toBe(1);
  });

  it('refuses what would unpack to gigabytes', async () => {
    const bomb = zipSync({ '3D/3dmodel.model': new Uint8Array(64 * 2 ** 20) }, { level: 9 });
    // The sizes that the archive states: local header and directory, 22 bytes from the end tell where.
    const view = new DataView(bomb.buffer, bomb.byteOffset);
    const directory = view.getUint32(bomb.length - 6, true);
    view.setUint32(directory + 24, 0x7fffffff, true);
    await expect(read('bomb.3mf', bomb)).rejects.toThrow(/would unpack to 2048 MB/);
  }, 20_000);
});

const DAE = (unit: string, up: string): string =>
  `<?xml version="1.0"?><COLLADA xmlns="http://www.collada.org/2005/11/COLLADASchema" version="1.4.1"><asset><unit ${unit}/><up_axis>${up}</up_axis></asset><library_effects><effect id="e"><profile_COMMON><technique sid="t"><lambert><diffuse><color>0.8 0.1 0.1 1</color></diffuse></lambert></technique></profile_COMMON></effect></library_effects><library_materials><material id="m" name="Red paint"><instance_effect url="#e"/></material></library_materials><library_geometries><geometry id="g" name="Sheet"><mesh><source id="p"><float_array id="pa" count="12">0 0 0 4 0 0 4 3 0 0 3 0</float_array><technique_common><accessor source="#pa" count="4" stride="3"><param name="X" type="float"/><param name="Y" type="float"/><param name="Z" type="float"/></accessor></technique_common></source><vertices id="v"><input semantic="POSITION" source="#p"/></vertices><triangles count="2" material="mat"><input semantic="VERTEX" source="#v" offset="0"/><p>0 1 2 0 2 3</p></triangles></mesh></geometry></library_geometries><library_visual_scenes><visual_scene id="s"><node id="n" name="Holder"><translate>0 0 5</translate><node id="n2" name="Sheet"><instance_geometry url="#g"><bind_material><technique_common><instance_material symbol="mat" target="#m"/></technique_common></bind_material></instance_geometry></node></node></visual_scene></library_visual_scenes><scene><instance_visual_scene url="#s"/></scene></COLLADA>`;

describe('Collada', () => {
  it('in centimetres with Z up: tree, colour, size', async () => {
    const model = await read('s.dae', text(DAE('name="cm" meter="0.01"', 'Z_UP')));
    const { min, max } = modelBounds(model);
    close(min, [0, 0.05, -0.03]);
    close(max, [0.04, 0.05, 0]);
    expect(measure(model).area).toBeCloseTo(0.04 * 0.03, 9);
    expect(model.parts.map((p) => p.path)).toContain('s/Holder/Sheet');
    expect(model.materials.map((f) => f.name)).toEqual(['Red paint']);
  });

  it('in metres with Y up', async () => {
    const { min, max } = modelBounds(await read('s.dae', text(DAE('meter="1"', 'Y_UP'))));
    close(min, [0, 0, 5]);
    close(max, [4, 3, 5]);
  });
});

describe('USD', () => {
  it('USDA in centimetres with Z up', async () => {
    const usda = `#usda 1.0\n(\n    metersPerUnit = 0.01\n    upAxis = "Z"\n)\n\ndef Xform "Root"\n{\n    def Mesh "Sheet"\n    {\n        int[] faceVertexCounts = [4]\n        int[] faceVertexIndices = [0, 1, 2, 3]\n        point3f[] points = [(0, 0, 0), (4, 0, 0), (4, 3, 0), (0, 3, 0)]\n    }\n}\n`;
    const model = await read('s.usda', text(usda));
    close(size(model), [0.04, 0, 0.03]);
    expect(measure(model).area).toBeCloseTo(12e-4, 9);
  });

  it('USDZ, with its finish', async () => {
    const scene = new Scene();
    scene.add(new ThreeMesh(new BoxGeometry(2, 1, 3), new MeshStandardMaterial({ color: 0x884422, roughness: 0.3, metalness: 0.5 })));
    scene.updateMatrixWorld();
    const model = await read('b.usdz', new Uint8Array(await new USDZExporter().parseAsync(scene)));
    close(size(model), [2, 1, 3], 5);
    expect(measure(model).volume).toBeCloseTo(6, 4);
    expect(model.materials[0]).toMatchObject({ metalness: 0.5, roughness: 0.3 });
  });
});

describe('glTF with its files beside it', () => {
  const parts = async () => {
    const { json, resources } = await (await makeIO()).writeJSON(await (await makeIO()).readBinary(new Uint8Array(await ternGlb())));
    return { json, files: Object.entries(resources).map(([name, bytes]) => ({ name, bytes })) };
  };
  const asText = (json: unknown) => ({ name: 'tern.gltf', bytes: text(JSON.stringify(json)) });

  it('is the same model as the GLB', async () => {
    const { json, files } = await parts();
    expect(json.buffers![0]!.uri).toMatch(/\.bin$/);
    const one = await readModel([asText(json), ...files], MM_Z);
    const other = await read('tern.glb', new Uint8Array(await ternGlb()));
    expect(await writeGlb(one)).toEqual(await writeGlb(other));
  });

  it.each(['http://example.invalid/a.bin', '../../etc/passwd', 'file:///etc/passwd', '%00%ff', 'a'.repeat(5000)])(
    'follows no address: %.40s',
    async (uri) => {
      const { json, files } = await parts();
      const bad = { ...json, buffers: [{ ...json.buffers![0]!, uri }] };
      await expect(readModel([asText(bad), ...files], MM_Z)).rejects.toThrow(/"tern.gltf" needs the file ".*which was not given/s);
    },
  );

  it('says what is short or wrong', async () => {
    const { json, files } = await parts();
    const short = files.map((f) => ({ ...f, bytes: f.bytes.subarray(0, 100) }));
    await expect(readModel([asText(json), ...short], MM_Z)).rejects.toThrow(/cut short: "tern.gltf" needs \d+ bytes of it, and it has 100/);
    await expect(readModel([asText({ asset: { version: '1.0' } })], MM_Z)).rejects.toThrow('is glTF 1.0; only version 2');
    await expect(readModel([asText({ asset: { version: '2.0' }, buffers: [{ byteLength: 9 }] })], MM_Z)).rejects.toThrow('lacks a buffer');
    await expect(readModel([{ name: 'a.gltf', bytes: text('{"asset"') }], MM_Z)).rejects.toThrow('is not JSON');
    await expect(readModel([{ name: 'a.gltf', bytes: text(`{"asset":${'['.repeat(200_000)}`) }], MM_Z)).rejects.toThrow(/a\.gltf/);
  });
});

describe('files at fault', () => {
  it('that are cut short are refused, each with its name and a remedy', async () => {
    const stl = new Uint8Array((new STLExporter().parse(new ThreeMesh(new BoxGeometry(1, 1, 1)), { binary: true }) as unknown as DataView).buffer);
    const whole: [string, Uint8Array][] = [
      ['b.stl', stl],
      ['b.3mf', box3mf('millimeter', 1)],
      ['s.dae', text(DAE('meter="1"', 'Y_UP'))],
      ['house.ifc', text(houseIfc('IFC4'))],
      ['cube.stp', new Uint8Array(readFileSync('node_modules/occt-import-js/test/testfiles/simple-basic-cube/cube.stp'))],
    ];
    for (const [name, bytes] of whole) {
      expect(triangleCount(await read(name, bytes)), name).toBeGreaterThanOrEqual(2);
      for (const share of [0.9, 0.5, 0.1]) {
        const cut = bytes.subarray(0, Math.floor(bytes.length * share));
        const fault = await read(name, cut).then(
          () => null,
          (e: unknown) => e as Error,
        );
        expect(fault, `${name} at ${share}`).toBeInstanceOf(ModelError);
        expect(fault!.message).toContain(name);
        expect(fault!.message).toMatch(/[Ee]xport|choose/);
      }
      await expect(read(name, new Uint8Array(0))).rejects.toThrow('is empty');
    }
  }, 60_000);

  it('that are something else are called by what they are', async () => {
    const png = Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, ...new Array<number>(200).fill(0)]);
    for (const name of ['a.ply', 'a.3mf', 'a.dae', 'a.usdz', 'a.stp', 'a.igs', 'a.brep', 'a.ifc'])
      await expect(read(name, png)).rejects.toThrow(/a PNG image, not/);
  });
});
