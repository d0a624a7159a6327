/** Files that are damaged in every way that is cheap to think of: a clear error or a correct read, never another fault. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { gzipSync, strToU8, zipSync } from 'fflate';
import { BoxGeometry, Mesh as ThreeMesh, MeshStandardMaterial, Scene } from 'three';
import { PLYExporter } from 'three/examples/jsm/exporters/PLYExporter.js';
import { STLExporter } from 'three/examples/jsm/exporters/STLExporter.js';
import { USDZExporter } from 'three/examples/jsm/exporters/USDZExporter.js';
import type { RhinoModule } from 'rhino3dm';
import { describe, expect, it } from 'vitest';
import { importModel } from '../../src/engine/node/importModel.js';
import { ModelError } from '../../src/formats/format.js';
import { makeIO } from '../../src/formats/glb/io.js';
import { readModel } from '../../src/formats/formats.js';
import { fbxBinary, type FbxOptions, fbxText } from '../support/fbx.js';
import { las } from '../support/las.js';
import { houseIfc } from '../support/ifc.js';
import { ternGlb } from '../support/box.js';

const text = (t: string): Uint8Array => new TextEncoder().encode(t);
globalThis.requestAnimationFrame ??= (() => 0) as typeof requestAnimationFrame;
const box = new ThreeMesh(new BoxGeometry(1, 1, 1, 12, 12, 12));
const stl = (binary: boolean): Uint8Array => {
  const out = new STLExporter().parse(box, { binary } as never) as unknown as string | DataView;
  return typeof out === 'string' ? text(out) : new Uint8Array(out.buffer);
};
const ply = (binary: boolean): Uint8Array => {
  const out = new PLYExporter().parse(box, () => {}, { binary } as never) as unknown as string | ArrayBuffer;
  return typeof out === 'string' ? text(out) : new Uint8Array(out);
};
const obj = text(
  `o sheet\n${Array.from({ length: 400 }, (_, i) => `v ${i % 20} ${Math.floor(i / 20)} 0`).join('\n')}\n${Array.from({ length: 380 }, (_, i) => (i % 20 === 19 ? '' : `f ${i + 1} ${i + 2} ${i + 21}`)).join('\n')}\n`,
);

/** A glTF that holds its buffer itself, as text. */
async function gltfText(): Promise<Uint8Array> {
  const io = await makeIO();
  const { json, resources } = await io.writeJSON(await io.readBinary(new Uint8Array(await ternGlb())));
  for (const buffer of json.buffers!) buffer.uri = `data:application/octet-stream;base64,${Buffer.from(resources[buffer.uri!]!).toString('base64')}`;
  return text(JSON.stringify(json));
}

/** A generator that always runs the same: Park and Miller, "Random number generators: good ones are hard to find", 1988. */
function dice(seed: number): () => number {
  let s = seed;
  return () => (s = (s * 48271) % 2147483647) / 2147483647;
}

/** What is in the archives. */
const INSIDE = 'sheet.obj';

/** Reads; tells what came of it. Any fault but a ModelError that names the file ends the test. */
async function outcome(name: string, bytes: Uint8Array): Promise<'read' | 'refused'> {
  try {
    const model = await readModel([{ name, bytes }], { unit: 'mm', up: 'z' });
    for (const mesh of model.meshes)
      for (const i of mesh.indices) if (i * 3 + 2 >= mesh.positions.length) throw new Error(`${name}: an index that points nowhere was let through`);
    return 'read';
  } catch (e) {
    if (!(e instanceof ModelError)) throw e;
    expect(
      [name, INSIDE].some((told) => e.message.includes(told)),
      e.message,
    ).toBe(true);
    return 'refused';
  }
}

const USDA = `#usda 1.0
(
    metersPerUnit = 0.01
    upAxis = "Z"
)

def Xform "Root"
{
    def Mesh "Sheet"
    {
        int[] faceVertexCounts = [4]
        int[] faceVertexIndices = [0, 1, 2, 3]
        point3f[] points = [(0, 0, 0), (4, 0, 0), (4, 3, 0), (0, 3, 0)]
    }
}
`;

