/** Clear pictures over a colour, mixed as light is: display values are made linear first, so that edges are not ragged. */
import { parseHex, toDisplay, toLinear } from '../units/colour.js';

const LINEAR = Float32Array.from({ length: 256 }, (_, i) => toLinear(i / 255));
const STEPS = 4096;
const DISPLAY = Uint8ClampedArray.from({ length: STEPS + 1 }, (_, i) => Math.round(255 * toDisplay((i / STEPS) ** 2)));

/** Display byte of linear light 0..1; by table over its square root, which is exact to one step. */
const displayOf = (light: number): number => DISPLAY[Math.round(Math.sqrt(Math.min(1, Math.max(0, light))) * STEPS)]!;

/** RGB bytes of straight RGBA bytes over a colour. @param share how much of the picture is seen; the rest is `veil`. */
export function overColour(rgba: Uint8Array, background: string, share = 1, veil = '#000000'): Uint8Array {
  const [behind, before] = [parseHex(background), parseHex(veil)];
  const out = new Uint8Array((rgba.length / 4) * 3);
  for (let i = 0, at = 0; i < rgba.length; i += 4) {
    const alpha = rgba[i + 3]! / 255;
    // Untouched values stay to the bit.
    const whole = alpha === 1 && share === 1;
    for (let c = 0; c < 3; c++) {
      const light = LINEAR[rgba[i + c]!]! * alpha + behind[c]! * (1 - alpha);
      out[at++] = whole ? rgba[i + c]! : displayOf(light * share + before[c]! * (1 - share));
    }
  }
  return out;
}
