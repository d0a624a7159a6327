/** From files to what everything else works with: canonical GLB, compiled scene, summary. */
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { vec3 } from 'gl-matrix';
import { type Bounds, emptyBounds, growBounds, isEmpty } from '../core/geometry/bounds.js';
import { offeredViews, type OfferedView } from '../core/model/cameras.js';
import { type PartShape } from '../core/model/match.js';
import { type Model, modelBounds, type Part, triangleCount } from '../core/model/model.js';
import { readModel } from '../formats/formats.js';
import { type ReadOptions, type SourceFile } from '../formats/format.js';
import { writeGlb } from '../formats/glb/write.js';
import { compile, encodeScene } from './compile.js';

export interface PartSummary extends PartShape {
  /** Pieces of line, of a part that is lines; absent of revisions of earlier versions. */
  lines?: number;
  /** Square metres of each of its finishes. */
  areas: number[];
  parent: number;
  finishes: string[];
  inPicture: boolean;
  surroundings: boolean;
}

export interface ModelSummary {
  /** Hash of the compiled scene; equal hash, equal pixels. */
  hash: string;
  name: string;
  triangles: number;
  parts: PartSummary[];
  finishes: string[];
  textures: number;
  /** Lamps that the file brought. */
  lamps: number;
  /** Views of the cameras that the file brought; absent of revisions of earlier versions. */
  cameras?: OfferedView[];
  bounds: Bounds;
  warnings: string[];
}

export interface Prepared {
  summary: ModelSummary;
  glb: Uint8Array;
  scene: Uint8Array;
}

/** Size of a part alone, without what hangs below it, in the world; and what it wears. */
function shapeOf(model: Model, { primitives, world }: Part): Omit<PartShape, 'name' | 'path'> & { finishes: string[]; areas: number[] } {
  const bounds = emptyBounds();
  let [triangles, area, volume] = [0, 0, 0];
  const worn = new Map<string, number>();
  for (const { mesh, finish } of primitives) {
    const before = area;
    const { positions, indices } = model.meshes[mesh]!;
    triangles += indices.length / 3;
    const at = (k: number): vec3 => {
      const i = indices[k]! * 3;
      return vec3.transformMat4(vec3.create(), [positions[i]!, positions[i + 1]!, positions[i + 2]!], world);
    };
    for (let k = 0; k < indices.length; k += 3) {
      const [a, b, c] = [at(k), at(k + 1), at(k + 2)];
      for (const p of [a, b, c]) growBounds(bounds, p[0], p[1], p[2]);
      const across = vec3.cross(vec3.create(), vec3.subtract(vec3.create(), b, a), vec3.subtract(vec3.create(), c, a));
      area += vec3.length(across) / 2;
      volume += vec3.dot(a, across) / 6;
    }
    const { name } = model.finishes[finish]!;
    worn.set(name, (worn.get(name) ?? 0) + area - before);
  }
  // JSON has no infinities.
  return {
    triangles,
    area,
    volume,
    finishes: [...worn.keys()],
    areas: [...worn.values()],
    bounds: isEmpty(bounds) ? { min: [0, 0, 0], max: [0, 0, 0] } : bounds,
  };
}

/**
 * Reads, writes canonically, reads that back and compiles: whoever starts from the original or from
 * the canonical file gets the same scene, hence the same pixels. Throws ModelError.
 */
export async function prepare(
  module: WebAssembly.Module,
  files: SourceFile[],
  options: ReadOptions,
  onProgress: (share: number, what: string) => void = () => {},
): Promise<Prepared> {
  onProgress(0, 'reading');
  const first = await readModel(files, options);
  const glb = await writeGlb(first);
  onProgress(0.3, 'checking');
  const model = await readModel([{ name: `${first.name}.glb`, bytes: glb }], options);
  const compiled = compile(module, model, (share) => onProgress(0.4 + 0.55 * share, 'building'));
  const scene = encodeScene(compiled);
  onProgress(0.97, 'saving');
  const bounds = modelBounds(model);
  const lines: (number | undefined)[] = [];
  for (const { part, points } of model.curves) lines[part] = points.length / 6;
  const warnings = [...first.warnings, ...model.warnings];
  const cameras = offeredViews(model, bounds, (line) => warnings.push(line));
  return {
    glb,
    scene,
    summary: {
      hash: bytesToHex(sha256(scene)),
      name: first.name,
      triangles: triangleCount(model),
      parts: model.parts.map((part, i) => ({
        name: part.name,
        path: part.path,
        parent: part.parent,
        ...shapeOf(model, part),
        ...(lines[i] && { lines: lines[i] }),
        inPicture: part.inPicture,
        surroundings: part.surroundings,
      })),
      finishes: model.finishes.map((f) => f.name),
      textures: model.textures.length,
      lamps: model.lamps.length,
      cameras,
      bounds,
      warnings: [...new Set(warnings)],
    },
  };
}
