/**
 * What is planned as a GLB that other programs open: the model with its materials and placed, a camera a
 * view, and every moving shot as an animation of its own. glTF has no lens shift and no panorama: a shift
 * stands in the camera's extras, and a panorama is left out.
 */
import { isMoving } from '../../core/shots/kinds.js';
import type { Document, Node, Scene } from '@gltf-transform/core';
import { mat4, quat, vec3 } from 'gl-matrix';
import { identity, matrixOf } from '../../core/math/matrix.js';
import { findMaterial } from '../../core/materials/assignments.js';
import { DEFAULT_MATERIAL, type Model } from '../../core/model/model.js';
import { plinthMesh } from '../../core/model/modelTransform.js';
import type { Frame } from '../../core/frame/frame.js';
import { writeMaterial } from './material.js';
import { documentBytes, FAR, NEAR, toDocument } from './write.js';

type Vec3 = [number, number, number];
type Vec4 = [number, number, number, number];

/** Names that people gave, by id. */
export interface PlanNames {
  view: (id: string) => string;
  shot: (id: string) => string;
}

/** Where the camera stands and how it is turned. */
function poseOf({ camera }: Frame): { translation: Vec3; rotation: Vec4 } {
  const world = mat4.invert(identity(), matrixOf(camera.viewMatrix))!;
  const rotation = mat4.getRotation([0, 0, 0, 1], world);
  return { translation: [world[12], world[13], world[14]], rotation: quat.normalize([0, 0, 0, 1], rotation) as Vec4 };
}

function addCamera(document: Document, scene: Scene, name: string, frame: Frame): Node {
  const { kind, projectionMatrix: p, focalLength, shift } = frame.camera;
  const camera = document.createCamera(name).setZNear(NEAR).setZFar(FAR);
  if (kind === 'parallel')
    camera
      .setType('orthographic')
      .setXMag(1 / p[0]!)
      .setYMag(1 / p[5]!);
  else
    camera
      .setType('perspective')
      .setYFov(2 * Math.atan(1 / p[5]!))
      .setAspectRatio(p[5]! / p[0]!)
      .setExtras({ focalLength, ...(shift !== 0 && { shift }) });
  const { translation, rotation } = poseOf(frame);
  const node = document.createNode(name).setTranslation(translation).setRotation(rotation).setCamera(camera);
  scene.addChild(node);
  return node;
}

/** One channel of an animation: values at the frames' times. */
function animate(document: Document, shot: string, node: Node, path: 'translation' | 'rotation', times: number[], values: number[][]): void {
  const buffer = document.getRoot().listBuffers()[0]!;
  const known = document
    .getRoot()
    .listAnimations()
    .find((a) => a.getName() === shot);
  const animation = known ?? document.createAnimation(shot);
  const input = document.createAccessor().setType('SCALAR').setArray(Float32Array.from(times)).setBuffer(buffer);
  const output = document
    .createAccessor()
    .setType(path === 'rotation' ? 'VEC4' : 'VEC3')
    .setArray(Float32Array.from(values.flat()))
    .setBuffer(buffer);
  const sampler = document.createAnimationSampler().setInput(input).setOutput(output).setInterpolation('LINEAR');
  const channel = document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler);
  animation.addSampler(sampler).addChannel(channel);
}

/** Rotations that follow each other the short way round. */
function shortest(list: Vec4[]): Vec4[] {
  const out: Vec4[] = [];
  for (const q of list) {
    const last = out.at(-1);
    out.push(last && quat.dot(last, q) < 0 ? (q.map((v) => -v) as Vec4) : q);
  }
  return out;
}

