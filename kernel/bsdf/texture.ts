/** Bilinear look-up in a texture, its bytes decoded before they are mixed. */
import {
  TEXTURE_WIDTH, TEXTURE_HEIGHT, TEXTURE_TEXELS, TEXTURE_WRAP_U, TEXTURE_WRAP_V, USE_TEXTURE, USE_LUT, USE_MATRIX, USE_MAPPING,
} from "../layout";
import { texU, texV, mapTexture } from "../intersect/intersectionData";

export let texelR: f32 = 0;
export let texelG: f32 = 0;
export let texelB: f32 = 0;
export let texelA: f32 = 0;

function wrap(i: i32, n: i32, mode: u32): i32 {
  if (mode == 1) return min(max(i, 0), n - 1);
  if (mode == 2) {
    const m = ((i % (2 * n)) + 2 * n) % (2 * n);
    return m < n ? m : 2 * n - 1 - m;
  }
  return ((i % n) + n) % n;
}

/** Looks a material's use of a texture up at the hit: u to the right, v down, one texture a unit, as glTF has it. */
export function sampleTexture(use: usize): void {
  mapTexture(load<u32>(use + USE_MAPPING));
  const u0 = texU, v0 = texV;
  const u: f32 = load<f32>(use, USE_MATRIX) * u0 + load<f32>(use, USE_MATRIX + 4) * v0 + load<f32>(use, USE_MATRIX + 8);
  const v: f32 = load<f32>(use, USE_MATRIX + 12) * u0 + load<f32>(use, USE_MATRIX + 16) * v0 + load<f32>(use, USE_MATRIX + 20);
  readTexture(<usize>load<u32>(use + USE_TEXTURE), <usize>load<u32>(use + USE_LUT), u, v);
}

/** A texture at (u, v), its bytes decoded by the table. */
export function readTexture(texture: usize, lut: usize, u: f32, v: f32): void {
  const w = <i32>load<u32>(texture + TEXTURE_WIDTH), h = <i32>load<u32>(texture + TEXTURE_HEIGHT);
  const texels = <usize>load<u32>(texture + TEXTURE_TEXELS);
  const mu = load<u32>(texture + TEXTURE_WRAP_U), mv = load<u32>(texture + TEXTURE_WRAP_V);
  const x: f32 = u * <f32>w - <f32>0.5, y: f32 = v * <f32>h - <f32>0.5;
  const fx = floor<f32>(x), fy = floor<f32>(y);
  const a: f32 = x - fx, b: f32 = y - fy;
  // Beyond this the integer overflows; such coordinates are a fault of the file and show as one texel.
  const ix = abs(fx) < <f32>1e9 ? <i32>fx : 0, iy = abs(fy) < <f32>1e9 ? <i32>fy : 0;
  const x0 = wrap(ix, w, mu), x1 = wrap(ix + 1, w, mu);
  const y0 = wrap(iy, h, mv), y1 = wrap(iy + 1, h, mv);
  texelR = texelG = texelB = texelA = 0;
  mixIn(texels + <usize>(y0 * w + x0) * 4, lut, (1 - a) * (1 - b));
  mixIn(texels + <usize>(y0 * w + x1) * 4, lut, a * (1 - b));
  mixIn(texels + <usize>(y1 * w + x0) * 4, lut, (1 - a) * b);
  mixIn(texels + <usize>(y1 * w + x1) * 4, lut, a * b);
}

// @ts-ignore: decorator
@inline
function mixIn(p: usize, lut: usize, k: f32): void {
  texelR += k * load<f32>(lut + (<usize>load<u8>(p) << 2));
  texelG += k * load<f32>(lut + (<usize>load<u8>(p, 1) << 2));
  texelB += k * load<f32>(lut + (<usize>load<u8>(p, 2) << 2));
  texelA += k * <f32>load<u8>(p, 3) * <f32>0.00392156862745098;
}
