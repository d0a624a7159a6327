/** Equirectangular surrounds: their light, and the tables by which directions are drawn. */

/** Texels of a sky across and down: 1.4° each, finer than any of the skies changes. */
export const SKY_SIZE = { width: 256, height: 128 };

/** Whatever lights from all around, as texels. */
export interface EnvironmentTexels {
  width: number;
  height: number;
  /** Linear Rec. 709, three a texel, rows from the zenith down, the middle column looking to -Z. */
  texels: Float32Array;
}

/** An image of light from all around, ready to be sampled. */
export interface EnvironmentMap extends EnvironmentTexels {
  /** Content hash; a frame names the image by it. */
  id: string;
}

/** Chances by which directions of an environment map are drawn. */
export interface EnvironmentCdf {
  /** Cumulative chance of the rows, height + 1 values from 0 to 1. */
  rows: Float32Array;
  /** Of the columns in each row, width + 1 values a row. */
  columns: Float32Array;
  /** Mean luminance over the sphere. */
  mean: number;
}

/** Cumulative chances of the weights, ending on exactly 1; even where there is no weight. */
function cumulativeSums(weights: ArrayLike<number>, out: Float32Array): number {
  let total = 0;
  for (let i = 0; i < weights.length; i++) total += weights[i]!;
  let sum = 0;
  for (let i = 0; i < weights.length; i++) {
    out[i] = total > 0 ? sum / total : i / weights.length;
    sum += weights[i]!;
  }
  out[weights.length] = 1;
  return total;
}

/**
 * The tables of an image. A cell's weight is the mean over itself and its neighbours, since light is
 * read between texels: nothing that shines is left without a chance.
 */
export function environmentCdf({ width, height, texels }: EnvironmentTexels): EnvironmentCdf {
  const light = (x: number, y: number): number => {
    const i = (Math.min(Math.max(y, 0), height - 1) * width + ((x + width) % width)) * 3;
    return 0.2126 * texels[i]! + 0.7152 * texels[i + 1]! + 0.0722 * texels[i + 2]!;
  };
  const rows = new Float32Array(height + 1);
  const columns = new Float32Array(height * (width + 1));
  const rowWeights = new Float64Array(height);
  const weights = new Float64Array(width);
  let sum = 0;
  let solid = 0;
  for (let y = 0; y < height; y++) {
    const level = Math.sin(((y + 0.5) / height) * Math.PI);
    for (let x = 0; x < width; x++) {
      let w = 0;
      for (let j = -1; j <= 1; j++) for (let i = -1; i <= 1; i++) w += light(x + i, y + j) * (i === 0 && j === 0 ? 4 : i === 0 || j === 0 ? 2 : 1);
      weights[x] = w / 16;
      sum += light(x, y) * level;
      solid += level;
    }
    rowWeights[y] = cumulativeSums(weights, columns.subarray(y * (width + 1), (y + 1) * (width + 1))) * level;
  }
  cumulativeSums(rowWeights, rows);
  return { rows, columns, mean: sum / solid };
}
