/**
 * A model's meshes and textures as one position-independent image: trees, shading data, texels.
 * Made once a revision and kept; what changes from frame to frame (instances, light, camera) is
 * laid out by scene.ts.
 */
import { BUILD_SCRATCH_FIXED, BUILD_SCRATCH_PER_PRIMITIVE, NODE_BYTES, BLOCK_BYTES } from '../../../kernel/layout.js';
import { type Bounds, boundsOfPoints } from '../../core/math/bounds.js';
import type { Curve, Material, Mesh, Model, ModelLight, Visibility } from '../../core/model/model.js';
import type { EnvironmentMap } from './environmentMap.js';
import { Arena, instantiate, makeMemory } from '../kernel.js';

/** Bumped whenever the image's form changes. */
export const SCENE_VERSION = 4;

/** Where a mesh lies in a compiled scene. */
export interface MeshEntry {
  tree: number;
  root: number;
  index: number;
  /** Vertices and triangles, for lines and for meshes that shine. */
  position: number;
  vertices: number;
  triangles: number;
  /** Offset, or -1 where absent. */
  normal: number;
  uv: number;
  secondUv: number;
  colour: number;
  bounds: Bounds;
}

/** Where a texture lies in a compiled scene. */
export interface TextureEntry {
  width: number;
  height: number;
  texels: number;
  wrapU: number;
  wrapV: number;
}

/** A part of a compiled scene. */
export interface PartEntry {
  path: string;
  world: number[];
  primitives: { mesh: number; material: number }[];
  renderVisible: boolean;
  visible: Visibility;
  isContext: boolean;
}

/** A model as the kernel reads it: meshes with their trees, and textures, in one block of memory. */
export interface CompiledScene {
  version: number;
  image: Uint8Array;
  meshes: MeshEntry[];
  textures: TextureEntry[];
  materials: Material[];
  parts: PartEntry[];
  lights: ModelLight[];
  curves: Curve[];
  /** Index of the texture that stands behind everything, where a frame has one; not part of what is kept. */
  backdrop?: number;
  /** The surround's picture, where a frame has one; not part of what is kept. */
  environment?: EnvironmentMap;
}

const WRAP = { repeat: 0, clamp: 1, mirror: 2 } as const;
/** Trees of ordinary models need about 56 bytes a triangle; this leaves twice that. */
const TREE_BYTES_PER_TRIANGLE = 112;
const SMALL_MESH = 500_000;

/** Times that triangles may be met in a further packet, beside their number. */
const SPLIT_SHARE = 0.4;

function treeBound(triangles: number, generous: boolean): number {
  const certain = triangles * (BLOCK_BYTES + NODE_BYTES) + NODE_BYTES;
  return triangles <= SMALL_MESH || generous ? certain : triangles * TREE_BYTES_PER_TRIANGLE;
}

interface Built {
  root: number;
  bytes: Uint8Array;
}

/** Builds one mesh's tree in a memory of its own, so that its scratch is gone afterwards. */
function buildTree(
  module: WebAssembly.Module,
  mesh: Mesh,
  memory: { memory: WebAssembly.Memory } | null,
  generous: boolean,
): Built & { memory: WebAssembly.Memory } {
  const triangles = mesh.indices.length / 3;
  const arena = new Arena(64);
  const positions = arena.take(mesh.positions.byteLength);
  const indices = arena.take(mesh.indices.byteLength);
  // Larger meshes are fine enough as they are, and their trees large.
  const extra = triangles <= SMALL_MESH ? Math.floor(triangles * SPLIT_SHARE) : 0;
  const scratch = arena.take(BUILD_SCRATCH_FIXED + (triangles + extra) * BUILD_SCRATCH_PER_PRIMITIVE + 64);
  const out = arena.take(treeBound(triangles + extra, generous));
  const held = memory && memory.memory.buffer.byteLength >= arena.at ? memory.memory : makeMemory(arena.at);
  new Float32Array(held.buffer, positions, mesh.positions.length).set(mesh.positions);
  new Uint32Array(held.buffer, indices, mesh.indices.length).set(mesh.indices);
  const kernel = instantiate(module, held);
  const root = kernel.buildMesh(positions, indices, triangles, extra, scratch, out);
  return { root, bytes: new Uint8Array(held.buffer, out, kernel.emittedBytes()).slice(), memory: held };
}

