/** From files to what everything else works with: canonical GLB, compiled scene, summary. */
import { bytesToHex } from '@noble/hashes/utils.js';
import { type Bounds, emptyBounds, growBounds, isEmpty } from '../../core/math/bounds.js';
import { importedCameras, type ImportedCamera } from '../../core/model/importedCameras.js';
import type { PartShape } from '../../core/model/match.js';
import { type Model, modelBounds, type Part, triangleCount } from '../../core/model/model.js';
import { openModelFiles, readModel } from '../../formats/formats.js';
import type { AskedOptions, SourceFile } from '../../formats/format.js';
import { compile, encodeScene } from './compile.js';
import { reduceModel } from './viewportLod.js';

/** What the server keeps of a part. */
export interface PartSummary extends PartShape {
  /** Pieces of line, of a part that is lines; absent of revisions of earlier versions. */
  lines?: number;
  /** Its faces do not close: a section of it has no face to cap. Absent of closed ones, and of revisions of earlier versions. */
  open?: true;
  /** Square metres of each of its groups of faces; their materials' names stand in the same order. */
  areas: number[];
  parent: number;
  materials: string[];
  renderVisible: boolean;
  isContext: boolean;
}

/** What the server keeps of a model. */
export interface ModelSummary {
  /** Hash of the compiled scene; equal hash, equal pixels. */
  hash: string;
  name: string;
  /** Name of the file that was read, which an archive may have held; absent of revisions of earlier versions. */
  source?: string;
  triangles: number;
  /** Triangles of the lighter form that the viewport shows; absent where it shows the whole. */
  reduced?: number;
  /** Faces of solids were kept apart; absent where they were not. */
  facesApart?: true;
  parts: PartSummary[];
  materials: string[];
  textures: number;
  /** Lights that the file brought. */
  lights: number;
  /** Paths of the parts that they hang on; absent of revisions that were imported by an earlier version. */
  lightPaths?: string[];
  /** Views of the cameras that the file brought; absent of revisions of earlier versions. */
  cameras?: ImportedCamera[];
  bounds: Bounds;
  warnings: string[];
}

/** A summary without its parts, which may be very many: what lists tell of a model. */
export interface ModelDigest extends Omit<ModelSummary, 'parts'> {
  /** Parts with faces: a solid's edges are not what a person counts. */
  partCount: number;
}

/** The summary without its list of parts. */
export function digestOf({ parts, ...rest }: ModelSummary): ModelDigest {
  return { ...rest, partCount: parts.filter((p) => p.lines === undefined).length };
}

/** A model that was read, as it is kept. */
export interface Prepared {
  summary: ModelSummary;
  glb: Uint8Array;
  /** A lighter one for the quick viewport; null where the model is light enough. */
  viewport: Uint8Array | null;
  scene: Uint8Array;
}

/** Share of a part's area by which its faces may fail to close. */
const OPEN = 1e-3;

/** Size of a part alone, without what hangs below it, in the world; and its materials. */
function shapeOf(
  model: Model,
  { primitives, world }: Part,
): Omit<PartShape, 'name' | 'path'> & { materials: string[]; areas: number[]; open?: true } {
  const bounds = emptyBounds();
  let [triangles, area, volume] = [0, 0, 0];
  // The areas of a closed body's faces, as vectors, add up to nothing.
  let [sumX, sumY, sumZ] = [0, 0, 0];
  // One entry a group of faces, in the file's order: two groups may have one material.
  const [materials, areas]: [string[], number[]] = [[], []];
  for (const { mesh, material } of primitives) {
    const before = area;
    const { positions, indices } = model.meshes[mesh]!;
    triangles += indices.length / 3;
    // Plain arithmetic: there may be millions of them.
    const w = new Float64Array(positions.length);
    for (let i = 0; i < w.length; i += 3) {
      const [x, y, z] = [positions[i]!, positions[i + 1]!, positions[i + 2]!];
      for (let k = 0; k < 3; k++) w[i + k] = world[k]! * x + world[4 + k]! * y + world[8 + k]! * z + world[12 + k]!;
    }
    for (let t = 0; t < indices.length; t += 3) {
      const [a, b, c] = [indices[t]! * 3, indices[t + 1]! * 3, indices[t + 2]! * 3];
      for (const p of [a, b, c]) growBounds(bounds, w[p]!, w[p + 1]!, w[p + 2]!);
      const [ux, uy, uz] = [w[b]! - w[a]!, w[b + 1]! - w[a + 1]!, w[b + 2]! - w[a + 2]!];
      const [vx, vy, vz] = [w[c]! - w[a]!, w[c + 1]! - w[a + 1]!, w[c + 2]! - w[a + 2]!];
      const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
      area += Math.hypot(nx, ny, nz) / 2;
      sumX += nx / 2;
      sumY += ny / 2;
      sumZ += nz / 2;
      volume += (w[a]! * nx + w[a + 1]! * ny + w[a + 2]! * nz) / 6;
    }
    materials.push(model.materials[material]!.name);
    areas.push(area - before);
  }
  // JSON has no infinities.
  return {
    triangles,
    area,
    volume,
    materials,
    areas,
    ...(area > 0 && Math.hypot(sumX, sumY, sumZ) > OPEN * area && { open: true as const }),
    bounds: isEmpty(bounds) ? { min: [0, 0, 0], max: [0, 0, 0] } : bounds,
  };
}

