/** Reads out of a traced picture what stands in a pixel. */
import * as L from '../../../kernel/layout.js';
import { CAP_NAME, GROUND_NAME, HATCH_NAME } from '../../core/image/addedNames.js';
import { type PassId, PASSES } from '../../core/image/passes.js';
import type { PixelContent } from '../../core/image/pixelContent.js';
import { passPlane } from '../output/passes.js';
import type { CompiledScene } from '../scene/compile.js';
import type { LinearRender } from '../scheduler/job.js';
import { cryptomatteHash } from '../upload/memoryViews.js';

/** Passes that a picture must have to be asked; those of light and the mattes. */
export const PIXEL_PASSES: PassId[] = ['beauty', 'diffuse', 'specular', 'occlusion', 'shadow', 'position', 'normal', 'albedo', 'parts', 'materials'];
/** Passes whose values are told. */
const TOLD = PASSES.filter((p) => p.needs === 'light' || p.id === 'albedo' || p.id === 'alpha').filter((p) => p.id !== 'position');

/** @param picture traced with PIXEL_PASSES. @param scene as resolveScene has it for the frame. */
export function pixelContent(
  { sums, stride, width }: Pick<LinearRender, 'sums' | 'stride' | 'width'>,
  scene: Pick<CompiledScene, 'parts' | 'materials'>,
  x: number,
  y: number,
): PixelContent {
  const from = (y * width + x) * stride;
  const own = sums.slice(from, from + stride);
  const n = Math.max(1, own[L.PIXEL_COUNT]!);
  const colour = [0, 1, 2].map((c) => own[c]! / n) as PixelContent['colour'];
  const source = { width: 1, height: 1, colour: Float32Array.from(colour), sums: own, stride };
  const passes: PixelContent['passes'] = Object.fromEntries(TOLD.map(({ id }) => [id, [...passPlane(source, id)]]));
  const cover = own[L.PIXEL_COVERAGE]!;
  if (cover === 0) return { part: null, material: null, distance: null, place: null, normal: null, colour, passes };
  const bits = new Uint32Array(own.buffer);
  const strongest = (first: number): number => {
    let best = 0;
    for (let k = 1; k < L.MATTE_PAIRS; k++) if (own[first + 2 * k + 1]! > own[first + 2 * best + 1]!) best = k;
    return bits[first + 2 * best]!;
  };
  const mattes = stride - L.MATTES_FLOATS;
  const [part, material] = [strongest(mattes), strongest(mattes + L.MATTE_PAIRS * 2)];
  const three = (id: PassId): [number, number, number] => [...passPlane(source, id)] as [number, number, number];
  return {
    part: scene.parts.find((p) => cryptomatteHash(p.path) === part)?.path ?? null,
    material: [...scene.materials.map((f) => f.name), GROUND_NAME, CAP_NAME, HATCH_NAME].find((name) => cryptomatteHash(name) === material) ?? null,
    distance: own[L.PIXEL_DEPTH]! / cover,
    place: three('position'),
    normal: three('normal'),
    colour,
    passes,
  };
}
