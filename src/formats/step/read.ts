/**
 * Reads STEP, IGES and BREP through Open CASCADE: assembly tree, names, colours of bodies and faces, edges.
 * STEP and IGES state their unit, BREP does not; by the trade's habit +Z is up (common practice, no source).
 */
import { createRequire } from 'node:module';
import { type Mesh, type Model, computeWorldMatrices, assignPartPaths } from '../../core/model/model.js';
import type { Rgb } from '../../core/units/colour.js';
import { METRES } from '../../core/units/length.js';
import { extensionOf, ModelError, MAX_SEPARATE_FACES, type ReadOptions, type SourceFile } from '../format.js';
import { ModelBuilder, isAligned, MAX_SEARCHED, toMetres } from '../modelBuilder.js';
import { dedupeMeshes } from '../instances.js';
import { edgesOfFaces } from './edges.js';
import { igesWires } from './igesWires.js';
import type { Wires } from './wire.js';
import { stepWires } from './wires.js';

interface OcctNode {
  name: string;
  meshes: number[];
  children: OcctNode[];
}

interface OcctMesh {
  name: string;
  color?: Rgb;
  brep_faces: { first: number; last: number; color: Rgb | null }[];
  attributes: { position: { array: number[] }; normal?: { array: number[] } };
  index: { array: number[] };
}

interface OcctResult {
  success: boolean;
  root: OcctNode;
  meshes: OcctMesh[];
}

interface Occt {
  ReadFile(format: 'step' | 'iges' | 'brep', bytes: Uint8Array, options: Record<string, unknown>): OcctResult;
}

/** Chords leave curves by at most this share of the model's size, and bend by at most this angle. */
const QUALITY = { linearUnit: 'meter', linearDeflectionType: 'bounding_box_ratio', linearDeflection: 0.0005, angularDeflection: 0.35 };

let ready: Promise<Occt> | null = null;

/** Open CASCADE takes some tenths of a second to start, so it is started when it is asked for. What it prints would spoil the command line's result. */
function occt(): Promise<Occt> {
  const require = createRequire(import.meta.url);
  ready ??= (require('occt-import-js') as (host: unknown) => Promise<Occt>)({ print: () => {}, printErr: () => {} });
  return ready;
}

const hex = (c: Rgb): string =>
  '#' +
  c
    .map((v) =>
      Math.round(255 * Math.min(1, Math.max(0, v)) ** (1 / 2.2))
        .toString(16)
        .padStart(2, '0'),
    )
    .join('');

/** Triangles from..to, with the vertices they use alone. */
function pieceOf(mesh: OcctMesh, triangles: number[]): Mesh {
  const seen = new Map<number, number>();
  const indices = new Uint32Array(triangles.length * 3);
  triangles.forEach((t, i) => {
    for (let k = 0; k < 3; k++) {
      const v = mesh.index.array[t * 3 + k]!;
      let at = seen.get(v);
      if (at === undefined) seen.set(v, (at = seen.size));
      indices[i * 3 + k] = at;
    }
  });
  const pick = (list: number[]): Float32Array => {
    const out = new Float32Array(seen.size * 3);
    for (const [from, to] of seen) for (let k = 0; k < 3; k++) out[to * 3 + k] = list[from * 3 + k]!;
    return out;
  };
  const out: Mesh = { positions: pick(mesh.attributes.position.array), indices };
  if (mesh.attributes.normal) out.normals = pick(mesh.attributes.normal.array);
  return toMetres(out, 1, 'z');
}

function wiresOf(format: string, bytes: Uint8Array): Wires {
  if (format === 'brep' || bytes.length > MAX_SEARCHED) return { lists: [], leftOut: 0 };
  const text = new TextDecoder('latin1').decode(bytes);
  return format === 'step' ? stepWires(text) : igesWires(text);
}

/** A BREP ends with the number and the place of its shape, after an empty line; some writers put a number on a further line. The library reads on for ever where it was cut short. */
function hasEnd(bytes: Uint8Array): boolean {
  return /\n\s*\n[+-]\d+ \d+(?:\s+\d+)?\s*$/.test(new TextDecoder('latin1').decode(bytes.subarray(-200)));
}

/** The groups of a solid's faces, with colour and triangles: all of one colour are one group, or each face by itself. */
function groupsOf({ index, brep_faces: faces, color }: OcctMesh, apart: boolean): { colour: Rgb | null; triangles: number[] }[] {
  const colours = [color ?? null, ...faces.map((f) => f.color ?? color ?? null)];
  const keys = colours.map((c, face) => (apart ? String(face) : c ? hex(c) : ''));
  // What is of no face goes with the solid.
  const faceOf = new Int32Array(index.array.length / 3);
  faces.forEach(({ first, last }, i) => faceOf.fill(i + 1, first, last + 1));
  const groups = new Map<string, { colour: Rgb | null; triangles: number[] }>();
  faceOf.forEach((face, t) => {
    const group = groups.get(keys[face]!) ?? { colour: colours[face]!, triangles: [] };
    groups.set(keys[face]!, group);
    group.triangles.push(t);
  });
  return [...groups.values()];
}