function addShot(document: Document, scene: Scene, subject: Node[], name: string, frames: Frame[]): Node[] {
  const times = frames.map((f) => f.time);
  const first = frames[0]!;
  if (first.camera.kind !== 'panorama') {
    const node = addCamera(document, scene, name, first);
    const poses = frames.map(poseOf);
    const moves = poses.some(
      (p) => vec3.distance(p.translation, poses[0]!.translation) > 1e-9 || Math.abs(quat.dot(p.rotation, poses[0]!.rotation)) < 1 - 1e-12,
    );
    if (moves) {
      animate(
        document,
        name,
        node,
        'translation',
        times,
        poses.map((p) => p.translation),
      );
      animate(document, name, node, 'rotation', times, shortest(poses.map((p) => p.rotation)));
    }
  }
  const { turn } = first;
  if (!turn?.what.includes('subject')) return subject;
  // About the pivot: moved there, turned, and moved back.
  const pivot = turn.pivot;
  const inner = document.createNode(`${name} subject`).setTranslation(pivot.map((c) => -c) as Vec3);
  const outer = document.createNode(`${name} pivot`).setTranslation(pivot).addChild(inner);
  for (const node of subject) {
    scene.removeChild(node);
    inner.addChild(node);
  }
  scene.addChild(outer);
  const rotations = frames.map(({ turn: t }) => quat.setAxisAngle([0, 0, 0, 1], turn.axis ?? [0, 1, 0], (t!.rotation * Math.PI) / 180) as Vec4);
  animate(document, name, outer, 'rotation', times, shortest(rotations));
  return [outer];
}

/** `model` has the assigned materials already; frames are those of the whole plan. */
export async function writePlanGlb(model: Model, frames: readonly Frame[], names: PlanNames): Promise<Uint8Array> {
  const place = frames[0]?.transform;
  const block = place?.plinth && plinthMesh(place.plinth);
  const { document, scene, nodes } = await toDocument(model);
  // What stands still hangs apart from what turns, wherever it hung in the model: then it stands in the world.
  const roots = model.parts.flatMap((p, i) => {
    const above = model.parts[p.parent];
    if (above && above.isContext === p.isContext) return [];
    const node = nodes[i]!;
    if (above) {
      nodes[p.parent]!.removeChild(node);
      node.setMatrix([...p.world] as unknown as Parameters<Node['setMatrix']>[0]);
    }
    return [{ node, isContext: p.isContext }];
  });
  const groups = [false, true].flatMap((surroundings) => {
    const own = roots.filter((r) => r.isContext === surroundings);
    if (own.length === 0) return [];
    const group = document.createNode(surroundings ? 'Surroundings' : 'Subject');
    if (place) group.setMatrix([...place.matrix] as unknown as Parameters<Node['setMatrix']>[0]);
    for (const { node } of own) {
      scene.removeChild(node);
      group.addChild(node);
    }
    scene.addChild(group);
    return [{ group, surroundings }];
  });
  if (block) {
    const buffer = document.getRoot().listBuffers()[0]!;
    const accessor = (array: Float32Array | Uint32Array, type: 'VEC3' | 'SCALAR') =>
      document
        .createAccessor()
        .setType(type)
        .setArray(array as Float32Array<ArrayBuffer>)
        .setBuffer(buffer);
    const primitive = document
      .createPrimitive()
      .setAttribute('POSITION', accessor(block.positions, 'VEC3'))
      .setAttribute('NORMAL', accessor(block.normals!, 'VEC3'))
      .setIndices(accessor(block.indices, 'SCALAR'))
      .setMaterial(
        writeMaterial(
          document,
          { ...(findMaterial(place.plinth!.material, frames[0]!.materials?.materials ?? [], model.materials) ?? DEFAULT_MATERIAL), textures: {} },
          () => document.createTexture(),
          () => undefined,
        ),
      );
    scene.addChild(document.createNode('Plinth').setMesh(document.createMesh('Plinth').addPrimitive(primitive)));
  }
  let subject = groups.filter((g) => !g.surroundings).map((g) => g.group);
  const seen = new Set<string>();
  for (const shot of new Set(frames.map((f) => f.shot))) {
    const own = frames.filter((f) => f.shot === shot);
    if (!isMoving(own[0]!.kind)) {
      for (const frame of own) {
        if (seen.has(frame.view) || frame.camera.kind === 'panorama') continue;
        seen.add(frame.view);
        addCamera(document, scene, names.view(frame.view), frame);
      }
    } else subject = addShot(document, scene, subject, names.shot(shot), own);
  }
  return documentBytes(document);
}
