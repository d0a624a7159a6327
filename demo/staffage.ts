/** What gives a picture its scale: people, a boat, ropes, a bicycle, a lifebuoy. */
import type { Builder } from './builder.js';
import { add, curve, type Point, scale, Solid, sub } from './shapes.js';

/** A limb along upright stations: height, middle, and half its width across and in depth. */
type Station = [y: number, x: number, z: number, across: number, deep: number];

function limb(solid: Solid, stations: Station[], around: number): void {
  const rows = stations.length - 1;
  const at = (v: number): Station => {
    const k = Math.min(rows - 1, Math.floor(v * rows));
    const t = v * rows - k;
    // Eased, so that the outline has no corners at the stations.
    const s = t * t * (3 - 2 * t);
    return stations[k]!.map((c, i) => c + (stations[k + 1]![i]! - c) * (i === 0 ? t : s)) as Station;
  };
  solid.surface(
    (u, v) => {
      const [y, x, z, across, deep] = at(v);
      const a = -2 * Math.PI * u;
      return [x + across * Math.cos(a), y, z + deep * Math.sin(a)];
    },
    around,
    rows * 2,
  );
}

interface Pose {
  /** Metres from heel to crown. */
  height: number;
  /** Half a step between the feet. */
  step: number;
  /** How far the hands stand forward. */
  hands: number;
  coat: boolean;
}

/** A person as models of buildings have them: a plain body without a face, upright, looking to +Z. */
function person({ height, step, hands, coat }: Pose): Solid {
  const solid = new Solid();
  const h = height / 1.75;
  const s = (stations: Station[]): Station[] => stations.map((q) => q.map((c) => c * h) as Station);
  for (const side of [-1, 1]) {
    const z = side * step;
    // Shoe, ankle, calf, knee, thigh.
    limb(
      solid,
      s([
        [0, 0.09 * side, z + 0.05, 0.004, 0.01],
        [0.015, 0.09 * side, z + 0.05, 0.045, 0.125],
        [0.07, 0.09 * side, z + 0.02, 0.043, 0.08],
        [0.14, 0.09 * side, z, 0.045, 0.05],
        [0.36, 0.088 * side, z * 0.8, 0.058, 0.065],
        [0.5, 0.085 * side, z * 0.6, 0.06, 0.066],
        [0.86, 0.078 * side, 0, 0.085, 0.095],
      ]),
      12,
    );
    const arm = side * 0.2;
    limb(
      solid,
      s([
        [0.74, arm * 1.12, hands, 0.012, 0.02],
        [0.8, arm * 1.12, hands * 0.95, 0.034, 0.042],
        [0.9, arm * 1.12, hands * 0.7, 0.032, 0.036],
        [1.1, arm * 1.1, hands * 0.1 - 0.02, 0.045, 0.052],
        [1.36, arm * 0.97, 0, 0.052, 0.062],
        [1.43, arm * 0.8, 0, 0.045, 0.05],
        [1.455, arm * 0.6, 0, 0.004, 0.004],
      ]),
      10,
    );
  }
  const hem = coat ? 0.62 : 0.8;
  limb(
    solid,
    s([
      [hem, 0, 0, coat ? 0.2 : 0.165, coat ? 0.17 : 0.12],
      [0.95, 0, 0, 0.17, 0.128],
      [1.08, 0, 0.004, 0.152, 0.115],
      [1.28, 0, 0.008, 0.188, 0.126],
      [1.4, 0, 0, 0.19, 0.105],
      [1.47, 0, -0.005, 0.1, 0.07],
      [1.5, 0, 0, 0.052, 0.056],
      [1.55, 0, 0.008, 0.05, 0.056],
    ]),
    18,
  );
  limb(
    solid,
    s([
      [1.52, 0, 0.02, 0.012, 0.012],
      [1.535, 0, 0.018, 0.05, 0.06],
      [1.6, 0, 0.018, 0.07, 0.088],
      [1.66, 0, 0.012, 0.075, 0.095],
      [1.72, 0, 0, 0.062, 0.078],
      [1.75, 0, -0.005, 0.006, 0.008],
    ]),
    16,
  );
  return solid;
}