async function plate3dm(): Promise<Uint8Array> {
  const rhino = await (createRequire(import.meta.url)('rhino3dm') as unknown as () => Promise<RhinoModule>)();
  const doc = new rhino.File3dm();
  const mesh = new rhino.Mesh();
  for (const [x, y] of [
    [0, 0],
    [1, 0],
    [1, 1],
  ])
    mesh.vertices().add(x!, y!, 0);
  mesh.faces().addTriFace(0, 1, 2);
  doc.objects().addMesh(mesh, new rhino.ObjectAttributes());
  return doc.toByteArray();
}

async function usdz(): Promise<Uint8Array> {
  const scene = new Scene();
  scene.add(new ThreeMesh(new BoxGeometry(2, 1, 3), new MeshStandardMaterial()));
  scene.updateMatrixWorld();
  return new Uint8Array(await new USDZExporter().parseAsync(scene));
}

const VRML = `#VRML V2.0 utf8
DEF Shelf Transform { translation 1 2 3 children [
  Shape { appearance Appearance { material Material { diffuseColor 0.8 0.1 0.1 } } geometry Box { size 4 3 2 } }
  Shape { geometry IndexedFaceSet { coord Coordinate { point [ 0 0 0, 1 0 0, 1 1 0, 0 1 0 ] } coordIndex [ 0 1 2 3 -1 ] } }
] }
`;
const OFF = 'OFF\n4 2 0\n0 0 0\n1 0 0\n1 1 0\n0 1 0\n3 0 1 2\n3 0 2 3\n';
const FBX: FbxOptions = { size: [20, 30, 50], unit: 1, upAxis: 1 };

const cases: [string, () => Promise<Uint8Array> | Uint8Array, number][] = [
  ['a.glb', async () => new Uint8Array(await ternGlb()), 24_000],
  ['a.gltf', gltfText, 40_000],
  ['a.obj', () => obj, 1000],
  ['a.stl', () => stl(true), 2000],
  ['b.stl', () => stl(false), 8000],
  ['a.ply', () => ply(true), 1000],
  ['b.ply', () => ply(false), 2000],
  ['a.ifc', () => text(houseIfc('IFC4')), 1000],
  ['a.stp', () => new Uint8Array(readFileSync('node_modules/occt-import-js/test/testfiles/simple-basic-cube/cube.stp')), 1000],
  ['a.igs', () => new Uint8Array(readFileSync('node_modules/occt-import-js/test/testfiles/cube-10x10mm/Cube 10x10.igs')), 1000],
  ['a.brep', () => new Uint8Array(readFileSync('node_modules/occt-import-js/test/testfiles/cax-if-brep/as1_pe_203.brep')), 2000],
  ['a.dae', () => new Uint8Array(readFileSync('/usr/share/assimp/models/Collada/cube_triangulate.dae')), 1000],
  ['a.3mf', () => new Uint8Array(readFileSync('/usr/share/assimp/models/3MF/box.3mf')), 200],
  ['a.usda', () => text(USDA), 100],
  ['a.usdz', usdz, 400],
  ['a.fbx', () => fbxText(FBX), 200],
  ['b.fbx', () => fbxBinary(FBX), 200],
  ['a.wrl', () => text(VRML), 20],
  ['a.off', () => text(OFF), 7],
  ['a.las', () => las(Array.from({ length: 25 }, (_, i) => ({ at: [i % 5, Math.floor(i / 5), 0] }))), 25],
  ['a.laz', () => las([{ at: [1, 2, 3] }], { compressed: true }), 20],
  ['a.dxf', () => new Uint8Array(readFileSync('/usr/share/assimp/models/DXF/PinkEggFromLW.dxf')), 2000],
  ['a.3dm', plate3dm, 400],
  ['a.zip', () => zipSync({ [`a/${INSIDE}`]: obj }), 100],
  ['a.obj.gz', () => gzipSync(obj), 100],
];

/** Of formats whose library may read on for ever: each goes through a thread of its own, which is ended. */
const HANGS = ['a.brep'];

/** Bytes at the end that hold nothing: readers do without them. */
const PADDING: Record<string, number> = { 'b.fbx': 13 + 176, 'a.off': 1 };

/** Formats of lines without a count or an end: what stands before a cut is a whole file. */
const OPEN_ENDED = ['a.obj'];

