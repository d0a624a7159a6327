/** Reads OBJ with its MTL through three's loaders. The format states neither unit nor up axis. */
import { fileStem } from '../../core/model/fileExtensions.js';
import type { LineSegments, Material as ThreeMaterial, Mesh as ThreeMesh } from 'three';
import { MTLLoader } from 'three/examples/jsm/loaders/MTLLoader.js';
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import { identity } from '../../core/math/matrix.js';
import {
  IDENTITY_TRS,
  type Curve,
  DEFAULT_MATERIAL,
  type Material,
  type Mesh,
  type Model,
  type Part,
  VISIBLE_TO_ALL,
  assignPartPaths,
  type Texture,
} from '../../core/model/model.js';
import { type Rgb, toLinear } from '../../core/units/colour.js';
import { METRES } from '../../core/units/length.js';
import { extensionOf, ModelError, type ReadOptions, type SourceFile, textOf } from '../format.js';
import { isAligned, toMetres } from '../modelBuilder.js';
import { droppedWarning } from '../degenerate.js';
import { meshOf } from '../normals.js';
import { meshPart } from '../scene/fromThree.js';
import { fileOf } from '../image/companionTextures.js';
import { dressInMaps, withoutUnused } from './maps.js';
import { normalizeObj } from './text.js';

/** three's reader takes what it finds; numbers that point nowhere are found here, with their line. */
function checkIndices(text: string, name: string): { libraries: string[] } {
  const count = { v: 0, vt: 0, vn: 0 };
  const libraries: string[] = [];
  let line = 0;
  for (const raw of text.split('\n')) {
    line++;
    if (raw.startsWith('v ') || raw.startsWith('v\t')) {
      count.v++;
      const numbers = raw.trim().split(/\s+/).slice(1, 4);
      if (numbers.length < 3 || numbers.some((n) => !Number.isFinite(Number(n))))
        throw new ModelError(`"${name}", line ${line}: "${raw.trim().slice(0, 40)}" is not a vertex. The file is damaged; export it again.`);
    } else if (raw.startsWith('vt')) count.vt++;
    else if (raw.startsWith('vn')) count.vn++;
    else if (raw.startsWith('mtllib')) libraries.push(raw.slice(6).trim());
    else if (raw.startsWith('f ') || raw.startsWith('f\t')) {
      const corners = raw.trim().split(/\s+/).slice(1);
      if (corners.length < 3)
        throw new ModelError(`"${name}", line ${line}: a face has ${corners.length} corners. The file is damaged; export it again.`);
      for (const corner of corners) {
        corner.split('/').forEach((piece, k) => {
          if (piece === '' && k > 0) return;
          const most = [count.v, count.vt, count.vn][k] ?? 0;
          const n = Number(piece);
          if (!Number.isInteger(n) || n === 0 || Math.abs(n) > most) {
            throw new ModelError(
              `"${name}", line ${line}: the face refers to ${['vertex', 'texture coordinate', 'normal'][k] ?? 'entry'} ${piece}, but there are ${most}. The file is damaged; export it again.`,
            );
          }
        });
      }
    }
  }
  return { libraries };
}

/** `illum` with refraction: 4, 6, 7 and 9 of the models that MTL counts. */
const REFRACTING = [4, 6, 7, 9];

type MtlValues = Record<string, string | number[] | undefined>;

async function materialFromMtl(
  name: string,
  info: MtlValues,
  companions: SourceFile[],
  textures: Texture[],
  warnings: Set<string>,
): Promise<Material> {
  const colour = (key: string): Rgb | null => (Array.isArray(info[key]) ? ((info[key] as number[]).slice(0, 3).map(toLinear) as Rgb) : null);
  const number = (key: string): number | null => (info[key] === undefined ? null : Number(Array.isArray(info[key]) ? info[key][0] : info[key]));
  const dissolve = number('d') ?? 1 - (number('tr') ?? 0);
  const shininess = number('ns') ?? 10;
  const filter = typeof info.tf === 'string' ? info.tf.split(/\s+/).slice(0, 3).map(Number) : null;
  const tint = filter?.length === 3 && filter.every((v) => v >= 0 && v <= 1) ? (filter as Rgb) : null;
  // Illumination models that refract; many writers give a filter to things that are not clear.
  const refracts = REFRACTING.includes(number('illum') ?? 0) && tint !== null && Math.max(...tint) > 0.1;
  const clear = dissolve < 0.9 || refracts;
  const material: Material = {
    ...DEFAULT_MATERIAL,
    name,
    base: clear ? (tint ?? [1, 1, 1]) : (colour('kd') ?? DEFAULT_MATERIAL.base),
    // Blinn's exponent to GGX roughness: alpha² = 2 / (n + 2), alpha = roughness².
    roughness: number('pr') ?? Math.min(1, (2 / (Math.max(0, shininess) + 2)) ** 0.25),
    metalness: Math.min(1, Math.max(0, number('pm') ?? 0)),
    ior: Math.min(4, Math.max(1, number('ni') ?? 1.5)),
    emission: colour('ke') ?? [0, 0, 0],
    transmission: clear ? 1 : 0,
    thin: clear,
  };
  if (material.ior < 1.01 && clear) material.ior = 1.5;
  await dressInMaps(material, info, { companions, textures, warnings });
  // The picture says all of it where no colour is given beside it.
  if (material.textures?.emission && !colour('ke')) material.emission = [1, 1, 1];
  return material;
}

