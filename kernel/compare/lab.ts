/** CIE 1976 L*a*b* of display colours (CIE 15:2018; D65 white and matrix of IEC 61966-2-1), four pixels at a time. */
import { pitchOf } from "./plane";

/** Rows of linear Rec. 709 to XYZ, each divided by its sum, so that white comes out as 1, 1, 1. */
const X_SUM: f32 = 0.4124 + 0.3576 + 0.1805;
const Y_SUM: f32 = 0.2126 + 0.7152 + 0.0722;
const Z_SUM: f32 = 0.0193 + 0.1192 + 0.9505;

/** f of CIE 15: the cube root, and a line below (6 / 29)^3. */
// @ts-ignore: decorator
@inline
function f(t: v128): v128 {
  // A third of the exponent is within 4 % of the root; each step of Halley's cubes the error.
  const guess = f32x4.mul(f32x4.convert_i32x4_u(t), f32x4.splat(<f32>(1.0 / 3.0)));
  let y = i32x4.add(i32x4.trunc_sat_f32x4_u(guess), i32x4.splat(709921077));
  for (let k: i32 = 0; k < 2; k++) {
    const cube = f32x4.mul(f32x4.mul(y, y), y);
    const twice = f32x4.add(cube, cube);
    y = f32x4.div(f32x4.mul(y, f32x4.add(cube, f32x4.add(t, t))), f32x4.add(twice, t));
  }
  const line = f32x4.add(f32x4.mul(t, f32x4.splat(<f32>(841.0 / 108.0))), f32x4.splat(<f32>(4.0 / 29.0)));
  return v128.bitselect(y, line, f32x4.gt(t, f32x4.splat(<f32>(216.0 / 24389.0))));
}

// @ts-ignore: decorator
@inline
function mix(r: v128, g: v128, b: v128, kr: f32, kg: f32, kb: f32): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(r, f32x4.splat(kr)), f32x4.mul(g, f32x4.splat(kg))), f32x4.mul(b, f32x4.splat(kb)));
}

/** A pixel before the ground, its alpha 255. */
function overGround(pixel: u32, ground: u32): u32 {
  const alpha = pixel >> 24;
  const behind = (255 - alpha) * ground + 127;
  const r = (alpha * (pixel & 255) + behind) / 255, g = (alpha * ((pixel >> 8) & 255) + behind) / 255, b = (alpha * ((pixel >> 16) & 255) + behind) / 255;
  return 0xff000000 | (b << 16) | (g << 8) | r;
}

/** Of four pixels, the values in a table of bytes that stand at `shift` bits. */
// @ts-ignore: decorator
@inline
function lookUp(pixels: v128, shift: i32, table: usize): v128 {
  const places = i32x4.shl(v128.and(i32x4.shr_u(pixels, shift), i32x4.splat(255)), 2);
  let v = v128.load32_zero(table + <usize>i32x4.extract_lane(places, 0));
  v = v128.load_lane<f32>(table + <usize>i32x4.extract_lane(places, 1), v, 1);
  v = v128.load_lane<f32>(table + <usize>i32x4.extract_lane(places, 2), v, 2);
  return v128.load_lane<f32>(table + <usize>i32x4.extract_lane(places, 3), v, 3);
}

/**
 * Planes of L*, a* and b*, `plane` bytes apart.
 * `pixels` are RGBA bytes, sRGB, alpha straight, with room for three more, and `table` the 256 of them in linear light; `ground` is the
 * byte of the grey behind what is clear.
 */
export function labPlanes(pixels: usize, width: i32, rows: i32, table: usize, ground: u32, out: usize, plane: usize): void {
  const pitch = pitchOf(width), opaque = i32x4.splat(0xff000000);
  for (let y: i32 = 0; y < rows; y++) {
    const from = pixels + (<usize>(y * width) << 2), to = out + <usize>y * pitch;
    for (let x: i32 = 0; x < width; x += 4) {
      let four = v128.load(from + (<usize>x << 2));
      if (!i32x4.all_true(i32x4.eq(v128.and(four, opaque), opaque))) {
        four = i32x4.replace_lane(four, 0, overGround(i32x4.extract_lane(four, 0), ground));
        four = i32x4.replace_lane(four, 1, overGround(i32x4.extract_lane(four, 1), ground));
        four = i32x4.replace_lane(four, 2, overGround(i32x4.extract_lane(four, 2), ground));
        four = i32x4.replace_lane(four, 3, overGround(i32x4.extract_lane(four, 3), ground));
      }
      const r = lookUp(four, 0, table), g = lookUp(four, 8, table), b = lookUp(four, 16, table);
      const fx = f(mix(r, g, b, <f32>0.4124 / X_SUM, <f32>0.3576 / X_SUM, <f32>0.1805 / X_SUM));
      const fy = f(mix(r, g, b, <f32>0.2126 / Y_SUM, <f32>0.7152 / Y_SUM, <f32>0.0722 / Y_SUM));
      const fz = f(mix(r, g, b, <f32>0.0193 / Z_SUM, <f32>0.1192 / Z_SUM, <f32>0.9505 / Z_SUM));
      const o = to + (<usize>x << 2);
      v128.store(o, f32x4.sub(f32x4.mul(fy, f32x4.splat(116)), f32x4.splat(16)));
      v128.store(o + plane, f32x4.mul(f32x4.sub(fx, fy), f32x4.splat(500)));
      v128.store(o + 2 * plane, f32x4.mul(f32x4.sub(fy, fz), f32x4.splat(200)));
    }
  }
}