describe('damaged files', () => {
  it.each(cases)(
    '%s, cut short all along',
    async (name, make, step) => {
      const bytes = await make();
      expect(await outcome(name, bytes)).toBe('read');
      const read: number[] = [];
      let cuts = 0;
      for (let at = step; at < bytes.length - (PADDING[name] ?? 0); at += step, cuts++)
        if ((await outcome(name, bytes.subarray(0, at))) === 'read') read.push(at);
      // Text formats without an end can be whole up to a cut; what has a count or an end cannot.
      if (OPEN_ENDED.includes(name)) expect(read.length).toBeLessThan(cuts);
      else expect(read).toEqual([]);
    },
    120_000,
  );

  it.each(cases.filter(([name]) => !HANGS.includes(name)))(
    '%s, with bytes flipped',
    async (name, make) => {
      const whole = await make();
      const roll = dice(20261125);
      for (let run = 0; run < 12; run++) {
        const bytes = whole.slice();
        for (let k = 0; k < 1 + run; k++) bytes[Math.floor(roll() * bytes.length)]! ^= 1 << Math.floor(roll() * 8);
        await outcome(name, bytes);
      }
    },
    120_000,
  );

  it.each(cases.filter(([name]) => HANGS.includes(name)))(
    '%s, with bytes flipped, ends in time',
    async (name, make) => {
      const whole = await make();
      const roll = dice(20261125);
      const ends: string[] = [];
      for (let run = 0; run < 8; run++) {
        const bytes = whole.slice();
        for (let k = 0; k < 1 + run; k++) bytes[Math.floor(roll() * bytes.length)]! ^= 1 << Math.floor(roll() * 8);
        try {
          await importModel([{ name, bytes }], { unit: 'mm', up: 'z' }, { stallSeconds: 6 });
          ends.push('read');
        } catch (e) {
          expect(e).toBeInstanceOf(ModelError);
          expect((e as Error).message).toContain(name);
          ends.push((e as Error).message.includes('took longer') ? 'ended' : 'refused');
        }
      }
      // The sixth of them is one that the library never comes back from.
      expect(ends).toContain('ended');
      expect(ends).toContain('read');
      expect(ends).toContain('refused');
    },
    120_000,
  );

  it('absurd counts allocate nothing', async () => {
    const many = stl(true).slice(0, 200);
    new DataView(many.buffer).setUint32(80, 0xffffffff, true);
    expect(await outcome('many.stl', many)).toBe('refused');
    const head =
      'ply\nformat binary_little_endian 1.0\nelement vertex 4294967295\nproperty float x\nproperty float y\nproperty float z\nelement face 4294967295\nproperty list uchar int vertex_indices\nend_header\n';
    expect(await outcome('many.ply', text(`${head}0000000000`))).toBe('refused');
  });

  it('archives with paths that lead out, or with nothing in them, read nothing and write nothing', async () => {
    expect(await outcome('out.3mf', zipSync({ '../../../tmp/evil.model': strToU8('<model/>') }))).toBe('refused');
    expect(await outcome('none.3mf', zipSync({}))).toBe('refused');
    expect(await outcome('none.usdz', zipSync({ 'a.txt': strToU8('no') }))).toBe('refused');
    // Deep nesting.
    expect(await outcome('deep.dae', text(`<COLLADA>${'<a>'.repeat(20_000)}${'</a>'.repeat(20_000)}</COLLADA>`))).toBe('refused');
  }, 60_000);

  it('external addresses in a Collada file are not fetched', async () => {
    const fetched: unknown[] = [];
    const before = globalThis.fetch;
    globalThis.fetch = ((url: unknown) => {
      fetched.push(url);
      return Promise.reject(new Error('no network'));
    }) as typeof fetch;
    try {
      await outcome(
        'ext.dae',
        text(
          '<COLLADA xmlns="http://www.collada.org/2005/11/COLLADASchema" version="1.4.1"><asset/><library_images><image id="i"><init_from>http://198.51.100.7/a.png</init_from></image></library_images><scene/></COLLADA>',
        ),
      );
    } finally {
      globalThis.fetch = before;
    }
    expect(fetched).toEqual([]);
  });
});
