/** Tern: a desk lamp with a glass shade. About 0.5 m high; its front is +Z, its head reaches to +X. */
import type { Model } from '../src/core/model/model.js';
import { Builder } from './builder.js';
import { add, curve, type Point, scale, Solid, sub, unit } from './shapes.js';

interface TernOptions {
  /** B has a longer arm and a deeper shade. */
  revision?: 'A' | 'B';
}

/** A rounded edge from angle a to b (degrees) about (x, y) in a lathe's profile. */
function arc(x: number, y: number, r: number, a: number, b: number, steps = 6): [number, number][] {
  return Array.from({ length: steps + 1 }, (_, k) => {
    const t = ((a + ((b - a) * k) / steps) * Math.PI) / 180;
    return [x + r * Math.cos(t), y + r * Math.sin(t)] as [number, number];
  });
}

/** A short cylinder across the arm, for a joint. */
function across(at: Point, radius: number, half: number): Solid {
  return new Solid().tube([add(at, [0, 0, -half]), add(at, [0, 0, half])], radius, 36);
}

function shade(solid: Solid, top: Point, depth: number): Solid {
  // Bell: outer wall down, lip, inner wall up; a glass body 2.6 mm thick.
  const wall = 0.0026;
  const outer: [number, number][] = [];
  for (let k = 0; k <= 28; k++) {
    const t = k / 28;
    const r = 0.021 + 0.069 * Math.sin((t * Math.PI) / 2) ** 1.35;
    outer.push([r, -depth * t ** 1.25]);
  }
  const inner = outer.map(([r, y]) => [Math.max(r - wall, 0.004), y - (y > -0.004 ? wall : 0)] as [number, number]).reverse();
  const lip = outer.at(-1)!;
  const profile: [number, number][] = [[0, 0], ...outer, ...arc(lip[0] - wall / 2, lip[1], wall / 2, 0, -180, 6), ...inner.slice(1), [0, -wall]];
  return solid.lathe(profile.reverse(), top, 72);
}

