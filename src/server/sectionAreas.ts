/** Areas that a section reveal cuts, frame by frame. */
import { kindOf } from '../core/shots/kinds.js';
import { setImmediate } from 'node:timers/promises';
import { isClosedMesh, sectionAreas } from '../core/math/sectionArea.js';
import type { Vec3 } from '../core/math/bounds.js';
import { planFrames } from '../core/planning/planFrames.js';
import type { CompiledScene } from '../engine/scene/compile.js';
import { resolveScene } from '../engine/scene/resolveScene.js';
import type { ServerContext } from './context.js';
import type { PlanSet, Project, Revision } from './db/models.js';
import { ServerError } from './errors.js';
import { planContext } from './revisions.js';
import { setFileOf } from './sets.js';
import { isBelow } from '../core/model/paths.js';

/** Triangles times frames that are cut at most; of more, evenly chosen frames stand for their neighbours. */
const MAX_CUTS = 40_000_000;
/** Of these, cut in one go: some milliseconds. */
const CONCURRENT_CUTS = 100_000;

/** A mesh's positions in the world, by its part's matrix. */
function positionsOf({ image, meshes }: CompiledScene, mesh: number, world: readonly number[]): { positions: Float64Array; indices: Uint32Array } {
  const entry = meshes[mesh]!;
  // Copied, since the image need not begin at a multiple of four.
  const local = new Float32Array(image.slice(entry.position, entry.position + entry.vertices * 12).buffer);
  const indices = new Uint32Array(image.slice(entry.index, entry.index + entry.triangles * 12).buffer);
  const positions = new Float64Array(local.length);
  for (let i = 0; i < local.length; i += 3)
    for (let k = 0; k < 3; k++)
      positions[i + k] = world[k]! * local[i]! + world[4 + k]! * local[i + 1]! + world[8 + k]! * local[i + 2]! + world[12 + k]!;
  return { positions, indices };
}

/** Square metres of solids, a frame of the shot, or as many evenly chosen ones as time allows. Throws 404 and 422. */
export async function revealAreas(
  { store }: ServerContext,
  project: Project,
  set: PlanSet,
  revision: Revision,
  shot: string,
): Promise<{ areas: number[]; offsets: number[]; every: number }> {
  const file = setFileOf(set);
  const chosen = file.shots.find((s) => s.id === shot);
  if (!chosen || !kindOf(chosen).movesPlane) throw new ServerError('not-found', `There is no section reveal "${shot}" in this set.`);
  let frames;
  try {
    frames = planFrames({ ...file, shots: [chosen] }, planContext(project, revision)).filter((f) => f.shot === shot);
  } catch (e) {
    throw new ServerError('unusable', (e as Error).message);
  }
  // One that is switched off has no frames.
  if (frames.length === 0) return { areas: [], offsets: [], every: 1 };
  const scene = await resolveScene(frames[0]!, store.source(revision.hash)).load();
  // The shot's own plane stands behind those of the set.
  const { normal, part } = frames[0]!.section!.planes.at(-1)!;
  const cut = scene.parts.filter((p) => p.renderVisible && (part === undefined ? !p.isContext : isBelow(p.path, part)));
  const triangles = cut.reduce((n, p) => n + p.primitives.reduce((m, q) => m + scene.meshes[q.mesh]!.triangles, 0), 0);
  const every = Math.max(1, Math.ceil((triangles * frames.length) / MAX_CUTS));
  const offsets = frames.filter((_, i) => i % every === 0).map((f) => f.section!.planes.at(-1)!.offset);
  const areas = offsets.map(() => 0);
  for (const p of cut) {
    for (const { mesh } of p.primitives) {
      const solid = positionsOf(scene, mesh, p.world);
      if (!isClosedMesh(solid)) continue;
      const slice = Math.max(1, Math.floor(CONCURRENT_CUTS / (solid.indices.length / 3)));
      for (let from = 0; from < offsets.length; from += slice) {
        sectionAreas(solid, normal as Vec3, offsets.slice(from, from + slice)).forEach((a, i) => (areas[from + i]! += a));
        // Whoever asks for something else meanwhile comes in between.
        await setImmediate();
      }
    }
  }
  return { areas, offsets, every };
}
