/**
 * Linear light as bytes to look at, four pixels at a time: white balance, tone curve, levels, contrast, saturation and a colour
 * table, as core/image/grade.ts and look.ts have them. What is a curve there comes as a table over the square root, whose steps are
 * finest in the dark.
 */
import {
  GRADE_ALPHA, GRADE_BLUE, GRADE_DISPLAY, GRADE_FLOOR, GRADE_GREEN, GRADE_MATRIX, GRADE_RATIO, GRADE_RED, GRADE_SATURATION,
  GRADE_TABLE, GRADE_TABLE_SHARE, GRADE_TABLE_SIDE, GRADE_DISPLAY_CELLS, GRADE_RATIO_CELLS,
} from "../layout";

let tableR: f32 = 0;
let tableG: f32 = 0;
let tableB: f32 = 0;

// @ts-ignore: decorator
@inline
function all(v: f32): v128 {
  return f32x4.splat(v);
}

// @ts-ignore: decorator
@inline
function weighted(r: v128, g: v128, b: v128, at: usize): v128 {
  const x = f32x4.mul(r, v128.load32_splat(at)), y = f32x4.mul(g, v128.load32_splat(at, 4)), z = f32x4.mul(b, v128.load32_splat(at, 8));
  return f32x4.add(f32x4.add(x, y), z);
}

// @ts-ignore: decorator
/** Relative luminance of linear Rec. 709, which are also the weights of its luma. */
@inline
function luminanceOf(r: v128, g: v128, b: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(r, all(0.2126)), f32x4.mul(g, all(0.7152))), f32x4.mul(b, all(0.0722)));
}

// @ts-ignore: decorator
/** Four entries of a table of floats, `offset` bytes further on. */
@inline
function lookUp(table: usize, i: v128, offset: usize): v128 {
  let v = v128.load32_splat(table + offset + (<usize>i32x4.extract_lane(i, 0) << 2));
  v = v128.load32_lane(table + offset + (<usize>i32x4.extract_lane(i, 1) << 2), v, 1);
  v = v128.load32_lane(table + offset + (<usize>i32x4.extract_lane(i, 2) << 2), v, 2);
  return v128.load32_lane(table + offset + (<usize>i32x4.extract_lane(i, 3) << 2), v, 3);
}

// @ts-ignore: decorator
/** By what light of that luminance is multiplied: the table goes over √l / (1 + √l), so that it holds any light. */
@inline
function ratioOf(table: usize, l: v128): v128 {
  const root = f32x4.sqrt(f32x4.max(l, all(0)));
  const x = f32x4.mul(f32x4.div(root, f32x4.add(root, all(1))), all(<f32>GRADE_RATIO_CELLS));
  const i = i32x4.trunc_sat_f32x4_s(x);
  const a = lookUp(table, i, 0), b = lookUp(table, i, 4);
  return f32x4.add(a, f32x4.mul(f32x4.sub(b, a), f32x4.sub(x, f32x4.convert_i32x4_s(i))));
}

// @ts-ignore: decorator
@inline
function clip(v: v128): v128 {
  return f32x4.min(f32x4.max(v, all(0)), all(1));
}

// @ts-ignore: decorator
/** Display values of linear ones; the nearest entry is closer than a twentieth of an 8-bit step where curves are not steep. */
@inline
function displayOf(table: usize, v: v128): v128 {
  const x = f32x4.mul(f32x4.sqrt(clip(v)), all(<f32>GRADE_DISPLAY_CELLS));
  return lookUp(table, i32x4.trunc_sat_f32x4_s(f32x4.add(x, all(0.5))), 0);
}

// @ts-ignore: decorator
@inline
function bytesOf(v: v128): v128 {
  return i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.mul(clip(v), all(255)), all(0.5)));
}

// @ts-ignore: decorator
@inline
function entry(at: usize, first: usize, second: usize, last: usize, a: f32, m: f32, c: f32): f32 {
  return load<f32>(at) * (1 - a) + load<f32>(at + first) * (a - m) + load<f32>(at + second) * (m - c) + load<f32>(at + last) * c;
}

/** The colour of a colour in a table, left in tableR, tableG and tableB; by tetrahedra, as core/image/colourTable.ts has it. */
function lookUpColour(table: usize, side: i32, r: f32, g: f32, b: f32): void {
  const most: f32 = <f32>(side - 1);
  const x: f32 = r * most, y: f32 = g * most, z: f32 = b * most;
  const i: i32 = min(side - 2, <i32>x), j: i32 = min(side - 2, <i32>y), k: i32 = min(side - 2, <i32>z);
  const u: f32 = x - <f32>i, v: f32 = y - <f32>j, w: f32 = z - <f32>k;
  const dx: usize = 12, dy: usize = <usize>side * 12, dz: usize = <usize>(side * side) * 12;
  const at = table + <usize>i * dx + <usize>j * dy + <usize>k * dz;
  let first: usize = 0, second: usize = 0;
  let a: f32 = 0, m: f32 = 0, c: f32 = 0;
  if (u >= v) {
    if (v >= w) { first = dx; second = dx + dy; a = u; m = v; c = w; }
    else if (u >= w) { first = dx; second = dx + dz; a = u; m = w; c = v; }
    else { first = dz; second = dx + dz; a = w; m = u; c = v; }
  } else if (u >= w) { first = dy; second = dx + dy; a = v; m = u; c = w; }
  else if (v >= w) { first = dy; second = dy + dz; a = v; m = w; c = u; }
  else { first = dz; second = dy + dz; a = w; m = v; c = u; }
  const last = dx + dy + dz;
  tableR = entry(at, first, second, last, a, m, c);
  tableG = entry(at + 4, first, second, last, a, m, c);
  tableB = entry(at + 8, first, second, last, a, m, c);
}

