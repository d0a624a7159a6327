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

/** Coordinates of the point drawn last, in [0, 1). */
export let sampleX: f32 = 0;
export let sampleY: f32 = 0;

/** Beyond this many pairs plain hashed numbers serve: deep bounces gain nothing from strata. */
const STRATIFIED_PAIRS: u32 = 12;

let pixelSeed: u32 = 0;
let index: u32 = 0;
let pair: u32 = 0;

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

// @ts-ignore: decorator
@inline
function reverse(x: u32): u32 {
  x = ((x >> 1) & 0x55555555) | ((x & 0x55555555) << 1);
  x = ((x >> 2) & 0x33333333) | ((x & 0x33333333) << 2);
  x = ((x >> 4) & 0x0f0f0f0f) | ((x & 0x0f0f0f0f) << 4);
  x = ((x >> 8) & 0x00ff00ff) | ((x & 0x00ff00ff) << 8);
  return (x >> 16) | (x << 16);
}

// @ts-ignore: decorator
@inline
function permute(x: u32, seed: u32): u32 {
  x ^= x * 0x3d20adea;
  x += seed;
  x *= (seed >> 16) | 1;
  x ^= x * 0x05526c56;
  x ^= x * 0x53a22864;
  return x;
}

// @ts-ignore: decorator
@inline
function unit(x: u32): f32 {
  return <f32>(x >> 8) * <f32>5.9604644775390625e-8;
}

/** Second Sobol dimension of an index, bit-reversed: its generator matrix is Pascal's triangle mod 2. */
// @ts-ignore: decorator
@inline
function sobolReversed(r: u32): u32 {
  r ^= (r & 0xaaaaaaaa) >> 1;
  r ^= (r & 0xcccccccc) >> 2;
  r ^= (r & 0xf0f0f0f0) >> 4;
  r ^= (r & 0xff00ff00) >> 8;
  r ^= r >> 16;
  return r;
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
}

/** Draws the path's next pair of numbers. */
export function next2D(): void {
  const key = hash32(pixelSeed ^ hash32(pair + 0x68bc21eb));
  if (pair < STRATIFIED_PAIRS) {
    const shuffled = reverse(permute(reverse(index), key));
    // The first dimension, bit-reversed, is the index itself.
    sampleX = unit(reverse(permute(shuffled, hash32(key ^ 0x02e5be93))));
    sampleY = unit(reverse(permute(sobolReversed(shuffled), hash32(key ^ 0x967a889b))));
  } else {
    const h = hash32(key ^ hash32(index + 0x51633e2d));
    sampleX = unit(h);
    sampleY = unit(hash32(h ^ 0x2c1b3c6d));
  }
  pair++;
}
