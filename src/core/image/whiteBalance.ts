/** White balance: what makes the light of a colour temperature look neutral. */
import { NEUTRAL_KELVIN, blackBody } from '../units/colourTemperature.js';

/** A matrix over colours, by rows. */
export type Matrix = [number, number, number, number, number, number, number, number, number];

// IEC 61966-2-1: linear Rec. 709 to XYZ and back.
const TO_XYZ: Matrix = [0.4123908, 0.3575843, 0.1804808, 0.212639, 0.7151687, 0.0721923, 0.0193308, 0.1191948, 0.9505322];
const FROM_XYZ: Matrix = [3.2409699, -1.5373832, -0.4986108, -0.9692436, 1.8759675, 0.0415551, 0.0556301, -0.203977, 1.0569715];
// Lam, "Metamerism and colour constancy", 1985 (the Bradford transform): XYZ to sharpened cones and back.
const TO_CONES: Matrix = [0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296];
const FROM_CONES: Matrix = [0.9869929, -0.1470543, 0.1599627, 0.4323053, 0.5183603, 0.0492912, -0.0085287, 0.0400428, 0.9684867];

const applyMatrix = (m: Matrix, v: readonly number[]): [number, number, number] => [
  m[0] * v[0]! + m[1] * v[1]! + m[2] * v[2]!,
  m[3] * v[0]! + m[4] * v[1]! + m[5] * v[2]!,
  m[6] * v[0]! + m[7] * v[1]! + m[8] * v[2]!,
];

function multiplyMatrices(a: Matrix, b: Matrix): Matrix {
  const columns = [0, 1, 2].map((c) => applyMatrix(a, [b[c]!, b[c + 3]!, b[c + 6]!]));
  return [0, 1, 2].flatMap((r) => columns.map((column) => column[r]!)) as Matrix;
}

/** The matrix that undoes another, by its cofactors. */
export function invertMatrix([a, b, c, d, e, f, g, h, i]: Matrix): Matrix {
  const [p, q, r] = [e * i - f * h, f * g - d * i, d * h - e * g];
  const k = 1 / (a * p + b * q + c * r);
  return [p, c * h - b * i, b * f - c * e, q, a * i - c * g, c * d - a * f, r, b * g - a * h, a * e - b * d].map((v) => v * k) as Matrix;
}

function conesOf(kelvin: number): [number, number, number] {
  const [x, y] = blackBody(kelvin);
  return applyMatrix(TO_CONES, [x / y, 1, (1 - x - y) / y]);
}

/** Matrix over linear Rec. 709, by rows, that makes light of this temperature neutral; null where nothing changes. */
export function whiteMatrix(kelvin: number): Matrix | null {
  if (kelvin === NEUTRAL_KELVIN) return null;
  const [to, from] = [conesOf(NEUTRAL_KELVIN), conesOf(kelvin)];
  const scale: Matrix = [to[0] / from[0], 0, 0, 0, to[1] / from[1], 0, 0, 0, to[2] / from[2]];
  return multiplyMatrices(FROM_XYZ, multiplyMatrices(FROM_CONES, multiplyMatrices(scale, multiplyMatrices(TO_CONES, TO_XYZ))));
}