let laneR: v128 = f32x4.splat(0);
let laneG: v128 = f32x4.splat(0);
let laneB: v128 = f32x4.splat(0);

/** Mixes the table's colours into the display values that lie in laneR, laneG and laneB. */
function mixTable(table: usize, side: i32, share: f32): void {
  const r = laneR, g = laneG, b = laneB;
  let tr = r, tg = g, tb = b;
  lookUpColour(table, side, f32x4.extract_lane(r, 0), f32x4.extract_lane(g, 0), f32x4.extract_lane(b, 0));
  tr = f32x4.replace_lane(tr, 0, tableR); tg = f32x4.replace_lane(tg, 0, tableG); tb = f32x4.replace_lane(tb, 0, tableB);
  lookUpColour(table, side, f32x4.extract_lane(r, 1), f32x4.extract_lane(g, 1), f32x4.extract_lane(b, 1));
  tr = f32x4.replace_lane(tr, 1, tableR); tg = f32x4.replace_lane(tg, 1, tableG); tb = f32x4.replace_lane(tb, 1, tableB);
  lookUpColour(table, side, f32x4.extract_lane(r, 2), f32x4.extract_lane(g, 2), f32x4.extract_lane(b, 2));
  tr = f32x4.replace_lane(tr, 2, tableR); tg = f32x4.replace_lane(tg, 2, tableG); tb = f32x4.replace_lane(tb, 2, tableB);
  lookUpColour(table, side, f32x4.extract_lane(r, 3), f32x4.extract_lane(g, 3), f32x4.extract_lane(b, 3));
  tr = f32x4.replace_lane(tr, 3, tableR); tg = f32x4.replace_lane(tg, 3, tableG); tb = f32x4.replace_lane(tb, 3, tableB);
  const k = all(share);
  laneR = f32x4.add(r, f32x4.mul(k, f32x4.sub(tr, r)));
  laneG = f32x4.add(g, f32x4.mul(k, f32x4.sub(tg, g)));
  laneB = f32x4.add(b, f32x4.mul(k, f32x4.sub(tb, b)));
}

/** Grades `count` pixels, a multiple of four, by the record at `grade`, into RGBA at `out`. */
export function gradePixels(grade: usize, count: i32, out: usize): void {
  const red = <usize>load<u32>(grade + GRADE_RED), green = <usize>load<u32>(grade + GRADE_GREEN), blue = <usize>load<u32>(grade + GRADE_BLUE);
  const alpha = <usize>load<u32>(grade + GRADE_ALPHA);
  const ratio = <usize>load<u32>(grade + GRADE_RATIO), display = <usize>load<u32>(grade + GRADE_DISPLAY);
  const table = <usize>load<u32>(grade + GRADE_TABLE), side = <i32>load<u32>(grade + GRADE_TABLE_SIDE);
  const share = load<f32>(grade + GRADE_TABLE_SHARE), saturation = load<f32>(grade + GRADE_SATURATION);
  const lowest = v128.load32_splat(grade + GRADE_FLOOR), matrix = grade + GRADE_MATRIX;
  const end = <usize>count << 2;
  for (let at: usize = 0; at < end; at += 16) {
    const x = v128.load(red + at), y = v128.load(green + at), z = v128.load(blue + at);
    const r = f32x4.max(weighted(x, y, z, matrix), lowest);
    const g = f32x4.max(weighted(x, y, z, matrix + 12), lowest);
    const b = f32x4.max(weighted(x, y, z, matrix + 24), lowest);
    const k = ratioOf(ratio, luminanceOf(r, g, b));
    laneR = displayOf(display, f32x4.mul(r, k));
    laneG = displayOf(display, f32x4.mul(g, k));
    laneB = displayOf(display, f32x4.mul(b, k));
    if (saturation != 1) {
      const luma = luminanceOf(laneR, laneG, laneB), s = all(saturation);
      laneR = clip(f32x4.add(luma, f32x4.mul(s, f32x4.sub(laneR, luma))));
      laneG = clip(f32x4.add(luma, f32x4.mul(s, f32x4.sub(laneG, luma))));
      laneB = clip(f32x4.add(luma, f32x4.mul(s, f32x4.sub(laneB, luma))));
    }
    if (table != 0) mixTable(table, side, share);
    const rg = v128.or(bytesOf(laneR), i32x4.shl(bytesOf(laneG), 8));
    v128.store(out + at, v128.or(v128.or(rg, i32x4.shl(bytesOf(laneB), 16)), v128.load(alpha + at)));
  }
}