/** A line that hangs between two points; `sag` metres in its middle. */
export function rope(from: Point, to: Point, sag: number, radius = 0.016): Solid {
  const way = sub(to, from);
  const path = Array.from({ length: 13 }, (_, k): Point => {
    const t = k / 12;
    return add(add(from, scale(way, t)), [0, -4 * sag * t * (1 - t), 0]);
  });
  return new Solid().tube(path, radius, 8);
}

/** An open rowing boat of 3.9 m along X, its keel at y 0: the sheet that is seen from outside, or from inside, which lies a plank further in. */
function hull(side: 'outside' | 'inside'): Solid {
  const [inset, port] = side === 'outside' ? [0, 1] : [0.025, -1];
  // Half breadth and height of the gunwale, and height of the keel, by the place along the boat.
  const breadth = (t: number): number => 0.68 * Math.sin(Math.PI * Math.min(1, 0.14 + 0.86 * t)) ** 0.62 * (t > 0.995 ? 0.02 : 1) - inset;
  const sheer = (t: number): number => 0.5 + 0.26 * (t - 0.42) ** 2 * 2.6;
  const keel = (t: number): number => 0.02 + 0.42 * Math.max(0, t - 0.78) ** 2 * 9 + inset;
  return new Solid().surface(
    (u, v) => {
      const t = Math.min(1, Math.max(0, u));
      const a = (v * 2 - 1) * (Math.PI / 2);
      const [b, low, high] = [Math.max(0.004, breadth(t)), keel(t), sheer(t)];
      // A round bilge that stands up at the gunwale.
      return [3.9 * (u - 0.5), high - (high - low) * Math.abs(Math.cos(a)) ** 0.85, port * b * Math.sign(a) * Math.abs(Math.sin(a)) ** 0.7];
    },
    22,
    16,
    [3.9, 1.6],
  );
}

function addBoat(b: Builder, wood: number, paint: number, hemp: number): void {
  const boat = b.group('Boat', -1, { isContext: true });
  const place: Point = [12.1, -0.78, 2.2];
  const mesh = (solid: Solid): number => b.mesh(solid);
  b.again('Hull', boat, paint, mesh(hull('outside')), place, 3);
  b.again('Planking, inside', boat, wood, mesh(hull('inside')), place, 3);
  const seat = mesh(new Solid().box([-0.13, 0.33, -0.6], [0.13, 0.36, 0.6], 0.006));
  for (const [k, x] of [-0.95, 0.15].entries()) b.again(`Thwart ${k + 1}`, boat, wood, seat, add(place, [x, 0, 0]), 3);
  for (const side of [-1, 1]) {
    const gunwale = Array.from({ length: 12 }, (_, k): Point => {
      const t = 0.02 + (0.96 * k) / 11;
      return [3.9 * (t - 0.5), 0.5 + 0.676 * (t - 0.42) ** 2 + 0.008, side * 0.68 * Math.sin(Math.PI * (0.14 + 0.86 * t)) ** 0.62];
    });
    b.again(side < 0 ? 'Gunwale, port' : 'Gunwale, starboard', boat, wood, mesh(new Solid().tube(curve(gunwale, 2), 0.024, 8)), place, 3);
    const oar = new Solid()
      .tube(
        [
          [-1.3, 0.4, 0.16 * side],
          [0.75, 0.4, 0.2 * side],
        ],
        0.02,
        8,
      )
      .box([0.7, 0.39, 0.2 * side - 0.07], [1.35, 0.41, 0.2 * side + 0.07], 0.008);
    b.again(side < 0 ? 'Oar, port' : 'Oar, starboard', boat, wood, mesh(oar), place, 3);
  }
  b.part('Mooring rope', boat, hemp, rope([13.98, -0.03, 2.15], [13.5, 0.36, 1.18], 0.12, 0.012));
  b.part('Mooring rope 2', boat, hemp, rope([10.25, -0.2, 2.3], [9.5, 0.36, 1.18], 0.14, 0.012));
}

