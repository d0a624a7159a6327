/** Limits of what a model may hold. They bound memory and time; each is told with its number where it is exceeded. */
import type { Model } from '../core/model/model.js';
import { ModelError } from './format.js';

/** Texels of all textures of a model or a set together: 16 of 4096 × 4096, one gigabyte. */
export const MAX_TEXELS = 2 ** 28;
/** Parts of a model at most. */
export const MAX_PARTS = 200_000;
/** Levels of a model's tree at most. */
export const MAX_NESTING = 500;
/** Triangles with every instance counted. */
export const MAX_PLACED_TRIANGLES = 200_000_000;
/** Metres from the origin; the Earth's circumference is less. */
export const MAX_COORDINATE = 1e8;
/** A texture is not reduced below this side, so that a model of very many textures is refused instead. */
const MIN_REDUCED_SIDE = 64;

/** Texels set aside for each texture that is still to come: 1024 × 1024. */
const RESERVED_TEXELS = 2 ** 20;

const count = (n: number): string => n.toLocaleString('en');

/** Shares the texels of one model among its textures, in the order in which they are read. */
export class TextureBudget {
  private left: number;

  /** @param expected how many textures will be taken: for those to come some texels are set aside, so that large ones do not leave them without any. */
  constructor(
    private readonly most = MAX_TEXELS,
    private readonly warn: (line: string) => void = () => {},
    private expected = 0,
  ) {
    this.left = most;
  }

  /**
   * The size at which a texture is read: its own, or halved until it fits in what is left, which is warned of.
   * Throws ModelError where even a small one does not fit.
   */
  take(name: string, width: number, height: number): { width: number; height: number } {
    let [w, h] = [width, height];
    this.expected = Math.max(0, this.expected - 1);
    const reserve = Math.min(this.expected * RESERVED_TEXELS, this.left / 2);
    while (w * h > this.left - reserve && Math.max(w, h) > MIN_REDUCED_SIDE) [w, h] = [Math.max(1, w >> 1), Math.max(1, h >> 1)];
    if (w * h > this.left)
      throw new ModelError(`The textures have more than ${count(this.most)} texels together, which is the most. Reduce them before exporting.`);
    this.left -= w * h;
    if (w !== width)
      this.warn(
        `The texture "${name}" is ${width} × ${height} and is reduced to ${w} × ${h}: all textures together may have ${count(this.most)} texels.`,
      );
    return { width: w, height: h };
  }
}

/** Throws ModelError where a model has more parts, levels or instances than can be worked with, or reaches too far. */
export function checkBudget(model: Model, name: string): void {
  if (model.parts.length > MAX_PARTS)
    throw new ModelError(`"${name}" has ${count(model.parts.length)} parts; ${count(MAX_PARTS)} is the most. Join parts before exporting.`);
  const depth: number[] = [];
  let placed = 0;
  const reach = model.meshes.map(() => -1);
  for (const part of model.parts) {
    const own = part.parent >= 0 ? depth[part.parent]! + 1 : 0;
    depth.push(own);
    if (own > MAX_NESTING) throw new ModelError(`"${name}" has parts nested more than ${MAX_NESTING} deep; flatten the tree before exporting.`);
    for (const p of part.primitives) {
      const mesh = model.meshes[p.mesh]!;
      placed += mesh.indices.length / 3;
      if (reach[p.mesh]! < 0) {
        let most = 0;
        for (const v of mesh.positions) most = Math.max(most, Math.abs(v));
        reach[p.mesh] = most;
      }
      const w = part.world;
      for (let k = 0; k < 3; k++) {
        const far = (Math.abs(w[k]!) + Math.abs(w[4 + k]!) + Math.abs(w[8 + k]!)) * reach[p.mesh]! + Math.abs(w[12 + k]!);
        if (!(far <= MAX_COORDINATE))
          throw new ModelError(
            `"${name}": the part "${part.name}" reaches ${far.toExponential(0)} m from the origin; ${MAX_COORDINATE.toExponential(0)} m is the most. Check its unit, or move it to the origin.`,
          );
      }
    }
  }
  if (placed > MAX_PLACED_TRIANGLES)
    throw new ModelError(
      `"${name}" has ${count(placed)} triangles with its instances; ${count(MAX_PLACED_TRIANGLES)} is the most. Reduce it before exporting.`,
    );
}
