/** Patterns that repeat, and the numbers that they are made of: wood, gravel, ripples. */
import type { Texture } from '../src/core/model/model.js';
import type { Point } from './shapes.js';

/** A repeatable sequence of numbers in 0..1 (mulberry32). */
export function random(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Pixels that were made, by what they were made of: tests make the models over and over, and these take longer than all the rest. */
const made = new Map<string, Uint8Array>();

/** A square texture, each pixel made of its place in 0..1. @param of what tells it from all others. */
function texture(name: string, side: number, of: readonly unknown[], colour: (u: number, v: number) => Point): Texture {
  const key = JSON.stringify([side, ...of]);
  const pixels = made.get(key) ?? pixelsOf(side, colour);
  made.set(key, pixels);
  return { name, width: side, height: side, pixels, wrapU: 'repeat', wrapV: 'repeat' };
}

function pixelsOf(side: number, colour: (u: number, v: number) => Point): Uint8Array {
  const pixels = new Uint8Array(side * side * 4).fill(255);
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++)
      pixels.set(
        colour(x / side, y / side).map((c) => Math.round(Math.min(255, Math.max(0, c)))),
        (y * side + x) * 4,
      );
  return pixels;
}

const mix = (a: Point, b: Point, t: number): Point => a.map((v, i) => v + (b[i]! - v) * Math.min(1, Math.max(0, t))) as Point;

/** Streaks of wood along u, with a few knots, one metre square. */
export function grain(name: string, dark: Point, light: Point, seed: number): Texture {
  const next = random(seed);
  const waves = Array.from({ length: 14 }, (_, k) => ({
    f: 3 + k * 6 + Math.floor(next() * 5),
    p: next() * 6.28,
    w: 1 / (1 + k * 0.35),
    bend: Math.floor(1 + next() * 3),
  }));
  const knots = Array.from({ length: 5 }, () => ({ u: next(), v: next(), r: 0.006 + 0.008 * next() }));
  const apart = (a: number, b: number): number => Math.abs(((a - b + 1.5) % 1) - 0.5);
  return texture(name, 512, ['grain', dark, light, seed], (u, v) => {
    let bent = v;
    let knot = 0;
    for (const k of knots) {
      // Grain runs round a knot, which is four times as long as wide.
      const d = Math.hypot(apart(u, k.u) / 4, apart(v, k.v)) / k.r;
      bent += 0.006 * Math.exp(-d * d * 0.3) * Math.sign(((v - k.v + 1.5) % 1) - 0.5);
      knot = Math.max(knot, Math.exp(-d * d * 1.5));
    }
    let s = 0;
    for (const w of waves) s += w.w * Math.sin(bent * w.f * 2 * Math.PI + w.p + 0.8 * Math.sin(u * w.bend * 2 * Math.PI + w.p));
    return mix(dark, light, 0.55 + 0.15 * s + 0.07 * (next() - 0.5) - 0.7 * knot);
  });
}

/** Small stones of several tones, one metre square. */
export function gravel(name: string, dark: Point, light: Point, seed: number): Texture {
  const next = random(seed);
  const cells = 44;
  const stones = Array.from({ length: cells * cells }, () => [next(), next(), next()] as const);
  return texture(name, 512, ['gravel', dark, light, seed], (u, v) => {
    const [x, y] = [u * cells, v * cells];
    let [near, second, tone] = [9, 9, 0];
    for (let j = -1; j <= 1; j++)
      for (let i = -1; i <= 1; i++) {
        const [cx, cy] = [Math.floor(x) + i, Math.floor(y) + j];
        const stone = stones[(((cy % cells) + cells) % cells) * cells + (((cx % cells) + cells) % cells)]!;
        const d = Math.hypot(cx + stone[0] - x, cy + stone[1] - y);
        if (d < near) [second, near, tone] = [near, d, stone[2]];
        else if (d < second) second = d;
      }
    const joint = Math.min(1, (second - near) * 4);
    return mix(dark, light, (0.35 + 0.65 * tone) * (0.55 + 0.45 * joint));
  });
}

/** Normals of small waves from all round, for a square of any width that repeats. */
export function ripples(name: string, seed: number): Texture {
  const next = random(seed);
  // Whole numbers of waves over the square; steepness falls with their number, as wind waves do.
  const waves = Array.from({ length: 40 }, () => {
    const [f, a] = [4 + 26 * next() ** 1.5, (next() - 0.5) * 2.4];
    const [kx, ky] = [Math.round(f * Math.cos(a)), Math.round(f * Math.sin(a))];
    return { kx, ky, p: next() * 6.28, slope: 0.3 / (3 + Math.hypot(kx, ky) * 0.4) };
  });
  return texture(name, 512, ['ripples', seed], (u, v) => {
    let [sx, sy] = [0, 0];
    for (const { kx, ky, p, slope } of waves) {
      const c = slope * Math.cos(2 * Math.PI * (kx * u + ky * v) + p);
      const k = Math.hypot(kx, ky) || 1;
      sx += (c * kx) / k;
      sy += (c * ky) / k;
    }
    const l = Math.hypot(sx, sy, 1);
    return [127.5 * (1 - sx / l), 127.5 * (1 - sy / l), 127.5 * (1 + 1 / l)];
  });
}
