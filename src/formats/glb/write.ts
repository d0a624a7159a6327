/**
 * Writes a model as one GLB: the canonical form in which meshes are kept and given away. Reading it
 * back gives the same numbers: positions as they are, parts with their places.
 */
import { Document, type Node, type Scene } from '@gltf-transform/core';
import { KHRLightsPunctual } from '@gltf-transform/extensions';
import type { Mesh, Model } from '../../core/model/model.js';
import { encodeTexture } from '../image/texture.js';
import { writeMaterial } from './material.js';
import { makeIO } from './io.js';

/** Near and far plane that cameras state, metres: our own pictures know neither. */
export const NEAR = 0.01;
/** Metres to the far plane of cameras. */
export const FAR = 10_000;

const WRAPS = { repeat: 10497, clamp: 33071, mirror: 33648 } as const;

/** Lengths of normals that the specification lets pass. */
const UNIT = 5e-4;

/** Normals of length 1: others are made so, and those of no length are taken from the triangles that meet there. */
function unitNormals({ positions: p, normals, indices }: Mesh): Float32Array<ArrayBuffer> {
  const out = Float32Array.from(normals!);
  const lost: number[] = [];
  for (let i = 0; i < out.length; i += 3) {
    const length = Math.hypot(out[i]!, out[i + 1]!, out[i + 2]!);
    if (Math.abs(length - 1) <= UNIT) continue;
    if (length > 1e-6 && Number.isFinite(length)) for (let k = 0; k < 3; k++) out[i + k]! /= length;
    else lost.push(i / 3);
  }
  if (lost.length === 0) return out;
  const sums = new Map(lost.map((v) => [v, [0, 0, 0]]));
  for (let t = 0; t < indices.length; t += 3) {
    const v = [indices[t]!, indices[t + 1]!, indices[t + 2]!] as const;
    if (!v.some((i) => sums.has(i))) continue;
    const side = (to: number): number[] => [0, 1, 2].map((k) => p[to * 3 + k]! - p[v[0] * 3 + k]!);
    const [a, b] = [side(v[1]), side(v[2])];
    const across = [a[1]! * b[2]! - a[2]! * b[1]!, a[2]! * b[0]! - a[0]! * b[2]!, a[0]! * b[1]! - a[1]! * b[0]!];
    for (const i of v) sums.get(i)?.forEach((_, k, sum) => (sum[k]! += across[k]!));
  }
  for (const [v, sum] of sums) {
    const length = Math.hypot(...sum);
    out.set(length > 0 ? sum.map((c) => c / length) : [0, 1, 0], v * 3);
  }
  return out;
}

/** A model as a glTF document. */
export interface GlbDocument {
  document: Document;
  scene: Scene;
  /** Node of each part, in the order of the parts. */
  nodes: Node[];
}

