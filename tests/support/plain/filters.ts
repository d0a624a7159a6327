/** Filters of single planes; beyond the edge the nearest pixel stands. */

/** One value a pixel, rows from the top. */
export interface Plane {
  width: number;
  height: number;
  values: Float32Array;
}

/** Weights of a Gaussian over 2 r + 1 that add up to 1. */
export function gaussWeights(r: number, sigma: number): number[] {
  const raw = Array.from({ length: 2 * r + 1 }, (_, i) => Math.exp(-((i - r) ** 2) / (2 * sigma * sigma)));
  const sum = raw.reduce((a, b) => a + b, 0);
  return raw.map((w) => w / sum);
}

/** Each row with `r` more pixels at both ends, one after another through the same room. */
function forEachPaddedRow({ width, height, values }: Plane, r: number, use: (row: Float32Array, y: number) => void): void {
  const row = new Float32Array(width + 2 * r);
  for (let y = 0; y < height; y++) {
    const from = y * width;
    row.set(values.subarray(from, from + width), r);
    row.fill(values[from]!, 0, r);
    row.fill(values[from + width - 1]!, r + width);
    use(row, y);
  }
}

/** The plane under a filter that is the same along rows and columns; `weights` has an odd count. */
export function filterPlane(plane: Plane, weights: readonly number[]): Plane {
  const { width, height } = plane;
  const r = (weights.length - 1) / 2;
  const across = new Float32Array(width * height);
  forEachPaddedRow(plane, r, (row, y) => {
    const out = across.subarray(y * width, (y + 1) * width);
    weights.forEach((w, k) => {
      for (let x = 0; x < width; x++) out[x]! += w * row[x + k]!;
    });
  });
  const values = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const out = values.subarray(y * width, (y + 1) * width);
    weights.forEach((w, k) => {
      const from = Math.min(height - 1, Math.max(0, y + k - r)) * width;
      for (let x = 0; x < width; x++) out[x]! += w * across[from + x]!;
    });
  }
  return { width, height, values };
}

/** The mean over 2 r + 1 either way, by running sums: its cost does not depend on r. */
export function meanPlane(plane: Plane, r: number): Plane {
  const { width, height } = plane;
  const span = 2 * r + 1;
  const across = new Float32Array(width * height);
  forEachPaddedRow(plane, r, (row, y) => {
    let sum = 0;
    for (let k = 0; k < span - 1; k++) sum += row[k]!;
    for (let x = 0; x < width; x++) {
      sum += row[x + span - 1]!;
      across[y * width + x] = sum;
      sum -= row[x]!;
    }
  });
  const values = new Float32Array(width * height);
  const sums = new Float64Array(width);
  const rowAt = (y: number): number => Math.min(height - 1, Math.max(0, y)) * width;
  for (let y = -r; y < r; y++) for (let x = 0, from = rowAt(y); x < width; x++) sums[x]! += across[from + x]!;
  const share = 1 / (span * span);
  for (let y = 0; y < height; y++) {
    const [row, next, past] = [y * width, rowAt(y + r), rowAt(y - r)];
    for (let x = 0; x < width; x++) {
      const sum = sums[x]! + across[next + x]!;
      values[row + x] = sum * share;
      sums[x] = sum - across[past + x]!;
    }
  }
  return { width, height, values };
}

/** Every block of `factor` × `factor` as its mean; what is left over at the right and below stands for itself. */
export function shrinkPlane({ width, height, values }: Plane, factor: number): Plane {
  const [w, h] = [Math.ceil(width / factor), Math.ceil(height / factor)];
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const [right, below] = [Math.min(width, (x + 1) * factor), Math.min(height, (y + 1) * factor)];
      let sum = 0;
      for (let v = y * factor; v < below; v++) for (let u = x * factor; u < right; u++) sum += values[v * width + u]!;
      out[y * w + x] = sum / ((below - y * factor) * (right - x * factor));
    }
  }
  return { width: w, height: h, values: out };
}