/** A lighter form of the model. */
export interface ViewportLod {
  glb: Uint8Array;
  triangles: number;
}

/** The writer is loaded where it writes: whoever only opens what was prepared needs none. */
const writeGlb = async (model: Model): Promise<Uint8Array> => (await import('../../formats/glb/write.js')).writeGlb(model);

/** The lighter form of a heavy model for the quick viewport; null where it is light enough. */
export async function viewportLod(model: Model): Promise<ViewportLod | null> {
  const light = await reduceModel(model);
  return light && { glb: await writeGlb(light), triangles: triangleCount(light) };
}

/**
 * Reads, writes canonically, reads that back and compiles: whoever starts from the original or from
 * the canonical file gets the same scene, hence the same pixels. Throws ModelError.
 */
export async function prepare(
  module: WebAssembly.Module,
  files: SourceFile[],
  options: AskedOptions,
  onProgress: (share: number, what: string) => void = () => {},
  lighter: (model: Model) => Promise<ViewportLod | null> = viewportLod,
): Promise<Prepared> {
  onProgress(0, 'reading');
  const opened = await openModelFiles(files);
  const first = await readModel(opened.files, options);
  const glb = await writeGlb(first);
  onProgress(0.3, 'checking');
  const model = await readModel([{ name: `${first.name}.glb`, bytes: glb }], options);
  // Both take their time, so a caller that has threads makes the lighter form meanwhile.
  const reducing = lighter(model);
  const compiled = compile(module, model, (share) => onProgress(0.4 + 0.5 * share, 'building'));
  onProgress(0.9, 'reducing');
  const light = await reducing;
  const scene = encodeScene(compiled);
  // The platform's own is many times as fast as one written in script.
  const digest = await crypto.subtle.digest('SHA-256', scene as Uint8Array<ArrayBuffer>);
  onProgress(0.97, 'saving');
  const bounds = modelBounds(model);
  const lines: (number | undefined)[] = [];
  for (const { part, points } of model.curves) lines[part] = points.length / 6;
  const warnings = [...first.warnings, ...model.warnings];
  const cameras = importedCameras(model, bounds, (line) => warnings.push(line));
  return {
    glb,
    viewport: light?.glb ?? null,
    scene,
    summary: {
      hash: bytesToHex(new Uint8Array(digest)),
      name: first.name,
      source: opened.source,
      triangles: triangleCount(model),
      ...(light && { reduced: light.triangles }),
      ...(options.facesApart && { facesApart: true as const }),
      parts: model.parts.map((part, i) => ({
        name: part.name,
        path: part.path,
        parent: part.parent,
        ...shapeOf(model, part),
        ...(lines[i] && { lines: lines[i] }),
        renderVisible: part.renderVisible,
        isContext: part.isContext,
      })),
      materials: model.materials.map((f) => f.name),
      textures: model.textures.length,
      lights: model.lights.length,
      lightPaths: [...new Set(model.lights.map((l) => model.parts[l.part]!.path))],
      cameras,
      bounds,
      warnings: [...new Set(warnings)],
    },
  };
}
