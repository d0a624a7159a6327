/** A small model of every format that is read, to be damaged. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { gzipSync, zipSync } from 'fflate';
import type { RhinoModule } from 'rhino3dm';
import { BoxGeometry, Mesh as ThreeMesh, MeshStandardMaterial, Scene } from 'three';
import { PLYExporter } from 'three/examples/jsm/exporters/PLYExporter.js';
import { STLExporter } from 'three/examples/jsm/exporters/STLExporter.js';
import { USDZExporter } from 'three/examples/jsm/exporters/USDZExporter.js';
import { makeIO } from '../../src/formats/glb/io.js';
import { TOWN } from './town.js';
import { ternGlb } from './box.js';
import { fbxBinary, type FbxOptions, fbxText } from './fbx.js';
import { houseIfc } from './ifc.js';
import { las } from './las.js';

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
export function dice(seed: number): () => number {
  let s = seed;
  return () => (s = (s * 48271) % 2147483647) / 2147483647;
}

/** What is in the archives. */
export const INSIDE = 'sheet.obj';

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

/** Each by the name that tells its format, how it is made, and how many bytes apart it is cut short. */
export const MODEL_SAMPLES: readonly (readonly [string, () => Promise<Uint8Array> | Uint8Array, number])[] = [
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
  ['a.city.json', () => text(JSON.stringify(TOWN)), 100],
  ['a.zip', () => zipSync({ [`a/${INSIDE}`]: obj }), 100],
  ['a.obj.gz', () => gzipSync(obj), 100],
];
