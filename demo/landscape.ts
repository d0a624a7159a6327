/** The island that the landing stands on, its shore, its plants, and the water round it. */
import type { Builder } from './builder.js';
import { gravel, random, ripples } from './patterns.js';
import { add, type Point, Solid } from './shapes.js';

/** Middle of the island on the ground. */
const MIDDLE: [number, number] = [-1.5, -0.6];
const WATER_LEVEL = -0.62;

/** The shore's outline: metres from the middle, by angle from +X towards +Z. Where the jetty goes out the water comes near. */
function reach(angle: number): number {
  const cove = Math.atan2(Math.sin(angle - 0.05), Math.cos(angle - 0.05));
  const r = 11.5 + 1.6 * Math.sin(2 * angle + 0.6) + 0.8 * Math.sin(3 * angle + 2) + 0.35 * Math.sin(7 * angle);
  return r * (1 - 0.3 * Math.exp(-((cove / 0.5) ** 2)));
}

/** A point of the island: `f` 1 is the edge of the gravel, more is out in the water. */
function groundAt(angle: number, f: number, y: number): Point {
  const r = reach(angle) * f;
  return [r * Math.cos(angle) + MIDDLE[0], y, 0.78 * r * Math.sin(angle) + MIDDLE[1]];
}

/** From the edge of the gravel down into the water, bent and uneven as rock is. */
function slope(): Solid {
  const depth = (v: number): number => -0.02 - 1.5 * v ** 1.6;
  return new Solid().surface(
    (u, v) => {
      const a = -2 * Math.PI * u;
      const uneven = 0.035 * Math.sin(23 * a + 5 * v) + 0.03 * Math.sin(41 * a - 9 * v) + 0.02 * Math.sin(67 * a + 17 * v);
      return groundAt(a, 1 + 0.3 * (1 - v) + uneven * (1 - v) * 0.6, depth(1 - v) + uneven * Math.min(1, 5 * (1 - v)) * 1.6);
    },
    160,
    7,
    [60, 3],
  );
}

function top(): Solid {
  const solid = new Solid();
  const count = 120;
  for (let k = 0; k < count; k++) {
    const [a, b] = [k, k + 1].map((j) => groundAt((j / count) * 2 * Math.PI, 1.004, -0.015)) as [Point, Point];
    solid.polygon([[MIDDLE[0], 0, MIDDLE[1]], b, a]);
  }
  return solid;
}

/** A boulder of about a metre, rounded by ice. */
function boulder(seed: number): Solid {
  const next = random(seed);
  const bumps = Array.from({ length: 7 }, () => ({
    d: [next() - 0.5, next() - 0.5, next() - 0.5] as Point,
    p: next() * 6.28,
    w: 0.05 + 0.09 * next(),
  }));
  const [wide, high, deep] = [0.5 + 0.2 * next(), 0.26 + 0.12 * next(), 0.36 + 0.16 * next()];
  return new Solid().surface(
    (u, v) => {
      const [a, t] = [-2 * Math.PI * u, Math.PI * (v - 0.5)];
      const d: Point = [Math.cos(t) * Math.cos(a), Math.sin(t), Math.cos(t) * Math.sin(a)];
      const r = bumps.reduce((s, b) => s + b.w * Math.sin(4 * (d[0] * b.d[0] + d[1] * b.d[1] + d[2] * b.d[2]) * 2 + b.p), 1);
      return [d[0] * r * wide, d[1] * r * high, d[2] * r * deep];
    },
    10,
    6,
    [2, 1],
  );
}

/** Blades that grow out of one place and hang over. */
function tuft(seed: number, blades: number, height: number): Solid {
  const next = random(seed);
  const solid = new Solid();
  for (let k = 0; k < blades; k++) {
    const [a, long, lean] = [2 * Math.PI * next(), height * (0.55 + 0.45 * next()), 0.15 + 0.5 * next()];
    const [c, s, foot] = [Math.cos(a), Math.sin(a), 0.1 * height * next()];
    const wide = 0.006 + 0.006 * height;
    solid.surface(
      (u, v) => {
        const out = foot + lean * long * v * v;
        const side = (u - 0.5) * 2 * wide * (1 - v) ** 0.7;
        return [c * out - s * side, long * v * (1 - 0.25 * lean * v), s * out + c * side];
      },
      1,
      2,
    );
  }
  return solid;
}