/** The model as a glTF document, in metres, +Y up. */
export async function toDocument(model: Model): Promise<GlbDocument> {
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene(model.name);
  document.getRoot().setDefaultScene(scene);
  const textures = await Promise.all(
    model.textures.map(async (t) =>
      document
        .createTexture(t.name)
        .setMimeType('image/png')
        .setImage(await encodeTexture(t)),
    ),
  );
  const materials = model.materials.map((material) =>
    writeMaterial(
      document,
      material,
      (i) => textures[i]!,
      (info, i) => info.setWrapS(WRAPS[model.textures[i]!.wrapU]).setWrapT(WRAPS[model.textures[i]!.wrapV]),
    ),
  );
  const accessors = model.meshes.map((mesh) => {
    const accessor = (type: 'VEC3' | 'VEC2' | 'SCALAR', array: Float32Array<ArrayBuffer> | Uint32Array<ArrayBuffer>) =>
      document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
    return {
      position: accessor('VEC3', Float32Array.from(mesh.positions)),
      indices: accessor('SCALAR', Uint32Array.from(mesh.indices)),
      normal: mesh.normals && accessor('VEC3', unitNormals(mesh)),
      uv: mesh.uvs && accessor('VEC2', Float32Array.from(mesh.uvs)),
      secondUv: mesh.secondUvs && accessor('VEC2', Float32Array.from(mesh.secondUvs)),
      colour: mesh.colours && accessor('VEC3', Float32Array.from(mesh.colours)),
    };
  });
  // Parts that have the same meshes share one glTF mesh.
  const shared = new Map<string, ReturnType<Document['createMesh']>>();
  const ofLines = new Set(model.curves.map((c) => c.part));
  const nodes = model.parts.map((part, i) =>
    document.createNode(part.name).setExtras({
      // So that a viewer finds the part that a node is.
      path: part.path,
      // Lines are out of the picture unless it is said that they are in it.
      ...((!part.renderVisible || ofLines.has(i)) && { renderVisible: part.renderVisible }),
      ...(part.isContext && { isContext: true }),
      ...(!part.visible.camera && { camera: false }),
      ...(!part.visible.shadow && { shadow: false }),
      ...(!part.visible.reflection && { reflection: false }),
    }),
  );
  model.parts.forEach((part, i) => {
    const node = nodes[i]!;
    const parent = part.parent >= 0 ? model.parts[part.parent]! : null;
    if (parent) nodes[part.parent]!.addChild(node);
    else scene.addChild(node);
    const { translation, rotation, scale } = part.place;
    node.setTranslation(translation).setRotation(rotation).setScale(scale);
    if (part.primitives.length === 0) return;
    const key = JSON.stringify(part.primitives);
    let mesh = shared.get(key);
    if (!mesh) {
      mesh = document.createMesh(part.name);
      for (const p of part.primitives) {
        const a = accessors[p.mesh]!;
        const primitive = document.createPrimitive().setAttribute('POSITION', a.position).setIndices(a.indices).setMaterial(materials[p.material]!);
        if (a.normal) primitive.setAttribute('NORMAL', a.normal);
        if (a.uv) primitive.setAttribute('TEXCOORD_0', a.uv);
        if (a.secondUv) primitive.setAttribute('TEXCOORD_1', a.secondUv);
        if (a.colour) primitive.setAttribute('COLOR_0', a.colour);
        mesh.addPrimitive(primitive);
      }
      shared.set(key, mesh);
    }
    node.setMesh(mesh);
  });
  // Parts that repeat share their lines as they share their meshes.
  const drawn = new Map<number[], ReturnType<Document['createMesh']>>();
  for (const { part, points } of model.curves) {
    let mesh = drawn.get(points);
    if (!mesh) {
      const position = document.createAccessor().setType('VEC3').setArray(Float32Array.from(points)).setBuffer(buffer);
      mesh = document.createMesh(model.parts[part]!.name).addPrimitive(document.createPrimitive().setMode(1).setAttribute('POSITION', position));
      drawn.set(points, mesh);
    }
    nodes[part]!.setMesh(mesh);
  }
  for (const lamp of model.lights) {
    const strongest = Math.max(...lamp.intensity, 1e-9);
    const light = document
      .createExtension(KHRLightsPunctual)
      .createLight(model.parts[lamp.part]!.name)
      .setType(lamp.kind)
      .setColor(lamp.intensity.map((c) => c / strongest) as [number, number, number])
      .setIntensity(strongest);
    if (lamp.kind === 'spot') light.setInnerConeAngle(lamp.inner).setOuterConeAngle(lamp.outer);
    nodes[lamp.part]!.setExtension('KHR_lights_punctual', light);
  }
  for (const { part, name, lens } of model.cameras) {
    const camera = document.createCamera(name);
    if (lens.kind === 'parallel') camera.setType('orthographic').setXMag(lens.xmag).setYMag(lens.ymag).setZNear(NEAR).setZFar(FAR);
    else camera.setType('perspective').setYFov(lens.yfov).setAspectRatio(lens.aspect).setZNear(NEAR).setZFar(FAR);
    nodes[part]!.setCamera(camera);
  }
  return { document, scene, nodes };
}

/** The document as a GLB. */
export async function documentBytes(document: Document): Promise<Uint8Array> {
  return (await makeIO()).writeBinary(document);
}

/** The model as bytes of a GLB. */
export async function writeGlb(model: Model): Promise<Uint8Array> {
  return documentBytes((await toDocument(model)).document);
}