/** The last line of an IGES file has a T in column 73 (US PRO, IGES 5.3, 2.2.4.6): without it the library reads what there is. */
function hasTerminateSection(bytes: Uint8Array): boolean {
  return /^.{72}T/m.test(new TextDecoder('latin1').decode(bytes.subarray(-400)));
}

/** Reads solids and surfaces as triangles. @throws where the file holds none. */
export async function read(file: SourceFile, _companions: SourceFile[], { facesApart = false, unit }: ReadOptions): Promise<Model> {
  const ending = extensionOf(file.name);
  const format = ['stp', 'step'].includes(ending) ? 'step' : ['igs', 'iges'].includes(ending) ? 'iges' : 'brep';
  const whole = format === 'brep' ? hasEnd(file.bytes) : format === 'iges' ? hasTerminateSection(file.bytes) : true;
  const result = whole && (await occt()).ReadFile(format, file.bytes, QUALITY);
  if (!result || !result.success)
    throw new ModelError(
      `"${file.name}" could not be read as ${format.toUpperCase()}: it is cut short, damaged or holds no shapes. Export it again as STEP AP214 or AP242.`,
    );
  // The library takes the numbers of a BREP for millimetres.
  const scale = format === 'brep' ? METRES[unit] / METRES.mm : 1;
  if (scale !== 1) for (const { attributes } of result.meshes) attributes.position.array = attributes.position.array.map((v) => v * scale);
  const faces = result.meshes.reduce((n, m) => n + m.brep_faces.length, 0);
  if (facesApart && faces > MAX_SEPARATE_FACES)
    throw new ModelError(
      `"${file.name}" has ${faces.toLocaleString('en')} faces; at most ${MAX_SEPARATE_FACES.toLocaleString('en')} can be kept apart. Import it with the faces of a solid together.`,
    );
  const gather = new ModelBuilder();
  // Bodies that lie on the same bytes are one mesh, shared by several parts.
  const edges = new Map<Mesh, number[]>();
  const made = new Map<number, { mesh: number; material: number }[]>();
  const finishFor = (c: Rgb | null | undefined): number =>
    c
      ? gather.material(hex(c), () => ({ name: `Colour ${hex(c)}`, base: [...c] as Rgb, roughness: 0.45 }))
      : gather.material('plain', () => ({ name: 'Plain grey', roughness: 0.45 }));
  const primitives = (number: number): { mesh: number; material: number }[] => {
    const known = made.get(number);
    if (known) return known;
    const mesh = result.meshes[number]!;
    const list = groupsOf(mesh, facesApart).map(({ colour, triangles }) => ({
      mesh: gather.mesh(pieceOf(mesh, triangles)),
      material: finishFor(colour),
    }));
    const solid = { positions: mesh.attributes.position.array, indices: mesh.index.array, faces: mesh.brep_faces };
    if (list.length > 0) edges.set(gather.meshes[list[0]!.mesh]!, isAligned(edgesOfFaces(solid)));
    made.set(number, list);
    return list;
  };
  const add = (node: OcctNode, parent: number): void => {
    // A nameless root around all says nothing.
    const skip = parent < 0 && node.name === '' && node.meshes.length === 0;
    const own = skip ? -1 : gather.part(node.name, parent);
    node.meshes.forEach((number) => {
      const list = primitives(number);
      if (own >= 0 && node.meshes.length === 1) gather.parts[own]!.primitives.push(...list);
      else gather.part(result.meshes[number]!.name, own, { primitives: [...list] });
    });
    for (const child of node.children) add(child, own);
  };
  add(result.root, -1);
  const model = gather.model(file.name);
  dedupeMeshes(model);
  const solids = model.parts.map((p) => p.primitives[0] && edges.get(model.meshes[p.primitives[0].mesh]!));
  solids.forEach((points, i) => points && gather.lines('Edges', i, points));
  const wires = wiresOf(format, file.bytes);
  wires.lists.forEach((points) => gather.lines('Curves', -1, isAligned(points)));
  if (wires.leftOut > 0)
    model.warnings.push(
      `${wires.leftOut} ${wires.leftOut === 1 ? 'curve was' : 'curves were'} left out: of a kind, or in a place, that is not read.`,
    );
  assignPartPaths(model.parts);
  computeWorldMatrices(model.parts);
  return model;
}
