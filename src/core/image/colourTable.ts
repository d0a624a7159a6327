/** Tables from colour to colour: three-dimensional, over display values 0..1. */

/** A colour for each place of a cube of colours. */
export interface ColourTable {
  /** Entries a side. */
  side: number;
  /** side³ · 3 values, red fastest. */
  values: Float32Array;
}

const MOST = 65535;

/** Values as base64 of 16-bit numbers, little endian; they are clipped to 0..1. */
export function encodeTable3d({ values }: ColourTable): string {
  const bytes = new Uint8Array(values.length * 2);
  const view = new DataView(bytes.buffer);
  values.forEach((v, i) => view.setUint16(i * 2, Math.round(Math.min(1, Math.max(0, v)) * MOST), true));
  let text = '';
  for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return btoa(text);
}

/** The other way round. */
export function decodeTable3d(side: number, base64: string): ColourTable {
  const letters = atob(base64);
  const values = new Float32Array(side ** 3 * 3);
  for (let i = 0; i < values.length; i++) values[i] = (letters.charCodeAt(2 * i) + 256 * letters.charCodeAt(2 * i + 1)) / MOST;
  return { side, values };
}

/**
 * The colour of a colour 0..1, into `out`. Between entries by tetrahedra (Kasson, Nin, Plouffe, Hafner, "Performing color
 * space conversions with three-dimensional linear interpolation", Journal of Electronic Imaging 4(3), 1995), so that greys
 * stay on the diagonal.
 */
export function lookUpColour({ side, values }: ColourTable, r: number, g: number, b: number, out: Float32Array): void {
  const most = side - 1;
  const [x, y, z] = [r * most, g * most, b * most];
  const [i, j, k] = [Math.min(most - 1, Math.floor(x)), Math.min(most - 1, Math.floor(y)), Math.min(most - 1, Math.floor(z))];
  const [u, v, w] = [x - i, y - j, z - k];
  const [dx, dy, dz] = [3, 3 * side, 3 * side * side];
  const at = i * dx + j * dy + k * dz;
  // The corners that are passed from black to white, in the order of the larger fractions.
  let first: number;
  let second: number;
  let a: number;
  let m: number;
  let c: number;
  if (u >= v) {
    if (v >= w) [first, second, a, m, c] = [dx, dx + dy, u, v, w];
    else if (u >= w) [first, second, a, m, c] = [dx, dx + dz, u, w, v];
    else [first, second, a, m, c] = [dz, dx + dz, w, u, v];
  } else if (u >= w) [first, second, a, m, c] = [dy, dx + dy, v, u, w];
  else if (v >= w) [first, second, a, m, c] = [dy, dy + dz, v, w, u];
  else [first, second, a, m, c] = [dz, dy + dz, w, v, u];
  const all = dx + dy + dz;
  for (let q = 0; q < 3; q++)
    out[q] = values[at + q]! * (1 - a) + values[at + first + q]! * (a - m) + values[at + second + q]! * (m - c) + values[at + all + q]! * c;
}

/** A table of a function of colours. */
export function tableFrom(side: number, map: (rgb: Float32Array) => void): ColourTable {
  const values = new Float32Array(side ** 3 * 3);
  for (let i = 0; i < side ** 3; i++) {
    const rgb = values.subarray(i * 3, i * 3 + 3);
    rgb.set([i % side, Math.floor(i / side) % side, Math.floor(i / side ** 2)].map((n) => n / (side - 1)));
    map(rgb);
  }
  return { side, values };
}