async function readMtl(libraries: string[], companions: SourceFile[], warnings: Set<string>, textures: Texture[]): Promise<Map<string, Material>> {
  const byName = new Map(companions.map((f) => [fileOf(f.name), f]));
  const materials = new Map<string, Material>();
  for (const library of libraries) {
    // Programs differ in how they write folders; a single .mtl beside the OBJ is meant in any case.
    const file = byName.get(fileOf(library)) ?? (libraries.length === 1 ? companions.find((f) => extensionOf(f.name) === 'mtl') : undefined);
    if (!file) {
      warnings.add(`The material file "${library}" was not given; plain grey is rendered. Drop it together with the OBJ.`);
      continue;
    }
    const creator = new MTLLoader().parse(textOf(file.bytes), '');
    for (const [name, info] of Object.entries(creator.materialsInfo as Record<string, MtlValues>)) {
      materials.set(name, await materialFromMtl(name, info, companions, textures, warnings));
    }
  }
  return materials;
}

/**
 * Reads a model with the materials and images that were given beside it. @throws where a line cannot be read, with its number.
 */
export async function read(file: SourceFile, companions: SourceFile[], options: ReadOptions): Promise<Model> {
  const text = normalizeObj(textOf(file.bytes));
  const { libraries } = checkIndices(text, file.name);
  const warnings = new Set<string>();
  const textures: Texture[] = [];
  const given = await readMtl(libraries, companions, warnings, textures);
  const group = new OBJLoader().parse(text);
  const scale = METRES[options.unit];
  // Where the file has no normals the loader makes faces flat; here what bends little is smooth.
  const creased = !/^\s*vn\s/m.test(text);
  let lost = 0;
  const finishes: Material[] = [];
  const finishOf = new Map<string, number>();
  const finishIndex = (material: ThreeMaterial | undefined): number => {
    const name = material?.name ?? '';
    let index = finishOf.get(name);
    if (index === undefined) {
      index = finishes.length;
      finishOf.set(name, index);
      finishes.push(given.get(name) ?? { ...DEFAULT_MATERIAL, ...(name && { name }) });
      if (name && libraries.length > 0 && given.size > 0 && !given.has(name))
        warnings.add(`The material "${name}" is not in the MTL; plain grey is rendered.`);
    }
    return index;
  };
  const meshes: Mesh[] = [];
  const parts: Part[] = [];
  const curves: Curve[] = [];
  const partOf = (name: string): Part => ({
    name: name || `Part ${parts.length + 1}`,
    path: '',
    parent: -1,
    place: IDENTITY_TRS,
    world: identity(),
    primitives: [],
    renderVisible: true,
    visible: VISIBLE_TO_ALL,
    isContext: false,
  });
  for (const child of group.children) {
    const object = child as ThreeMesh;
    if ((child as unknown as LineSegments).isLineSegments) {
      const position = object.geometry.getAttribute('position');
      const points: number[] = [];
      for (let i = 0; i < position.count; i++) points.push(position.getX(i) * scale, position.getY(i) * scale, position.getZ(i) * scale);
      curves.push({ part: parts.length, points: options.up === 'z' ? isAligned(points) : points });
      parts.push({ ...partOf(child.name), renderVisible: false });
      continue;
    }
    if (!object.isMesh) {
      warnings.add(`"${child.name || 'The file'}" has points, which are not rendered.`);
      continue;
    }
    const materials = Array.isArray(object.material) ? object.material : [object.material];
    const all = object.geometry.getAttribute('position').count;
    const groups = object.geometry.groups.length > 0 ? object.geometry.groups : [{ start: 0, count: all, materialIndex: 0 }];
    const part = partOf(object.name);
    // Exporters change the material back and forth within one object: faces of one material are one mesh.
    const cornersOf = new Map<number, number[]>();
    for (const g of groups) {
      const finish = finishIndex(materials[g.materialIndex ?? 0]);
      const corners = cornersOf.get(finish) ?? [];
      if (corners.length === 0) cornersOf.set(finish, corners);
      for (let i = g.start; i < Math.min(g.start + g.count, all); i++) corners.push(i);
    }
    for (const [finish, corners] of cornersOf) {
      const { mesh, dropped } = meshOf(meshPart(object.geometry, corners), { creased });
      lost += dropped;
      part.primitives.push({ mesh: meshes.length, material: finish });
      meshes.push(toMetres(mesh, scale, options.up));
    }
    parts.push(part);
  }
  if (lost > 0) warnings.add(droppedWarning(lost));
  assignPartPaths(parts);
  return {
    name: fileStem(file.name),
    meshes,
    materials: finishes,
    textures: withoutUnused(finishes, textures),
    parts,
    lights: [],
    curves,
    cameras: [],
    warnings: [...warnings],
  };
}
