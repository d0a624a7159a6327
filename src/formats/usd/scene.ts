/** What three's composer of USD leaves undone: what is hidden, what is instanced, and lines. */
import { BufferGeometry, Float32BufferAttribute, LineSegments, type Mesh, Object3D, Quaternion, Vector3 } from 'three';
import { ModelError } from '../format.js';
import type { Prim } from './layer.js';

/** Instances of one file, at most. */
const MAX_INSTANCES = 100_000;

/** A prim with its path. */
export interface Placed {
  path: string;
  prim: Prim;
}

/** All prims below a root, parents first. */
export function eachPrim(root: Prim, path = ''): Placed[] {
  return [...root.children].flatMap(([name, prim]) => {
    const at = `${path}/${name}`;
    return [{ path: at, prim }, ...eachPrim(prim, at)];
  });
}

/** What an attribute says, at its first time where it says nothing for all. */
export const saidBy = (prim: Prim, name: string): unknown => {
  const property = prim.properties.get(name);
  return property?.value ?? property?.samples?.values[0];
};

/** Numbers of an attribute; none where it has none. */
export function numbersOf(prim: Prim, name: string): number[] {
  const value = saidBy(prim, name);
  return typeof value === 'object' && value !== null && 'length' in value ? Array.from(value as ArrayLike<number>) : [];
}

/** The object of a prim: names lead there as in the path. Null where the composer made none. */
function objectAt(scene: Object3D, path: string): Object3D | null {
  let object: Object3D | undefined = scene;
  for (const name of path.split('/').slice(1)) object = object?.children.find((c) => c.name === name);
  return object ?? null;
}

/** Whether a prim is kept from renders: invisible, or for help while modelling alone (UsdGeomImageable). */
export const isHidden = (prim: Prim): boolean =>
  saidBy(prim, 'visibility') === 'invisible' || ['guide', 'proxy'].includes(String(saidBy(prim, 'purpose')));

/** Paths of the prims that an instancer places. */
export const prototypesOf = (prim: Prim): string[] => prim.properties.get('prototypes')?.targets ?? [];

/** Puts an instancer's prototypes where it says (UsdGeomPointInstancer), and returns how many. */
function placeInstances(scene: Object3D, { path, prim }: Placed): number {
  const parent = objectAt(scene, path);
  if (!parent) return 0;
  const prototypes = prototypesOf(prim).map((p) => objectAt(scene, p));
  const [which, at, turns, scales] = ['protoIndices', 'positions', 'orientations', 'scales'].map((name) => numbersOf(prim, name)) as [
    number[],
    number[],
    number[],
    number[],
  ];
  const ids = numbersOf(prim, 'ids');
  const unseen = new Set(numbersOf(prim, 'invisibleIds'));
  for (const p of prototypes) p?.removeFromParent();
  let placed = 0;
  which.forEach((n, i) => {
    const prototype = prototypes[n];
    if (!prototype || at.length < 3 * i + 3 || unseen.has(ids[i] ?? i)) return;
    const instance = new Object3D();
    instance.name = `${prototype.name} ${++placed}`;
    instance.position.copy(new Vector3(...at.slice(3 * i, 3 * i + 3)));
    if (turns.length >= 4 * i + 4) instance.quaternion.copy(new Quaternion(...turns.slice(4 * i, 4 * i + 4)).normalize());
    if (scales.length >= 3 * i + 3) instance.scale.copy(new Vector3(...scales.slice(3 * i, 3 * i + 3)));
    instance.add(prototype.clone());
    parent.add(instance);
  });
  return placed;
}

/** Straight curves as lines; false where they are none. */
function addCurves(scene: Object3D, { path, prim }: Placed): boolean {
  if ((saidBy(prim, 'type') ?? 'cubic') !== 'linear') return false;
  const points = numbersOf(prim, 'points');
  const closed = saidBy(prim, 'wrap') === 'periodic';
  const ends: number[] = [];
  let first = 0;
  for (const count of numbersOf(prim, 'curveVertexCounts')) {
    for (let i = 0; i < (closed ? count : count - 1); i++)
      for (const p of [first + i, first + ((i + 1) % count)]) ends.push(...points.slice(3 * p, 3 * p + 3));
    first += count;
  }
  if (ends.length !== 0 && ends.length % 6 === 0)
    objectAt(scene, path)?.add(new LineSegments(new BufferGeometry().setAttribute('position', new Float32BufferAttribute(ends, 3))));
  return true;
}

const bindingOf = (prim: Prim): string | undefined => prim.properties.get('material:binding')?.targets?.[0];

/** Names the materials as the file does: the composer leaves them without. A binding holds for all below it. */
function nameMaterials(scene: Object3D, prim: Prim, path: string, above: string | undefined): void {
  for (const [name, child] of prim.children) {
    const at = `${path}/${name}`;
    const bound = bindingOf(child) ?? above;
    if (child.type === 'Mesh') {
      const subsets = [...child.children.values()].filter((c) => c.type === 'GeomSubset').map((c) => bindingOf(c) ?? bound);
      const materials = [(objectAt(scene, at) as Mesh | null)?.material ?? []].flat();
      materials.forEach((material, i) => {
        const target = subsets[i] ?? bound;
        if (target !== undefined) material.name = target.slice(target.lastIndexOf('/') + 1);
      });
    }
    nameMaterials(scene, child, at, bound);
  }
}

/**
 * Completes a composed scene.
 * @returns how many prims are hidden, and which curves are not straight.
 * @throws ModelError where there are too many instances.
 */
export function complete(scene: Object3D, root: Prim, name: string): { hidden: number; curved: number } {
  let [hidden, curved, instances] = [0, 0, 0];
  const prims = eachPrim(root);
  nameMaterials(scene, root, '', undefined);
  for (const placed of prims) {
    if (placed.prim.type === 'BasisCurves' && !addCurves(scene, placed)) curved++;
    const object = isHidden(placed.prim) ? objectAt(scene, placed.path) : null;
    if (!object) continue;
    object.visible = false;
    hidden++;
  }
  const instancers = prims.filter(({ prim }) => prim.type === 'PointInstancer');
  for (const { prim } of instancers) instances += numbersOf(prim, 'protoIndices').length;
  if (instances > MAX_INSTANCES)
    throw new ModelError(
      `"${name}" has ${instances.toLocaleString('en')} instances; ${MAX_INSTANCES.toLocaleString('en')} is the most. Export fewer of them.`,
    );
  const done = new Set<Placed>();
  const place = (placed: Placed): void => {
    if (done.has(placed)) return;
    done.add(placed);
    // What is instanced within a prototype is there before the prototype is copied.
    const within = prototypesOf(placed.prim);
    for (const other of instancers) if (within.some((p) => `${other.path}/`.startsWith(`${p}/`))) place(other);
    placeInstances(scene, placed);
  };
  for (const placed of instancers) place(placed);
  return { hidden, curved };
}