/** The water in three rings: ripples calm with distance, where they are too small to be told apart. */
function addWater(b: Builder, site: number): void {
  const colour = '#1c3a44';
  const waves = ripples('ripples', 5);
  const rings = [
    { name: 'Water', from: 0, to: 26, metres: 11, normalScale: 0.3 },
    { name: 'Water, farther', from: 26, to: 70, metres: 17, normalScale: 0.16 },
    { name: 'Water, far', from: 70, to: 260, metres: 31, normalScale: 0.07 },
  ];
  for (const { name, from, to, metres, normalScale } of rings) {
    const material = b.material(name, { colour, roughness: 0.07, ior: 1.33, normalScale, textures: b.texture(waves, 'normal', metres) });
    const solid = new Solid();
    const count = 96;
    for (let k = 0; k < count; k++) {
      const at = (r: number, j: number): Point => [r * Math.cos((j / count) * 2 * Math.PI), WATER_LEVEL, r * Math.sin((j / count) * 2 * Math.PI)];
      solid.polygon(from === 0 ? [at(0, 0), at(to, k + 1), at(to, k)] : [at(from, k + 1), at(to, k + 1), at(to, k), at(from, k)]);
    }
    b.part(name, site, material, solid);
  }
}

/** Whether something may grow or lie there: not on the jetty, nor where one comes and goes. */
const isFree = ([x, , z]: Point): boolean => !(z > -1.7 && z < (x > 8 ? 4.2 : 1.7) && x > 3) && !(x > -3.5 && x < 6 && z > 2 && z < 6.5);

function addShore(b: Builder, site: number, rock: number): void {
  const next = random(21);
  const shapes = [3, 4, 5, 6, 7].map((seed) => b.mesh(boulder(seed)));
  const stones = b.group('Boulders', site, { isContext: true });
  for (let k = 0; k < 46; k++) {
    const place = groundAt(2 * Math.PI * next(), 1.0 + 0.13 * next(), -0.12 - 0.35 * next());
    if (isFree(place)) b.again(`Boulder ${k + 1}`, stones, rock, shapes[Math.floor(next() * shapes.length)]!, place, 360 * next());
  }
}

function addPlants(b: Builder, site: number): void {
  const next = random(33);
  const grass = b.material('Shore grass', {
    colour: '#76804a',
    roughness: 0.8,
    specular: 0.4,
    translucency: 0.25,
    translucentColour: [0.3, 0.4, 0.1],
  });
  const reed = b.material('Reed', { colour: '#a3945a', roughness: 0.8, specular: 0.4, translucency: 0.2, translucentColour: [0.45, 0.4, 0.18] });
  const low = [1, 2, 3].map((seed) => b.mesh(tuft(seed, 16, 0.36)));
  const tall = [7, 8].map((seed) => b.mesh(tuft(seed, 13, 1.25)));
  const plants = b.group('Plants', site, { isContext: true });
  // In clumps, as they spread.
  const plant = (name: string, material: number, meshes: number[], clumps: number, each: number, ring: [number, number], y: number): void => {
    for (let c = 0, k = 0; c < clumps; c++) {
      const [angle, f] = [2 * Math.PI * next(), ring[0] + (ring[1] - ring[0]) * next()];
      const middle = groundAt(angle, f, y);
      for (let i = 0; i < each; i++) {
        const place = add(middle, [1.1 * (next() - 0.5), 0, 1.1 * (next() - 0.5)]);
        if (isFree(place)) b.again(`${name} ${++k}`, plants, material, meshes[Math.floor(next() * meshes.length)]!, place, 360 * next());
      }
    }
  };
  plant('Grass', grass, low, 34, 7, [0.84, 1.0], -0.02);
  plant('Reed', reed, tall, 11, 7, [1.12, 1.2], -0.72);
}

/** Island, boulders, plants and water, below one group of context. */
export function addLandscape(b: Builder): void {
  const site = b.group('Site', -1, { isContext: true });
  const stones = b.material('Gravel', {
    colour: '#ffffff',
    roughness: 1,
    specular: 0.2,
    textures: b.texture(gravel('gravel', [118, 112, 100], [214, 206, 190], 4)),
  });
  const rock = b.material('Shore rock', {
    colour: '#ffffff',
    roughness: 0.95,
    specular: 0.3,
    textures: b.texture(gravel('rock', [96, 92, 88], [150, 144, 138], 9), 'base', 0.7),
  });
  b.part('Gravel', site, stones, top());
  b.part('Shore', site, rock, slope());
  addShore(b, site, rock);
  addPlants(b, site);
  addWater(b, site);
}