function addBicycle(b: Builder, steel: number, rubber: number): void {
  const bicycle = b.group('Bicycle', -1, { isContext: true });
  const solid = new Solid();
  const ring = (x: number, r: number): Point[] =>
    Array.from({ length: 29 }, (_, k): Point => [x + r * Math.cos((k / 28) * 2 * Math.PI), 0.34 + r * Math.sin((k / 28) * 2 * Math.PI), 0]);
  const tyres = new Solid();
  for (const x of [-0.52, 0.52]) {
    tyres.tube(ring(x, 0.325), 0.02, 8);
    for (let k = 0; k < 9; k++) {
      const a = (k / 9) * 2 * Math.PI;
      solid.tube(
        [
          [x, 0.34, 0],
          [x + 0.31 * Math.cos(a), 0.34 + 0.31 * Math.sin(a), 0],
        ],
        0.003,
        4,
      );
    }
  }
  const [rear, front, crank, head, saddle, bar]: Point[] = [
    [-0.52, 0.34, 0],
    [0.52, 0.34, 0],
    [-0.08, 0.3, 0],
    [0.33, 0.86, 0],
    [-0.22, 0.88, 0],
    [0.28, 1.02, 0],
  ] as Point[];
  for (const [from, to] of [
    [crank, head],
    [crank, saddle],
    [head, saddle],
    [rear, saddle],
    [rear, crank],
    [front, head],
    [head, bar],
  ] as [Point, Point][])
    solid.tube([from, to], 0.016, 8);
  solid.tube(
    [
      [0.2, 1.03, -0.28],
      [0.3, 1.02, -0.1],
      [0.3, 1.02, 0.1],
      [0.2, 1.03, 0.28],
    ],
    0.012,
    8,
  );
  solid.box([-0.36, 0.9, -0.07], [-0.1, 0.95, 0.07], 0.02);
  b.again('Frame', bicycle, steel, b.mesh(solid), [4.62, 0, -0.15], 90);
  b.again('Tyres', bicycle, rubber, b.mesh(tyres), [4.62, 0, -0.15], 90);
}

/** All of it, as context: none of it is measured, turned or cut. */
export function addStaffage(b: Builder, { wood, steel, red }: { wood: number; steel: number; red: number }): void {
  const figure = b.material('Scale figure', { colour: '#d9d6cf', roughness: 0.9, specular: 0.3 });
  const hemp = b.material('Hemp', { colour: '#b09a70', roughness: 1, specular: 0.2 });
  const paint = b.material('Boat, white', { colour: '#e4e4de', roughness: 0.35 });
  const rubber = b.material('Rubber', { colour: '#1d1e1f', roughness: 0.8 });
  addBoat(b, wood, paint, hemp);
  addBicycle(b, steel, rubber);
  const ropes = b.group('Ropes', -1, { isContext: true });
  for (const [k, x] of [7.4, 9.5, 11.6].entries())
    b.part(`Rope ${k + 1}`, ropes, hemp, rope([x, 0.45, 1.06], [x + (k === 2 ? 1.9 : 2.1), 0.45, 1.06], 0.2));
  const buoy = b.group('Lifebuoy', -1, { isContext: true });
  const torus = (from: number, to: number): Solid =>
    new Solid().surface(
      (u, v) => {
        const [a, t] = [2 * Math.PI * (from + (to - from) * u), 2 * Math.PI * v];
        const r = 0.27 + 0.06 * Math.cos(t);
        return [r * Math.cos(a), r * Math.sin(a), 0.05 * Math.sin(t)];
      },
      8,
      12,
    );
  for (let k = 0; k < 8; k++) b.again(`Buoy ${k + 1}`, buoy, k % 2 ? paint : red, b.mesh(torus(k / 8, (k + 1) / 8)), [8.5, 0.72, -0.82]);
  const people = b.group('People', -1, { isContext: true });
  const stands = (name: string, pose: Pose, place: Point, heading: number): void =>
    void b.again(name, people, figure, b.mesh(person(pose)), place, heading);
  stands('At the counter', { height: 1.72, step: 0.03, hands: 0.24, coat: true }, [-3.0, 0.215, 1.25], 172);
  stands('Waiting', { height: 1.8, step: 0.05, hands: 0.08, coat: false }, [3.3, 0.215, -0.5], 255);
  stands('Arriving', { height: 1.68, step: 0.2, hands: 0.12, coat: true }, [7.9, 0.105, -0.3], 268);
  stands('Child', { height: 1.2, step: 0.13, hands: 0.1, coat: false }, [8.4, 0.105, 0.25], 262);
  b.part('Suitcase', people, red, new Solid().box([3.62, 0.215, -0.75], [3.84, 0.78, -0.31], 0.03));
}
