/**
 * Structural similarity (Wang, Bovik, Sheikh, Simoncelli: "Image quality assessment: from error visibility to structural
 * similarity", IEEE Transactions on Image Processing 13, 2004): Gaussian window of 11 × 11 with sigma 1.5, K1 0.01, K2 0.03.
 */
import { expNeg } from "../math";
import { extend, inPlane, pitchOf, planeBytes } from "./plane";

const RADIUS: i32 = 5;
const SIGMA: f32 = 1.5;
/** Room of the window's weights, each four times over. */
const WEIGHT_BYTES: usize = (2 * RADIUS + 1) * 16;

/** Bytes that `ssimOfPlanes` works in. */
export function ssimScratchBytes(width: i32, rows: i32): usize {
  return WEIGHT_BYTES + 7 * planeBytes(width, rows);
}

function writeWeights(at: usize): void {
  let total: f32 = 0;
  for (let k: i32 = -RADIUS; k <= RADIUS; k++) total += expNeg(<f32>(k * k) / (2 * SIGMA * SIGMA));
  for (let k: i32 = -RADIUS; k <= RADIUS; k++)
    v128.store(at + (<usize>(k + RADIUS) << 4), f32x4.splat(expNeg(<f32>(k * k) / (2 * SIGMA * SIGMA)) / total));
}

/** The plane of products under the window, which is the same along rows and columns. */
function meanOfProducts(a: usize, b: usize, width: i32, rows: i32, weights: usize, product: usize, across: usize, out: usize): void {
  const pitch = pitchOf(width);
  for (let y: i32 = 0; y < rows; y++)
    for (let x: i32 = 0; x < width; x += 4) {
      const o = <usize>y * pitch + (<usize>x << 2);
      v128.store(product + o, b == 0 ? v128.load(a + o) : f32x4.mul(v128.load(a + o), v128.load(b + o)));
    }
  extend(product, width, rows);
  for (let pass: i32 = 0; pass < 2; pass++) {
    const from = pass == 0 ? product : across, to = pass == 0 ? across : out;
    const step = pass == 0 ? <usize>4 : pitch;
    for (let y: i32 = 0; y < rows; y++)
      for (let x: i32 = 0; x < width; x += 4) {
        const o = <usize>y * pitch + (<usize>x << 2);
        let sum = f32x4.splat(0);
        for (let k: i32 = -RADIUS; k <= RADIUS; k++) {
          const weight = v128.load(weights + (<usize>(k + RADIUS) << 4));
          sum = f32x4.add(sum, f32x4.mul(weight, v128.load(from + o + <usize>k * step)));
        }
        v128.store(to + o, sum);
      }
    if (pass == 0) extend(across, width, rows);
  }
}

/** The mean over all windows that lie within two planes; 1 for equal ones. `range` of the values: 100 for L*. */
export function ssimOfPlanes(a: usize, b: usize, width: i32, rows: i32, range: f64, scratch: usize): f64 {
  const size = planeBytes(width, rows), pitch = pitchOf(width);
  writeWeights(scratch);
  const product = inPlane(scratch + WEIGHT_BYTES, width), across = product + size;
  const ma = across + size, mb = ma + size, aa = mb + size, bb = aa + size, ab = bb + size;
  meanOfProducts(a, 0, width, rows, scratch, product, across, ma);
  meanOfProducts(b, 0, width, rows, scratch, product, across, mb);
  meanOfProducts(a, a, width, rows, scratch, product, across, aa);
  meanOfProducts(b, b, width, rows, scratch, product, across, bb);
  meanOfProducts(a, b, width, rows, scratch, product, across, ab);
  const c1 = (0.01 * range) * (0.01 * range), c2 = (0.03 * range) * (0.03 * range);
  // A picture smaller than the window has none that lies within it: all of it counts then.
  const edge = min(width, rows) > 2 * RADIUS ? RADIUS : 0;
  let sum: f64 = 0;
  for (let y: i32 = edge; y < rows - edge; y++)
    for (let x: i32 = edge; x < width - edge; x++) {
      const o = <usize>y * pitch + (<usize>x << 2);
      const m = <f64>load<f32>(ma + o), n = <f64>load<f32>(mb + o);
      const va = <f64>load<f32>(aa + o) - m * m, vb = <f64>load<f32>(bb + o) - n * n, cov = <f64>load<f32>(ab + o) - m * n;
      sum += ((2 * m * n + c1) * (2 * cov + c2)) / ((m * m + n * n + c1) * (va + vb + c2));
    }
  return sum / <f64>((rows - 2 * edge) * (width - 2 * edge));
}
