/** Reads 3DM through rhino3dm: meshes, the meshes that solids and surfaces were saved with, curves, blocks and layers. +Z is up. */
import { fileStem } from '../../core/model/fileExtensions.js';
import { createRequire } from 'node:module';
import {
  BufferGeometry,
  BufferGeometryLoader,
  Float32BufferAttribute,
  Group,
  LineSegments,
  Matrix4,
  Mesh as ThreeMesh,
  type MeshPhysicalMaterial,
  Object3D,
} from 'three';
import type { Brep, Curve, Extrusion, File3dm, File3dmObject, InstanceReference, Mesh, RhinoModule } from 'rhino3dm';
import type { Vec3 } from '../../core/math/bounds.js';
import type { Model } from '../../core/model/model.js';
import { ModelError, type SourceFile } from '../format.js';
import { decomposeMatrix, ModelBuilder } from '../modelBuilder.js';
import { polylinePoints } from '../part21/curves.js';
import { assumedUnitsNote, leftOut, listNames } from '../report.js';
import { addTextured } from '../scene/textured.js';
import { Surfaces } from './surface.js';

/** Metres by the library's names of units. */
const UNITS: Readonly<Record<string, number>> = {
  Microns: 1e-6,
  Millimeters: 0.001,
  Centimeters: 0.01,
  Decimeters: 0.1,
  Meters: 1,
  Kilometers: 1000,
  Inches: 0.0254,
  Feet: 0.3048,
  Yards: 0.9144,
};
const MAX_DEPTH = 32;
const MAX_OBJECTS = 200_000;
/** Pieces of a curve that is not straight. */
const CURVE_PIECES = 96;

let ready: Promise<RhinoModule> | undefined;
const library = (): Promise<RhinoModule> => (ready ??= (createRequire(import.meta.url)('rhino3dm') as unknown as () => Promise<RhinoModule>)());

/** A curve as points: its corners where it is a polyline. */
function pointsOf(curve: Curve): Vec3[] {
  const [from, to] = curve.domain as unknown as [number, number];
  const { pointCount } = curve as unknown as { pointCount?: number };
  const n = (curve as unknown as { isLinear(tolerance: number): boolean }).isLinear(1e-9) ? 1 : CURVE_PIECES;
  if (pointCount !== undefined) return Array.from({ length: pointCount }, (_, i) => (curve as unknown as { point(i: number): Vec3 }).point(i));
  return Array.from({ length: n + 1 }, (_, i) => curve.pointAt(from + ((to - from) * i) / n) as unknown as Vec3);
}

const geometryOf = (mesh: Mesh): BufferGeometry => new BufferGeometryLoader().parse(mesh.toThreejsJSON() as never);

class Reader {
  readonly counts = new Map<string, number>();
  readonly unmeshed: string[] = [];
  private readonly surfaces: Surfaces;
  private readonly byId = new Map<string, File3dmObject>();
  private readonly definitions = new Map<string, string[]>();
  private readonly layers = new Map<number, Object3D>();
  /** What was made of objects in blocks: each further instance shares their meshes. */
  private readonly made = new Map<string, Object3D>();
  private objects = 0;

  constructor(
    private readonly rhino: RhinoModule,
    private readonly file: File3dm,
    private readonly name: string,
  ) {
    this.surfaces = new Surfaces(rhino, file);
    const all = file.objects();
    for (let i = 0; i < all.count; i++) {
      const object = all.get(i);
      this.byId.set(object.attributes().id, object);
    }
    const definitions = file.instanceDefinitions();
    for (let i = 0; i < definitions.count; i++) {
      const definition = definitions.get(i);
      this.definitions.set(definition.id, definition.getObjectIds() as unknown as string[]);
    }
  }

  /** The object of a layer below those of the layers that it is in. */
  private layer(index: number, root: Object3D): Object3D {
    const known = this.layers.get(index);
    if (known) return known;
    const layers = this.file.layers();
    const layer = layers.get(index);
    const object = new Object3D();
    object.name = layer?.name ?? 'Layer';
    object.visible = layer?.visible ?? true;
    this.layers.set(index, object);
    let parent = root;
    for (let i = 0; layer && i < layers.count; i++) if (i !== index && layers.get(i).id === layer.parentLayerId) parent = this.layer(i, root);
    parent.add(object);
    return object;
  }

  /** What the file shows, as a tree of three.js. */
  scene(): Group {
    const root = new Group();
    for (const object of this.byId.values()) {
      if (object.attributes().isInstanceDefinitionObject) continue;
      const made = this.object(object, 0);
      if (made) this.layer(object.attributes().layerIndex, root).add(made);
    }
    return root;
  }

