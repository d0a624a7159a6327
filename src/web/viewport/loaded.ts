/** A revision's GLB as the viewport holds it. */
import { Box3, Group, type Line, LineBasicMaterial, type Material, type Mesh, MeshBasicMaterial, MeshPhysicalMaterial, type Object3D } from 'three';
import { MergedMeshes, MANY_MESHES } from './mergedMeshes.js';
import { countGroups, noteHome } from './applyMaterials.js';
import { isContextNode, isRenderVisible } from '../../core/model/nodeExtras.js';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';

/** Cobalt: what is planned and informative. */
const OVERLAY_ORDER = 0x2c5aa0;

/** Ink, as lines are drawn by default. */
const LINES = new LineBasicMaterial({ color: 0x1b1d21 });

/** A model ready to be drawn. */
export interface Loaded {
  subject: Group;
  isContext: Group;
  /** Of a model of very many parts: what is drawn in their place. */
  batches?: MergedMeshes;
}

/** Loads a revision's GLB once; helpers stay hidden, surroundings stand apart from the subject. */
export async function loadModel(url: string): Promise<Loaded> {
  return prepareModel((await new GLTFLoader().loadAsync(url)).scene);
}

/** The scene of a revision's GLB, taken apart into the subject and its context, each with materials of its own. */
export function prepareModel(scene: Object3D): Loaded {
  const subject = new Group();
  const surroundings = new Group();
  for (const child of [...scene.children]) (isContextNode(child.userData) ? surroundings : subject).add(child);
  const prepare = (group: Group): void => {
    // Each group its own: what is cut shares no material with what is not.
    const own = new Map<Material, Material>();
    const ownOf = (m: Material): Material => {
      if (!own.has(m)) own.set(m, Object.assign(m.clone(), { userData: { side: m.side } }));
      return own.get(m)!;
    };
    group.traverse((object: Object3D) => {
      countGroups(object);
      if ((object as Line).isLine) {
        const line = object as Line;
        line.material = LINES;
        // Clicks go to surfaces: a ray meets a line nowhere.
        line.raycast = () => undefined;
        return;
      }
      const mesh = object as Mesh;
      object.castShadow = true;
      object.receiveShadow = true;
      if (!mesh.isMesh) return;
      mesh.material = Array.isArray(mesh.material) ? mesh.material.map(ownOf) : ownOf(mesh.material);
      if (mesh.material instanceof MeshPhysicalMaterial && (mesh.material.transmission > 0 || mesh.material.transparent)) {
        // The engine bends light; here a tint has to do.
        mesh.castShadow = false;
        if (mesh.material.transmission > 0) Object.assign(mesh.material, { transmission: 0, transparent: true, opacity: 0.28 });
      }
    });
  };
  prepare(subject);
  prepare(surroundings);
  for (const group of [subject, surroundings]) {
    group.updateMatrixWorld(true);
    group.traverse((object) => {
      if ((object as Mesh).isMesh) noteHome(object as Mesh, group === surroundings);
    });
  }
  let meshes = 0;
  subject.traverse((object) => {
    if ((object as Mesh).isMesh) meshes++;
  });
  if (meshes <= MANY_MESHES) return { subject, isContext: surroundings };
  const parts = new Group();
  for (const child of [...subject.children]) parts.add(child);
  subject.add(parts);
  subject.updateMatrixWorld(true);
  const batches = MergedMeshes.of(parts);
  if (!batches) return { subject, isContext: surroundings };
  subject.add(batches.group);
  return { subject, isContext: surroundings, batches };
}

/** Box of the subject as its file has it, whatever it was moved by. */
export function boundsOfObjects(subject: Group): Box3 {
  const box = new Box3();
  subject.updateWorldMatrix(true, true);
  subject.traverse((object) => {
    // Annotations may stand far off.
    if ((object as Mesh).isMesh && !object.userData.batch) box.expandByObject(object);
  });
  return box.applyMatrix4(subject.matrixWorld.clone().invert());
}

/** Another revision, drawn in one colour that lets what stands behind and within it be seen. */
export function ghostMaterial({ subject, batches }: Loaded): Group {
  const copy = (batches?.parts ?? subject).clone();
  copy.visible = true;
  copy.matrixAutoUpdate = true;
  copy.position.set(0, 0, 0);
  copy.quaternion.identity();
  copy.scale.set(1, 1, 1);
  const material = new MeshBasicMaterial({ color: OVERLAY_ORDER, transparent: true, opacity: 0.4, depthWrite: false });
  copy.traverse((object) => {
    const mesh = object as Mesh;
    if ((object as Line).isLine) object.visible = false;
    if (!mesh.isMesh) return;
    mesh.visible = isRenderVisible(mesh.userData);
    mesh.castShadow = false;
    mesh.material = material;
    // Clicks go to the revision that is worked on.
    mesh.raycast = () => undefined;
  });
  return copy;
}
