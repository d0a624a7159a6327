/**
 * Owen-scrambled Sobol points by hashing: each pair of dimensions of a path is the two-dimensional
 * Sobol sequence, its order shuffled and its values scrambled by a hash of seed and pair. All pixels
 * of a frame share that sequence: a pixel takes the run of points that stands at its place along
 * the Z-order curve, so that neighbours take neighbouring runs, which together are stratified as one
 * run is, and the error looks like blue noise. A sample depends on frame seed, pixel, sample index
 * and dimension alone.
 * Burley, "Practical hash-based Owen scrambling", JCGT 9(4), 2020; the permutation is the improved
 * one of Vegdahl, 2021. Ahmed and Wonka, "Screen-space blue-noise diffusion of Monte Carlo sampling
 * error via hierarchical ordering of pixels", 2020; the hierarchy is shuffled here by the nested
 * permutation of the index.
 */

import { drawScratch } from "./intersect/walk";

/** Coordinates of the point drawn last, in [0, 1). */
export let sampleX: f32 = 0;
export let sampleY: f32 = 0;

/** Beyond this many pairs plain hashed numbers serve: deep bounces gain nothing from strata. */
const STRATIFIED_PAIRS: u32 = 12;

let pixelSeed: u32 = 0;
let index: u32 = 0;
let pair: u32 = 0;
/** No pair of a path: nothing is drawn ahead. */
const NONE: u32 = 0xfffffff0;
// What lies in drawScratch: four pairs of this sample from `drawn` on, and the first pairs of four samples of a pixel.
let drawn: u32 = NONE;
let firstSeed: u32 = 0;
let firstIndex: u32 = 0;
const FIRST_PAIRS: usize = 32;

// @ts-ignore: decorator
/** A hash of 32 bits whose bits all depend on all of the input. */
@inline
export function hash32(x: u32): u32 {
  // "lowbias32", Wellons, 2018.
  x ^= x >> 16;
  x *= 0x7feb352d;
  x ^= x >> 15;
  x *= 0x846ca68b;
  x ^= x >> 16;
  return x;
}

/** hash32 of four numbers. */
// @ts-ignore: decorator
@inline
function hashes(x: v128): v128 {
  x = v128.xor(x, i32x4.shr_u(x, 16));
  x = i32x4.mul(x, i32x4.splat(0x7feb352d));
  x = v128.xor(x, i32x4.shr_u(x, 15));
  x = i32x4.mul(x, i32x4.splat(0x846ca68b));
  return v128.xor(x, i32x4.shr_u(x, 16));
}

/** The bits of four numbers in reverse order: those of each half byte by a table, then the bytes. */
// @ts-ignore: decorator
@inline
function reverses(x: v128): v128 {
  const table = i8x16(0, 8, 4, 12, 2, 10, 6, 14, 1, 9, 5, 13, 3, 11, 7, 15);
  const low = i8x16.swizzle(table, v128.and(x, i8x16.splat(15)));
  const high = i8x16.swizzle(table, i8x16.shr_u(x, 4));
  const bytes = v128.or(i32x4.shl(low, 4), high);
  return i8x16.shuffle(bytes, bytes, 3, 2, 1, 0, 7, 6, 5, 4, 11, 10, 9, 8, 15, 14, 13, 12);
}

/** The nested permutation, of four numbers by a seed each. */
// @ts-ignore: decorator
@inline
function permutations(x: v128, seeds: v128): v128 {
  x = v128.xor(x, i32x4.mul(x, i32x4.splat(0x3d20adea)));
  x = i32x4.add(x, seeds);
  x = i32x4.mul(x, v128.or(i32x4.shr_u(seeds, 16), i32x4.splat(1)));
  x = v128.xor(x, i32x4.mul(x, i32x4.splat(0x05526c56)));
  return v128.xor(x, i32x4.mul(x, i32x4.splat(0x53a22864)));
}

/** Four numbers in [0, 1) of 24 bits. */
// @ts-ignore: decorator
@inline
function units(x: v128): v128 {
  return f32x4.mul(f32x4.convert_i32x4_u(i32x4.shr_u(x, 8)), f32x4.splat(5.9604644775390625e-8));
}

// @ts-ignore: decorator
@inline
function unit(x: u32): f32 {
  return <f32>(x >> 8) * <f32>5.9604644775390625e-8;
}

