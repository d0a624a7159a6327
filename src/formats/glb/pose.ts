/**
 * Meshes that change their form, as they are in the pose of the file: morph targets by their weights, then skins by their joints
 * (glTF 2.0, 3.7.2.2 and 3.7.3). A posed mesh belongs to its node alone; others that use the same keep it as it is.
 */
import type { Accessor, Document, Node, Primitive, Skin } from '@gltf-transform/core';
import { mat3, mat4, vec3, vec4 } from 'gl-matrix';
import { numbersOf } from './primitives.js';

/** Weights of a node's morph targets: its own, else its mesh's. */
function weightsOf(node: Node): number[] {
  const own = node.getWeights();
  return own.length > 0 ? own : (node.getMesh()?.getWeights() ?? []);
}

/** Adds what the targets move of an attribute, in place. */
function morph(values: Float32Array, primitive: Primitive, semantic: string, weights: readonly number[]): void {
  primitive.listTargets().forEach((target, k) => {
    const weight = weights[k] ?? 0;
    const accessor = target.getAttribute(semantic);
    if (weight === 0 || !accessor) return;
    const moves = numbersOf(accessor);
    for (let i = 0; i < Math.min(values.length, moves.length); i++) values[i]! += weight * moves[i]!;
  });
}

/** Where each joint takes the mesh's points, in the node's own space. Null where the node has no way back into it. */
function jointMatrices(node: Node, skin: Skin): mat4[] | null {
  const back = mat4.invert(mat4.create(), node.getWorldMatrix());
  if (!back) return null;
  const bind = skin.getInverseBindMatrices();
  return skin.listJoints().map((joint, i) => {
    const matrix = mat4.multiply(mat4.create(), back, joint.getWorldMatrix());
    return bind && i < bind.getCount() ? mat4.multiply(matrix, matrix, bind.getElement(i, []) as mat4) : matrix;
  });
}

/** Pairs of joints and weights, four a vertex each. */
function influencesOf(primitive: Primitive): { joints: Float32Array; weights: Float32Array }[] {
  return [0, 1, 2, 3].flatMap((set) => {
    const [joints, weights] = [primitive.getAttribute(`JOINTS_${set}`), primitive.getAttribute(`WEIGHTS_${set}`)];
    return joints && weights ? [{ joints: numbersOf(joints), weights: numbersOf(weights) }] : [];
  });
}

/** The blend of the joints' matrices at a vertex, by weights that are made to add up to 1; false where none has any. */
function blend(out: mat4, vertex: number, influences: ReturnType<typeof influencesOf>, matrices: readonly mat4[]): boolean {
  mat4.set(out, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0);
  let sum = 0;
  for (const { joints, weights } of influences) {
    for (let k = vertex * 4; k < vertex * 4 + 4; k++) {
      const matrix = matrices[joints[k]!];
      const weight = weights[k]!;
      if (!matrix || !(weight > 0)) continue;
      sum += weight;
      for (let c = 0; c < 16; c++) out[c]! += weight * matrix[c]!;
    }
  }
  if (sum > 0) for (let c = 0; c < 16; c++) out[c]! /= sum;
  return sum > 0;
}

/** Moves points and normals with their joints, in place. */
function bend(positions: Float32Array, normals: Float32Array | null, primitive: Primitive, matrices: readonly mat4[]): void {
  const influences = influencesOf(primitive);
  if (influences.length === 0) return;
  const matrix = mat4.create();
  const turn = mat3.create();
  for (let v = 0; v < positions.length / 3; v++) {
    if (!blend(matrix, v, influences, matrices)) continue;
    const point = vec4.transformMat4(vec4.create(), [positions[v * 3]!, positions[v * 3 + 1]!, positions[v * 3 + 2]!, 1], matrix);
    for (let c = 0; c < 3; c++) positions[v * 3 + c] = point[c]!;
    if (!normals || !mat3.normalFromMat4(turn, matrix)) continue;
    const normal = vec3.transformMat3(vec3.create(), [normals[v * 3]!, normals[v * 3 + 1]!, normals[v * 3 + 2]!], turn);
    normals.set(vec3.normalize(normal, normal) as Float32Array, v * 3);
  }
}

/** The primitive in its node's pose, without what made it. */
function posed(document: Document, primitive: Primitive, weights: readonly number[], matrices: readonly mat4[] | null): Primitive {
  const position = primitive.getAttribute('POSITION');
  if (!position) return primitive;
  const positions = numbersOf(position);
  const normal = primitive.getAttribute('NORMAL');
  const normals = normal && numbersOf(normal);
  morph(positions, primitive, 'POSITION', weights);
  if (normals) morph(normals, primitive, 'NORMAL', weights);
  if (matrices) bend(positions, normals, primitive, matrices);
  const out = primitive.clone();
  for (const target of out.listTargets()) out.removeTarget(target);
  const accessor = (array: Float32Array): Accessor => document.createAccessor().setType('VEC3').setArray(array);
  out.setAttribute('POSITION', accessor(positions));
  if (normals) out.setAttribute('NORMAL', accessor(normals));
  return out;
}

/** Puts every mesh that changes its form into the pose of the file's nodes. Gives a line for each that could not be. */
export function poseDocument(document: Document): string[] {
  const warnings: string[] = [];
  for (const node of document.getRoot().listNodes()) {
    const mesh = node.getMesh();
    const skin = node.getSkin();
    const weights = weightsOf(node);
    if (!mesh || (!skin && !weights.some((w) => w !== 0))) continue;
    const matrices = skin && jointMatrices(node, skin);
    if (skin && !matrices) warnings.push(`"${node.getName() || mesh.getName()}" has a skeleton and no size; its rest form is rendered.`);
    const own = mesh.clone();
    for (const primitive of mesh.listPrimitives()) {
      own.removePrimitive(primitive);
      own.addPrimitive(posed(document, primitive, weights, matrices));
    }
    node.setMesh(own).setSkin(null);
  }
  return warnings;
}
