/** CIE 1976 L*a*b* of display colours (CIE 15:2018; D65 white and matrix of IEC 61966-2-1). */
import { decodeTable } from '../../../src/core/units/colour.js';

/** Rows of linear Rec. 709 to XYZ, each divided by its sum, so that white comes out as 1, 1, 1. */
const TO_WHITE = [
  [0.4124, 0.3576, 0.1805],
  [0.2126, 0.7152, 0.0722],
  [0.0193, 0.1192, 0.9505],
].map((row) => row.map((v) => v / row.reduce((a, b) => a + b, 0)));

type Row = [number, number, number];
const [[XR, XG, XB], [YR, YG, YB], [ZR, ZG, ZB]] = TO_WHITE as [Row, Row, Row];

/** Steps of the table of f: the largest error is under 0.01 of L*, a tenth of what a byte can tell. */
const STEPS = 1 << 14;
const DELTA = 6 / 29;
const f = (t: number): number => (t > DELTA ** 3 ? Math.cbrt(t) : t / (3 * DELTA ** 2) + 4 / 29);

/** L*, a*, b* of a colour in linear Rec. 709. */
export function labOf(r: number, g: number, b: number): [number, number, number] {
  const fy = f(YR * r + YG * g + YB * b);
  return [116 * fy - 16, 500 * (f(XR * r + XG * g + XB * b) - fy), 200 * (fy - f(ZR * r + ZG * g + ZB * b))];
}

/** f at 0..1; the square root of the argument is the index, since f is steep near 0. */
const CURVE = Float32Array.from({ length: STEPS + 1 }, (_, i) => f((i / STEPS) ** 2));

/** A picture as people see it: three planes of L*, a* and b*. */
export interface LabPicture {
  width: number;
  height: number;
  planes: [Float32Array, Float32Array, Float32Array];
}

/**
 * @param data RGBA bytes, sRGB, alpha straight. @param ground byte of the grey that stands behind what is clear.
 */
export function toLab({ data, width, height }: { data: Uint8ClampedArray | Uint8Array; width: number; height: number }, ground = 0x7b): LabPicture {
  const count = width * height;
  const planes: LabPicture['planes'] = [new Float32Array(count), new Float32Array(count), new Float32Array(count)];
  const linear = decodeTable();
  const [L, A, B] = planes;
  for (let i = 0, k = 0; i < count; i++, k += 4) {
    const alpha = data[k + 3]!;
    let [r, g, b] = [data[k]!, data[k + 1]!, data[k + 2]!];
    if (alpha !== 255) {
      const behind = (255 - alpha) * ground;
      r = Math.round((alpha * r + behind) / 255);
      g = Math.round((alpha * g + behind) / 255);
      b = Math.round((alpha * b + behind) / 255);
    }
    const [lr, lg, lb] = [linear[r]!, linear[g]!, linear[b]!];
    const fy = CURVE[(Math.sqrt(YR * lr + YG * lg + YB * lb) * STEPS + 0.5) | 0]!;
    L[i] = 116 * fy - 16;
    A[i] = 500 * (CURVE[(Math.sqrt(XR * lr + XG * lg + XB * lb) * STEPS + 0.5) | 0]! - fy);
    B[i] = 200 * (fy - CURVE[(Math.sqrt(ZR * lr + ZG * lg + ZB * lb) * STEPS + 0.5) | 0]!);
  }
  return { width, height, planes };
}