/**
 * Compiles a model. Meshes without triangles get an entry with an empty tree and are skipped when
 * the scene is laid out. `onProgress` is told the share done, 0..1.
 */
export function compile(module: WebAssembly.Module, model: Model, onProgress: (share: number) => void = () => {}): CompiledScene {
  const arena = new Arena(0);
  const pieces: { at: number; bytes: Uint8Array }[] = [];
  const put = (array: Float32Array | Uint32Array | Uint8Array): number => {
    const at = arena.take(array.byteLength);
    pieces.push({ at, bytes: new Uint8Array(array.buffer, array.byteOffset, array.byteLength) });
    return at;
  };
  const total = model.meshes.reduce((n, m) => n + m.indices.length, 0) || 1;
  let done = 0;
  let memory: { memory: WebAssembly.Memory } | null = null;
  const meshes = model.meshes.map((mesh): MeshEntry => {
    const bounds = boundsOfPoints(mesh.positions);
    if (mesh.indices.length === 0)
      return { tree: 0, root: 0, index: 0, position: 0, vertices: 0, triangles: 0, normal: -1, uv: -1, secondUv: -1, colour: -1, bounds };
    let built: Built & { memory: WebAssembly.Memory };
    try {
      built = buildTree(module, mesh, memory, false);
    } catch (e) {
      // A tree of many nearly empty packets outgrew the usual room: the kernel met the memory's end.
      if (!(e instanceof WebAssembly.RuntimeError)) throw e;
      built = buildTree(module, mesh, null, true);
    }
    memory = { memory: built.memory };
    done += mesh.indices.length;
    onProgress(done / total);
    return {
      tree: put(built.bytes),
      root: built.root,
      index: put(mesh.indices),
      position: put(mesh.positions),
      vertices: mesh.positions.length / 3,
      triangles: mesh.indices.length / 3,
      normal: mesh.normals ? put(mesh.normals) : -1,
      uv: mesh.uvs ? put(mesh.uvs) : -1,
      secondUv: mesh.secondUvs ? put(mesh.secondUvs) : -1,
      colour: mesh.colours ? put(mesh.colours) : -1,
      bounds,
    };
  });
  const textures = model.textures.map((t): TextureEntry => ({
    width: t.width,
    height: t.height,
    texels: put(t.pixels),
    wrapU: WRAP[t.wrapU],
    wrapV: WRAP[t.wrapV],
  }));
  const image = new Uint8Array(arena.take(0));
  for (const piece of pieces) image.set(piece.bytes, piece.at);
  const parts = model.parts.map((p) => ({
    path: p.path,
    world: Array.from(p.world),
    primitives: p.primitives,
    renderVisible: p.renderVisible,
    visible: p.visible,
    isContext: p.isContext,
  }));
  return { version: SCENE_VERSION, image, meshes, textures, materials: model.materials, parts, lights: model.lights, curves: model.curves };
}

/** A compiled scene as bytes: length of the directory, the directory as JSON, the image. */
export function encodeScene(scene: CompiledScene): Uint8Array {
  const { image, environment: _, backdrop: __, ...directory } = scene;
  const json = new TextEncoder().encode(JSON.stringify(directory));
  const out = new Uint8Array(8 + json.length + image.length);
  new DataView(out.buffer).setUint32(0, SCENE_VERSION, true);
  new DataView(out.buffer).setUint32(4, json.length, true);
  out.set(json, 8);
  out.set(image, 8 + json.length);
  return out;
}

/** Reads what encodeScene wrote, or null where it is of another version or cut short. */
export function decodeScene(bytes: Uint8Array): CompiledScene | null {
  if (bytes.length < 8) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const length = view.getUint32(4, true);
  if (view.getUint32(0, true) !== SCENE_VERSION || bytes.length < 8 + length) return null;
  const directory = JSON.parse(new TextDecoder().decode(bytes.subarray(8, 8 + length))) as Omit<CompiledScene, 'image'>;
  return { ...directory, image: bytes.subarray(8 + length) };
}