/** Second Sobol dimension of four indices, bit-reversed: its generator matrix is Pascal's triangle mod 2. */
// @ts-ignore: decorator
@inline
function sobolReversed(r: v128): v128 {
  r = v128.xor(r, i32x4.shr_u(v128.and(r, i32x4.splat(0xaaaaaaaa)), 1));
  r = v128.xor(r, i32x4.shr_u(v128.and(r, i32x4.splat(0xcccccccc)), 2));
  r = v128.xor(r, i32x4.shr_u(v128.and(r, i32x4.splat(0xf0f0f0f0)), 4));
  r = v128.xor(r, i32x4.shr_u(v128.and(r, i32x4.splat(0xff00ff00)), 8));
  return v128.xor(r, i32x4.shr_u(r, 16));
}

/** Spreads the lower 16 bits of x to the even bits. */
// @ts-ignore: decorator
@inline
function spread(x: u32): u32 {
  x &= 0xffff;
  x = (x | (x << 8)) & 0x00ff00ff;
  x = (x | (x << 4)) & 0x0f0f0f0f;
  x = (x | (x << 2)) & 0x33333333;
  return (x | (x << 1)) & 0x55555555;
}

/**
 * Starts sample s of pixel (x, y). `bits` of the index number the samples of a pixel (2^bits of them
 * are one run), the rest its place on the curve; beyond either, another scrambling begins.
 */
export function beginSample(seed: u32, x: u32, y: u32, s: u32, bits: u32): void {
  const side = (32 - bits) >> 1;
  const inner: u32 = (1 << side) - 1;
  const block = hash32((x >> side) ^ hash32((y >> side) ^ hash32((s >> bits) + 0x9e3779b9)));
  pixelSeed = hash32(seed ^ block);
  index = ((spread(x & inner) | (spread(y & inner) << 1)) << bits) | (s & ((1 << bits) - 1));
  pair = 0;
  drawn = NONE;
}

/** Lays aside where the numbers of a sample have come to, 12 bytes at p. */
export function saveSampler(p: usize): void {
  store<u32>(p, pixelSeed);
  store<u32>(p, index, 4);
  store<u32>(p, pair, 8);
}

/** Goes on with a sample that was laid aside. */
export function restoreSampler(p: usize): void {
  pixelSeed = load<u32>(p);
  index = load<u32>(p, 4);
  pair = load<u32>(p, 8);
  drawn = NONE;
}

/** Lays four pairs at p, x before y, each of an index and a seed: four cost what one does. */
// @ts-ignore: decorator
@inline
function draw(p: usize, indices: v128, seeds: v128): void {
  const shuffled = reverses(permutations(reverses(indices), seeds));
  // The first dimension, bit-reversed, is the index itself.
  v128.store(p, units(reverses(permutations(shuffled, hashes(v128.xor(seeds, i32x4.splat(0x02e5be93)))))));
  v128.store(p, units(reverses(permutations(sobolReversed(shuffled), hashes(v128.xor(seeds, i32x4.splat(0x967a889b)))))), 16);
}

/** Draws the present pair and the next three. */
function drawPairs(): void {
  drawn = pair;
  const pairs = i32x4.add(i32x4.splat(pair + 0x68bc21eb), i32x4(0, 1, 2, 3));
  draw(drawScratch, i32x4.splat(index), hashes(v128.xor(i32x4.splat(pixelSeed), hashes(pairs))));
}

/** Draws the first pair of this sample, and of the next three of the pixel. */
function drawFirstPairs(): void {
  firstSeed = pixelSeed;
  firstIndex = index;
  const key = hash32(pixelSeed ^ hash32(0x68bc21eb));
  draw(drawScratch + FIRST_PAIRS, i32x4.add(i32x4.splat(index), i32x4(0, 1, 2, 3)), i32x4.splat(key));
}

/** Draws the path's next pair of numbers. */
export function next2D(): void {
  if (pair < STRATIFIED_PAIRS) {
    let p = drawScratch;
    if (pair == 0) {
      if (pixelSeed != firstSeed || index - firstIndex > 3) drawFirstPairs();
      p += FIRST_PAIRS + (<usize>(index - firstIndex) << 2);
    } else {
      if (pair - drawn > 3) drawPairs();
      p += <usize>(pair - drawn) << 2;
    }
    sampleX = load<f32>(p);
    sampleY = load<f32>(p, 16);
  } else {
    const h = hash32(hash32(pixelSeed ^ hash32(pair + 0x68bc21eb)) ^ hash32(index + 0x51633e2d));
    sampleX = unit(h);
    sampleY = unit(hash32(h ^ 0x2c1b3c6d));
  }
  pair++;
}
