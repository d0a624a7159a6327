/**
 * Reads CityJSON 1.0 to 2.0: the objects of a town as a tree, their most detailed geometry, surfaces by what they are. Coordinates
 * of maps are moved to the origin. The format leaves its unit to the reference system: metres, but for a few that hardly anybody uses.
 */
import { BufferGeometry, Float32BufferAttribute } from 'three';
import { pluralize } from '../../core/base/pluralize.js';
import type { Material, Model } from '../../core/model/model.js';
import { parseHex, toLinear, type Rgb } from '../../core/units/colour.js';
import { MAX_NESTING } from '../budget.js';
import { droppedWarning } from '../degenerate.js';
import { DamageError, ModelError, type ReadOptions, type SourceFile } from '../format.js';
import { ModelBuilder } from '../modelBuilder.js';
import { nearOrigin } from '../nearOrigin.js';
import { meshOf } from '../normals.js';
import { leftOut, listNames } from '../report.js';
import { type CityDocument, type CityGeometry, type CityObject, openCity } from './document.js';
import { SURFACE_DEPTH, type Surface, surfacesOf, trianglesOf } from './surfaces.js';

/** What surfaces without a material are shown in, by what they are; quiet colours of our own. */
const COLOURS: Readonly<Record<string, string>> = {
  RoofSurface: '#9a6a58',
  WallSurface: '#c9c2b4',
  GroundSurface: '#8d8a80',
  Window: '#7d95a3',
  Door: '#7a6450',
  WaterSurface: '#6d8a94',
  TrafficArea: '#777773',
};
/** Objects that are around what is looked at. */
const SURROUNDINGS = new Set(['TINRelief', 'LandUse', 'WaterBody', 'PlantCover', 'Road', 'Railway', 'TransportSquare', 'Waterway']);

type Vec3 = readonly [number, number, number];

/** Whether it has surfaces or lines; an instance without its template is taken for one that has, so that its want is told. */
const isShown = ({ type }: CityGeometry): boolean => type === 'MultiLineString' || type === 'GeometryInstance' || SURFACE_DEPTH[type] !== undefined;

const colourOf = (said: readonly number[]): Rgb => [0, 1, 2].map((c) => toLinear(Math.min(1, Math.max(0, Number(said[c]) || 0)))) as Rgb;

class CityReader {
  private readonly gather = new ModelBuilder();
  private readonly places: Float32Array;
  private readonly met = { lods: new Map<string, number>(), textured: 0, others: new Map<string, number>() };
  private readonly done = new Set<string>();
  private readonly objects: Map<string, CityObject>;
  private dropped = 0;

  constructor(
    private readonly city: CityDocument,
    private readonly up: ReadOptions['up'],
  ) {
    this.objects = new Map(city.objects);
    this.places = nearOrigin(city.vertices, up, this.gather);
  }

  private readonly pointOf = (vertex: number): Vec3 => {
    if (!(vertex >= 0 && vertex * 3 < this.places.length)) throw new DamageError(`it has a surface whose vertex ${vertex} is not there`);
    return [this.places[3 * vertex]!, this.places[3 * vertex + 1]!, this.places[3 * vertex + 2]!];
  };

  /** The template of an instance; any other geometry itself. One whose template is not there is refused when it is placed. */
  private meant(geometry: CityGeometry): CityGeometry {
    const template = geometry.type === 'GeometryInstance' ? this.city.templates[geometry.template ?? -1] : undefined;
    return template ?? geometry;
  }

