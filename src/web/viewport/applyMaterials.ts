/** Applies a set's material assignments to the viewport's model: what is shown, and in which material. */
import {
  Color,
  DoubleSide,
  FrontSide,
  type Line,
  type Material as ThreeMaterial,
  type Matrix4,
  type Mesh,
  MeshPhysicalMaterial,
  type Object3D,
} from 'three';
import { resolveMaterials, compileAssignments } from '../../core/materials/assignments.js';
import { toMaterial, type MaterialTexture, type TexturedMaterial } from '../../core/materials/customMaterial.js';
import { libraryMaterial } from '../../core/materials/library.js';
import type { Material } from '../../core/materials/material.js';
import { mapMesh, setTexture } from './textures.js';
import type { SetFile } from '../../core/plan/set.js';
import { isRenderVisible } from '../../core/model/nodeExtras.js';
import { isWithin } from '../../core/model/paths.js';

/** Path of the part that an object belongs to, or null. */
export function pathOf(object: Object3D | null): string | null {
  for (let at = object; at; at = parentOf(at)) if (typeof at.userData.path === 'string') return at.userData.path;
  return null;
}

/** Numbers the groups of a part's faces: several meshes that hang below the object that has the path. */
export function countGroups(part: Object3D): void {
  part.children.filter((c) => (c as Mesh).isMesh && typeof c.userData.path !== 'string').forEach((mesh, k) => (mesh.userData.group = k));
}

/** Which group of its part's faces a mesh is, from 0. */
export function groupOf(mesh: Object3D): number {
  return (mesh.userData.group as number | undefined) ?? 0;
}

/** As near to the engine's material as the quick viewport goes. */
export function materialOf(finish: Material): MeshPhysicalMaterial {
  const clear = finish.transmission > 0.5;
  const strength = Math.max(1, ...finish.emission);
  const material = new MeshPhysicalMaterial({
    color: new Color(...finish.base),
    metalness: finish.metalness,
    roughness: finish.roughness,
    clearcoat: finish.coat,
    clearcoatRoughness: finish.coatRoughness,
    ior: Math.min(2.333, finish.ior),
    emissive: new Color(...finish.emission.map((c) => c / strength)),
    emissiveIntensity: strength,
    side: clear || finish.translucency > 0 ? DoubleSide : FrontSide,
    ...(clear && { transparent: true, opacity: 0.28 }),
  });
  material.name = finish.name;
  material.userData.side = material.side;
  return material;
}

function picturesOf(material: TexturedMaterial | undefined): MaterialTexture[] {
  return material?.textureFiles ?? [];
}

interface AppliedMaterials {
  subject: Object3D;
  isContext: Object3D;
  /** Follow the parts' materials. */
  batches?: { sync(): void };
}

/** Shows, hides and dresses every mesh. `working` shows what is on the desk, `only` nothing but those parts. */
export function applyMaterials(
  { subject, isContext: surroundings, batches }: AppliedMaterials,
  choice: SetFile['materials'],
  working: boolean,
  only: ReadonlySet<string> | undefined,
  /** Told when something came later: a picture that was loaded. */
  changed: () => void,
): void {
  let swaps: { from: string; to: string }[] = [];
  try {
    swaps = (choice && compileAssignments(choice)?.swaps) ?? [];
  } catch {
    // A variant that is not there is said where pictures are planned.
  }
  const own = new Map((choice?.materials ?? []).map((f) => [f.name, toMaterial(f)]));
  const made = new Map<string, MeshPhysicalMaterial>();
  const meshes: Mesh[] = [];
  const lines: Object3D[] = [];
  for (const group of [subject, surroundings])
    group.traverse((object) => {
      if (object.userData.batch) return;
      if ((object as Mesh).isMesh) meshes.push(object as Mesh);
      else if ((object as Line).isLine) lines.push(object);
    });
  // What the file gave is kept, to go back to.
  const givenOf = (mesh: Mesh): ThreeMaterial => (mesh.userData.given ??= mesh.material) as ThreeMaterial;
  const resolved = resolveMaterials(
    meshes.map((mesh) => ({
      path: pathOf(mesh) ?? '',
      renderVisible: !isHidden(mesh),
      isContext: homes.get(mesh)?.isContext === true,
      materials: [givenOf(mesh).name],
      first: groupOf(mesh),
    })),
    { parts: choice?.parts ?? [], rules: choice?.rules ?? [], swaps },
  );
  const drawn = resolveMaterials(
    lines.map((line) => ({ path: pathOf(line) ?? '', renderVisible: !isHidden(line), materials: [] })),
    { parts: choice?.parts ?? [], rules: [], swaps: [] },
  );
  lines.forEach((line, i) => {
    const path = pathOf(line);
    line.visible = only ? path !== null && isWithin(path, only) : working ? drawn[i]!.viewportVisible : drawn[i]!.renderVisible;
  });
  meshes.forEach((mesh, i) => {
    const path = pathOf(mesh);
    const given = givenOf(mesh);
    const effective = resolved[i]!;
    mesh.visible = only ? path !== null && isWithin(path, only) : working ? effective.viewportVisible : effective.renderVisible;
    const name = effective.materials[0];
    let material = given;
    if (name) {
      const finish = own.get(name) ?? libraryMaterial(name);
      if (finish && !made.has(name)) {
        const own = Object.assign(materialOf(finish), { clippingPlanes: given.clippingPlanes, clipShadows: true });
        setTexture(own, picturesOf(finish), changed);
        made.set(name, own);
      }
      material = made.get(name) ?? given;
    }
    // Merged meshes stay where they are: models of very many parts are shown as one.
    if (!batches) moveTo(mesh, effective.isContext, effective.isContext ? surroundings : subject);
    mesh.userData.plain = material;
    mapMesh(mesh, name ? picturesOf(own.get(name)) : undefined);
    mesh.material = material;
  });
  batches?.sync();
}

/** Where a mesh hung in the file, and how it stood there and in its group: it may hang elsewhere now. */
export interface Home {
  parent: Object3D;
  isContext: boolean;
  /** Relative to the parent, and to the group of the subject or the context. */
  local: Matrix4;
  within: Matrix4;
}

/** By the mesh; not among its user data, which is copied as text where an object is cloned. */
const homes = new WeakMap<Object3D, Home>();

/** Notes where a mesh hangs. The groups stand at the origin then. */
export function noteHome(mesh: Mesh, isContext: boolean): void {
  mesh.updateWorldMatrix(true, false);
  mesh.updateMatrix();
  homes.set(mesh, { parent: mesh.parent!, isContext, local: mesh.matrix.clone(), within: mesh.matrixWorld.clone() });
}

/** What an object hangs below by the file. */
const parentOf = (object: Object3D): Object3D | null => homes.get(object)?.parent ?? object.parent;

/** Hangs a mesh into the group that turns with the subject, or into the one that stays. */
function moveTo(mesh: Mesh, isContext: boolean, group: Object3D): void {
  const home = homes.get(mesh);
  if (!home) return;
  const goal = home.isContext === isContext ? home.parent : group;
  if (mesh.parent === goal) return;
  goal.add(mesh);
  (goal === home.parent ? home.local : home.within).decompose(mesh.position, mesh.quaternion, mesh.scale);
}

/** Kept out of pictures by the file, itself or by what it hangs below. */
function isHidden(object: Object3D): boolean {
  for (let at: Object3D | null = object; at; at = parentOf(at)) if (typeof at.userData.path === 'string') return !isRenderVisible(at.userData);
  return false;
}