  private count(kind: string): null {
    this.counts.set(kind, (this.counts.get(kind) ?? 0) + 1);
    return null;
  }

  private object(object: File3dmObject, depth: number): Object3D | null {
    if (++this.objects > MAX_OBJECTS)
      throw new ModelError(`"${this.name}" has more than ${MAX_OBJECTS.toLocaleString('en')} objects with those in its blocks; export a part of it.`);
    const attributes = object.attributes();
    const geometry = object.geometry();
    const { ObjectType: type } = this.rhino;
    const kind = geometry.objectType;
    const made =
      kind === type.Mesh
        ? this.solid([geometry as Mesh], this.surfaces.of(attributes))
        : kind === type.Brep || kind === type.Extrusion
          ? this.solid(this.savedMeshes(geometry as Brep | Extrusion), this.surfaces.of(attributes))
          : kind === type.Curve
            ? this.lines(geometry as Curve)
            : kind === type.InstanceReference
              ? this.instance(geometry as InstanceReference, depth)
              : this.count(Object.entries(type).find(([, value]) => value === kind)?.[0] ?? 'object of another kind');
    if (!made) {
      if (kind === type.Brep || kind === type.Extrusion) this.unmeshed.push(attributes.name || 'unnamed');
      return null;
    }
    made.name = attributes.name || made.name;
    made.visible = attributes.visible;
    return made;
  }

  private savedMeshes(geometry: Brep | Extrusion): Mesh[] {
    const { MeshType } = this.rhino;
    if ('faces' in geometry) {
      const faces = (geometry as Brep).faces();
      return Array.from({ length: faces.count }, (_, i) => faces.get(i).getMesh(MeshType.Any) as Mesh | null).filter((m) => m !== null);
    }
    const mesh = (geometry as Extrusion).getMesh(MeshType.Any) as Mesh | null;
    return mesh ? [mesh] : [];
  }

  private solid(meshes: Mesh[], material: MeshPhysicalMaterial): Object3D | null {
    if (meshes.length === 0) return null;
    if (meshes.length === 1) return new ThreeMesh(geometryOf(meshes[0]!), material);
    const group = new Object3D();
    group.name = 'Solid';
    meshes.forEach((mesh, i) => {
      const face = new ThreeMesh(geometryOf(mesh), material);
      face.name = `Face ${i + 1}`;
      group.add(face);
    });
    return group;
  }

  private lines(curve: Curve): Object3D {
    const ends = polylinePoints([pointsOf(curve)]);
    const lines = new LineSegments(new BufferGeometry().setAttribute('position', new Float32BufferAttribute(ends, 3)));
    lines.name = 'Curve';
    return lines;
  }

  private instance(reference: InstanceReference, depth: number): Object3D | null {
    const ids = this.definitions.get(reference.parentIdefId);
    if (!ids || depth >= MAX_DEPTH) return this.count('InstanceReference');
    const group = new Object3D();
    group.name = 'Block';
    // By columns, as three.js wants it.
    group.applyMatrix4(new Matrix4().fromArray(Array.from(reference.xform.toFloatArray(false) as unknown as number[])));
    for (const id of ids) {
      const member = this.byId.get(id);
      const made = this.made.get(id) ?? (member && this.object(member, depth + 1));
      if (!made) continue;
      this.made.set(id, made);
      group.add(made.clone());
    }
    return group;
  }
}

/** Reads a model. @throws where it cannot be read, with the reason. */
export async function read(file: SourceFile): Promise<Model> {
  const rhino = await library();
  const opened = rhino.File3dm.fromByteArray(file.bytes) as File3dm | null;
  if (!opened) throw new ModelError(`"${file.name}" is cut short or damaged: its tables cannot be read. Save or copy it again.`);
  const gather = new ModelBuilder();
  const system = opened.settings().modelUnitSystem;
  const unit = Object.entries(rhino.UnitSystem).find(([, value]) => value === system)?.[0] ?? '';
  if (UNITS[unit] === undefined) gather.warnings.add(assumedUnitsNote('mm', null));
  const reader = new Reader(rhino, opened, file.name);
  const scene = reader.scene();
  scene.rotation.x = -Math.PI / 2;
  scene.scale.setScalar(UNITS[unit] ?? 0.001);
  scene.updateMatrix();
  const root = gather.part(fileStem(file.name), -1, { place: decomposeMatrix(scene.matrix.elements)! });
  await addTextured(gather, scene, root, []);
  if (reader.unmeshed.length > 0)
    gather.warnings.add(`Saved without their meshes, and left out: ${listNames(reader.unmeshed)}. Shade them before saving, or export STEP.`);
  const left = leftOut([...reader.counts]);
  if (left) gather.warnings.add(left);
  opened.destroy();
  return gather.model(file.name);
}