  /** Vertices of a template as an instance has them: turned and moved by its matrix, at its vertex. */
  private placed(geometry: CityGeometry): { template: CityGeometry; pointOf: (vertex: number) => Vec3 } {
    const template = this.city.templates[geometry.template ?? -1];
    const [at] = Array.isArray(geometry.boundaries) ? geometry.boundaries : [];
    const m = geometry.transformationMatrix ?? [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
    if (!template || typeof at !== 'number' || m.length !== 16) throw new DamageError('it has an instance without its template, place or matrix');
    const origin = this.pointOf(at);
    const pointOf = (vertex: number): Vec3 => {
      const v = this.city.templateVertices[vertex];
      if (!v) throw new DamageError(`it has a template whose vertex ${vertex} is not there`);
      const [x, y, z] = [0, 4, 8].map((row) => m[row]! * v[0]! + m[row + 1]! * v[1]! + m[row + 2]! * v[2]! + m[row + 3]!) as [number, number, number];
      return this.up === 'z' ? [origin[0] + x, origin[1] + z, origin[2] - y] : [origin[0] + x, origin[1] + y, origin[2] + z];
    };
    return { template, pointOf };
  }

  private material({ kind, material }: Surface): number {
    const own = material === null ? undefined : this.city.materials[material];
    if (own) {
      const values: Partial<Material> & { name: string } = { name: own.name?.trim() || `Material ${material! + 1}` };
      if (own.diffuseColor) values.base = colourOf(own.diffuseColor);
      if (own.emissiveColor?.some((v) => v > 0)) values.emission = colourOf(own.emissiveColor);
      if (own.transparency) Object.assign(values, { alpha: Math.min(1, Math.max(0, 1 - own.transparency)), alphaMode: 'blend' });
      if (own.shininess !== undefined) values.roughness = Math.min(1, Math.max(0.05, 1 - own.shininess));
      return this.gather.material(`own ${material}`, () => values);
    }
    const name = kind ?? 'Plain grey';
    const colour = kind === null ? undefined : COLOURS[kind];
    return this.gather.material(name, () => ({ name, ...(colour && { base: parseHex(colour) }) }));
  }

  /** Puts surfaces on a part, a mesh for each material. */
  private mesh(part: number, surfaces: readonly Surface[], pointOf: (vertex: number) => Vec3): void {
    const groups = new Map<number, number[]>();
    for (const surface of surfaces) {
      const material = this.material(surface);
      const corners = groups.get(material) ?? [];
      groups.set(material, corners);
      const triangles = trianglesOf(surface.rings, pointOf);
      if (triangles.length === 0) this.dropped++;
      for (const v of triangles) corners.push(v);
    }
    for (const [material, corners] of groups) {
      if (corners.length === 0) continue;
      const made = meshOf(new BufferGeometry().setAttribute('position', new Float32BufferAttribute(corners, 3)), { creased: true });
      this.dropped += made.dropped;
      this.gather.parts[part]!.primitives.push({ mesh: this.gather.mesh(made.mesh), material });
    }
  }

  private geometry(part: number, geometry: CityGeometry): void {
    const { type } = geometry;
    if (geometry.texture) this.met.textured++;
    if (type === 'GeometryInstance') {
      const { template, pointOf } = this.placed(geometry);
      if (SURFACE_DEPTH[template.type]) this.mesh(part, surfacesOf(template, this.city.themes.material), pointOf);
      else this.count(template.type);
    } else if (type === 'MultiLineString') {
      const lines = (geometry.boundaries ?? []) as number[][];
      this.gather.lines(
        'Lines',
        part,
        lines.flatMap((line) => line.slice(1).flatMap((v, i) => [...this.pointOf(line[i]!), ...this.pointOf(v)])),
      );
    } else this.mesh(part, surfacesOf(geometry, this.city.themes.material), this.pointOf);
  }

  private count(type: string): void {
    this.met.others.set(type, (this.met.others.get(type) ?? 0) + 1);
  }

  /** Adds an object and what belongs to it. */
  private object(id: string, parent: number, depth: number): void {
    const object = this.objects.get(id);
    // A list of children may lead round in a circle, or to what is not there.
    if (!object || this.done.has(id)) return;
    if (depth > MAX_NESTING) throw new ModelError(`Its objects are nested more than ${MAX_NESTING} deep; flatten them before exporting.`);
    this.done.add(id);
    const called = object.attributes?.name;
    const part = this.gather.part(typeof called === 'string' ? called : id, parent);
    this.gather.parts[part]!.isContext = SURROUNDINGS.has(object.type ?? '');
    const lodOf = (geometry: CityGeometry): number => Number(this.meant(geometry).lod ?? 0) || 0;
    const all = object.geometry ?? [];
    // What cannot be shown must not stand in for what can, however detailed it is.
    const shown = all.filter((geometry) => isShown(this.meant(geometry)));
    const finest = Math.max(...shown.map(lodOf));
    for (const geometry of all) {
      if (!shown.includes(geometry)) this.count(geometry.type);
      else if (lodOf(geometry) === finest) this.geometry(part, geometry);
      else this.met.lods.set(String(lodOf(geometry)), (this.met.lods.get(String(lodOf(geometry))) ?? 0) + 1);
    }
    for (const child of object.children ?? []) this.object(child, part, depth + 1);
  }

  read(name: string): Model {
    const { gather, city, met } = this;
    for (const [id, { parents }] of city.objects) if (!parents?.some((p) => this.objects.has(p))) this.object(id, -1, 0);
    // What only a circle leads to.
    for (const [id] of city.objects) this.object(id, -1, 0);
    for (const part of gather.parts) part.isContext ||= gather.parts[part.parent]?.isContext === true;
    if (gather.parts.every((p) => p.isContext)) for (const part of gather.parts) part.isContext = false;
    const lods = [...met.lods].sort(([a], [b]) => (a < b ? -1 : 1)).map(([lod, count]) => [`at level ${lod}`, count] as const);
    if (lods.length > 0)
      gather.warnings.add(`Only the most detailed geometry of each object is read. Left out: ${lods.map(([l, n]) => `${n} ${l}`).join(', ')}.`);
    const lost = leftOut([...met.others].map(([type, count]) => [`of ${type}`, count]));
    if (lost) gather.warnings.add(lost);
    if (met.textured > 0) gather.warnings.add(`Textures of ${pluralize(met.textured, 'geometry', 'geometries')} left out; colours are read.`);
    if (this.dropped > 0) gather.warnings.add(droppedWarning(this.dropped));
    if (city.reference) gather.warnings.add(`Reference system of the file: ${listNames([city.reference.slice(0, 100)])}.`);
    return gather.model(name);
  }
}

/** Reads a model. @throws where it is damaged, of another version, or without anything to show. */
export function read(file: SourceFile, { up }: ReadOptions): Model {
  return new CityReader(openCity(file), up).read(file.name);
}
