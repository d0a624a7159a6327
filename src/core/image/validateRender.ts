/** Looks at a traced picture before it counts. */

/** Below this luminance a pixel counts as black. */
const BLACK_LEVEL = 1e-4;

/**
 * Why a picture must not count, or null: a value that is not a number, everything black, or nothing
 * of the model in it (`cover` holds the share of samples that met a surface, one value a pixel). A
 * picture with a clear backdrop may be black where nothing stands, so only the model can light it.
 */
export function validateRender(colour: Float32Array, cover?: (pixel: number) => number, clear = false): string | null {
  let lit = 0;
  let met = 0;
  for (let i = 0; i < colour.length; i += 3) {
    const sum = colour[i]! + colour[i + 1]! + colour[i + 2]!;
    if (!Number.isFinite(sum)) return `The render has a value that is not a number, at pixel ${i / 3}.`;
    if (sum > BLACK_LEVEL) lit++;
    if (cover && cover(i / 3) > 0) met++;
  }
  if (lit === 0) return `The render is black: ${clear ? 'nothing of the model is lit' : 'no light reaches the view'}.`;
  if (cover && met === 0) return 'The render is empty: no part of the model is in the view. Move the view or fit it.';
  return null;
}