/** The lamp as a model; under 20 000 triangles. */
export function tern({ revision = 'A' }: TernOptions = {}): Model {
  const b = new Builder(`Tern ${revision}`);
  const long = revision === 'B' ? 1.12 : 1;
  const brass = b.material('Brass, brushed', { colour: '#d9b36a', metalness: 1, roughness: 0.26 });
  const coat = b.material('Powder coat, graphite', { colour: '#2f3740', roughness: 0.42 });
  const glass = b.material('Glass, clear', { colour: '#f6faf8', transmission: 1, ior: 1.5, roughness: 0 });
  const opal = b.material('Opal globe, lit', { colour: '#fff4e2', roughness: 0.5, emission: [3.4, 2.7, 1.9] });
  const cord = b.material('Textile cord, madder', { colour: '#a4343f', roughness: 0.9, specular: 0.4 });
  const felt = b.material('Felt', { colour: '#4a4d4f', roughness: 1, specular: 0.1 });
  const rubber = b.material('Rubber, black', { colour: '#1c1d1f', roughness: 0.7 });

  const light = b.group('Tern');
  const foot = b.group('Base', light);
  b.part(
    'Felt pad',
    foot,
    felt,
    new Solid().lathe(
      [
        [0, 0],
        [0.086, 0],
        [0.086, 0.002],
        [0, 0.002],
      ],
      [0, 0, 0],
      72,
    ),
  );
  b.part(
    'Base plate',
    foot,
    coat,
    new Solid().lathe(
      [[0, 0.002], ...arc(0.092, 0.005, 0.003, -90, 0), ...arc(0.087, 0.015, 0.008, 0, 90, 10), [0.022, 0.0235], [0, 0.0235]],
      [0, 0, 0],
      96,
    ),
  );
  b.part(
    'Base ring',
    foot,
    brass,
    new Solid().lathe([[0.0145, 0.023], [0.022, 0.023], ...arc(0.0205, 0.026, 0.0015, 0, 90, 4), [0.0145, 0.0275]], [0, 0, 0], 64),
  );
  b.part(
    'Dimmer knob',
    foot,
    brass,
    new Solid().lathe([[0.0115, 0], [0.0115, 0.011], ...arc(0.0095, 0.011, 0.002, 0, 90, 5), [0, 0.013]], [0.052, 0.0232, 0.032], 48),
  );
  b.part('Dimmer mark', foot, rubber, new Solid().box([0.0515, 0.0362, 0.0335], [0.0525, 0.0366, 0.042]));

  const arm = b.group('Arm', light);
  const knee: Point = [-0.115, 0.27, 0];
  const heel: Point = [0, 0.03, 0];
  const reach = scale(unit([0.86, 0.5, 0]), 0.32 * long);
  const head = add(knee, reach);
  const tail = add(knee, scale(reach, -0.26));
  for (const [name, z] of [
    ['Lower rod, left', -0.0085],
    ['Lower rod, right', 0.0085],
  ] as const) {
    b.part(name, arm, brass, new Solid().tube([add(heel, [0, 0, z]), add(knee, [0, 0, z])], 0.0032, 24));
  }
  b.part('Heel', arm, coat, new Solid().lathe([[0.013, 0.0235], [0.013, 0.032], ...arc(0.009, 0.036, 0.004, 0, 90, 5), [0, 0.04]], [0, 0, 0], 48));
  b.part('Heel pin', arm, brass, across([0, 0.032, 0], 0.0045, 0.0155));
  b.part('Knee joint', arm, coat, across(knee, 0.0125, 0.0145));
  b.part('Knee cap, left', arm, brass, across(add(knee, [0, 0, -0.0155]), 0.0075, 0.0022));
  b.part('Knee cap, right', arm, brass, across(add(knee, [0, 0, 0.0155]), 0.0075, 0.0022));
  b.part('Upper rod', arm, brass, new Solid().tube([tail, head], 0.0042, 28));
  const bob = unit(sub(tail, knee));
  b.part('Counterweight', arm, coat, new Solid().tube([add(tail, scale(bob, -0.016)), add(tail, scale(bob, 0.026))], 0.0165, 40));
  b.part('Counterweight ring', arm, brass, new Solid().tube([add(tail, scale(bob, 0.026)), add(tail, scale(bob, 0.0295))], 0.0135, 40));

  const top = b.group('Head', light);
  const neck: Point = add(head, [0, -0.012, 0]);
  b.part('Head joint', top, coat, across(head, 0.0105, 0.0125));
  b.part('Head cap', top, brass, across(add(head, [0, 0, 0.0135]), 0.006, 0.002));
  b.part(
    'Neck',
    top,
    brass,
    new Solid().lathe(
      [
        [0.006, -0.03],
        [0.006, 0.006],
      ],
      neck,
      32,
    ),
  );
  b.part(
    'Collar',
    top,
    coat,
    new Solid().lathe(
      [[0, -0.052], [0.0205, -0.052], [0.0225, -0.05], [0.0225, -0.034], ...arc(0.0165, -0.034, 0.006, 0, 90, 8), [0, -0.028]],
      neck,
      64,
    ),
  );
  b.part('Glass shade', top, glass, shade(new Solid(), add(neck, [0, -0.0525, 0]), revision === 'B' ? 0.105 : 0.088));
  const globe: Point = add(neck, [0, -0.092, 0]);
  b.part(
    'Globe',
    top,
    opal,
    new Solid().lathe(
      Array.from({ length: 25 }, (_, k) => [0.0235 * Math.sin((k / 24) * Math.PI), -0.0235 * Math.cos((k / 24) * Math.PI)] as [number, number]),
      globe,
      48,
    ),
  );
  b.part(
    'Socket',
    top,
    brass,
    new Solid().lathe(
      [
        [0, -0.073],
        [0.0125, -0.073],
        [0.0125, -0.0555],
        [0, -0.0555],
      ],
      neck,
      40,
    ),
  );

  const cable = curve(
    [
      [-0.088, 0.006, -0.01],
      [-0.115, 0.0045, -0.02],
      [-0.16, 0.0035, -0.075],
      [-0.14, 0.0035, -0.15],
      [-0.2, 0.0035, -0.2],
      [-0.3, 0.0035, -0.19],
    ],
    14,
  );
  b.part('Cord', light, cord, new Solid().tube(cable, 0.0032, 14));
  b.part(
    'Cord grip',
    light,
    rubber,
    new Solid().tube(
      [
        [-0.083, 0.0068, -0.0085],
        [-0.1, 0.0055, -0.0135],
      ],
      0.0048,
      24,
    ),
  );

  const helpers = b.group('Construction', -1, { renderVisible: false });
  b.part(
    'Axis of the base',
    helpers,
    rubber,
    new Solid().tube(
      [
        [0, -0.02, 0],
        [0, 0.55, 0],
      ],
      0.0006,
      6,
    ),
  );
  b.part(
    'Reach envelope',
    helpers,
    rubber,
    new Solid().lathe(
      [
        [0.2, 0.3],
        [0.201, 0.3],
      ],
      [0, 0, 0],
      48,
    ),
  );
  return b.build();
}
