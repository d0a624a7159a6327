/**
 * Northmere Ferry Landing: a timber and glass waiting pavilion with ticket kiosk, slats and jetty on
 * an invented island. The front is +Z, the jetty runs to +X; −Z is north.
 */
import type { Model } from '../src/core/model/model.js';
import { Builder } from './builder.js';
import { addLandscape } from './landscape.js';
import { grain, random } from './patterns.js';
import { Solid } from './shapes.js';
import { addStaffage } from './staffage.js';

/** The landing as a model; under 60 000 triangles. */
export function northmere(): Model {
  const b = new Builder('Northmere Ferry Landing');
  const larch = b.material('Larch, oiled', {
    colour: '#ffffff',
    roughness: 0.55,
    textures: b.texture(grain('larch', [138, 92, 52], [202, 150, 98], 3)),
  });
  const deck = b.material('Larch deck, weathered', {
    colour: '#ffffff',
    roughness: 0.75,
    textures: b.texture(grain('weathered', [120, 108, 94], [176, 162, 142], 8)),
  });
  const steel = b.material('Steel, painted dark', { colour: '#262c31', roughness: 0.45 });
  const zinc = b.material('Zinc, standing seam', { colour: '#8f989e', metalness: 0.9, roughness: 0.42 });
  const concrete = b.material('Concrete', { colour: '#b3b1ab', roughness: 0.9, specular: 0.5 });
  const glass = b.material('Glass, clear', { colour: '#f1f7f5', transmission: 1, ior: 1.5, roughness: 0 });
  const render = b.material('Board, madder red', { colour: '#8f3b3b', roughness: 0.7 });
  const paper = b.material('Timetable', { colour: '#eef0ec', roughness: 0.8 });
  const grid = b.material('Construction', { colour: '#2c5aa0' });

  const pavilion = b.group('Pavilion');
  const floor = b.group('Floor', pavilion);
  b.part('Plinth', floor, concrete, new Solid().box([-4.7, -0.02, -2.7], [4.7, 0.18, 2.7], 0.02));
  b.part('Step', floor, concrete, new Solid().box([-1.6, -0.02, 2.7], [1.6, 0.09, 3.1], 0.015));
  // Each board of two lengths, their joints apart from the next board's, each from another place of the log.
  const next = random(17);
  for (let k = 0; k < 31; k++) {
    const joint = -2.05 + 2.05 * ((k * 2) % 3);
    const lengths = [
      [-4.2, joint - 0.0015],
      [joint + 0.0015, 4.2],
    ] as const;
    const solid = new Solid([7 * next(), next()]);
    for (const [from, to] of lengths) solid.box([from, 0.18, -0.072], [to, 0.215, 0.072], 0.003);
    b.again(`Floor board ${k + 1}`, floor, larch, b.mesh(solid), [0, 0, -2.25 + k * 0.15]);
  }

  const frame = b.group('Frame', pavilion);
  const post = b.mesh(new Solid().box([-0.06, 0.18, -0.06], [0.06, 2.86, 0.06], 0.006));
  const xs = [-4.1, -2.05, 0, 2.05, 4.1];
  xs.forEach((x, k) => {
    b.again(`Post ${k + 1}, front`, frame, steel, post, [x, 0, 2.2]);
    b.again(`Post ${k + 1}, back`, frame, steel, post, [x, 0, -2.2]);
  });
  const beam = b.mesh(new Solid().box([-4.35, 2.86, -0.06], [4.35, 3.06, 0.06], 0.006));
  b.again('Beam, front', frame, larch, beam, [0, 0, 2.2]);
  b.again('Beam, back', frame, larch, beam, [0, 0, -2.2]);
  const joist = b.mesh(new Solid().box([-0.045, 3.06, -2.95], [0.045, 3.22, 3.35], 0.004));
  for (let k = 0; k < 15; k++) b.again(`Joist ${k + 1}`, frame, larch, joist, [-4.9 + k * 0.7, 0, 0]);

  const roof = b.group('Roof', pavilion);
  b.part('Soffit boards', roof, larch, new Solid().box([-5.15, 3.22, -3.05], [5.15, 3.25, 3.5], 0.003));
  b.part('Roof deck', roof, steel, new Solid().box([-5.2, 3.25, -3.1], [5.2, 3.36, 3.55], 0.006));
  b.part('Zinc sheet', roof, zinc, new Solid().box([-5.24, 3.36, -3.14], [5.24, 3.38, 3.59], 0.004));
  const seam = b.mesh(new Solid().box([-0.012, 3.38, -3.12], [0.012, 3.415, 3.57], 0.004));
  for (let k = 0; k < 18; k++) b.again(`Seam ${k + 1}`, roof, zinc, seam, [-5.1 + k * 0.6, 0, 0]);

  const slats = b.group('Slats', pavilion);
  const cuts = [0, 1, 2, 3, 4].map(() => b.mesh(new Solid([3 * next(), next()]).box([-0.02, 0.2, -0.045], [0.02, 2.84, 0.045], 0.004)));
  const slat = (): number => cuts[Math.floor(next() * cuts.length)]!;
  for (let k = 0; k < 52; k++) b.again(`Slat ${k + 1}`, slats, larch, slat(), [-1.9 + k * 0.116, 0, -2.32]);
  for (let k = 0; k < 24; k++) b.again(`Side slat ${k + 1}`, slats, larch, slat(), [4.2, 0, -2.05 + k * 0.116], 90);

  const glazing = b.group('Glazing', pavilion);
  const pane = b.mesh(new Solid().box([-0.96, 0.26, -0.006], [0.96, 2.8, 0.006]));
  const rail = b.mesh(new Solid().box([-0.99, -0.02, -0.025], [0.99, 0.02, 0.025], 0.003));
  for (const [k, x] of [1.025, 3.075].entries()) {
    b.again(`Pane ${k + 1}`, glazing, glass, pane, [x, 0, 2.2]);
    b.again(`Sill ${k + 1}`, glazing, steel, rail, [x, 0.24, 2.2]);
    b.again(`Head ${k + 1}`, glazing, steel, rail, [x, 2.82, 2.2]);
  }
  b.again('Pane 3, back', glazing, glass, pane, [0, 0, -2.2]);

  const furniture = b.group('Furniture', pavilion);
  const benchTop = b.mesh(new Solid().box([-1.5, 0.63, -0.045], [1.5, 0.665, 0.045], 0.005));
  const benchLeg = b.mesh(new Solid().box([-0.03, 0.21, -0.22], [0.03, 0.63, 0.22], 0.004));
  for (const [name, x, z] of [
    ['Bench', 1.9, -1.55],
    ['Bench 2', 1.9, 0.5],
  ] as const) {
    const bench = b.group(name, furniture);
    for (let k = 0; k < 4; k++) b.again(`Seat board ${k + 1}`, bench, larch, benchTop, [x, 0, z - 0.17 + k * 0.112]);
    for (const side of [-1.1, 0, 1.1]) b.again('Leg', bench, steel, benchLeg, [x + side, 0, z]);
  }
  b.part('Timetable frame', furniture, steel, new Solid().box([-0.06, 1.05, -2.13], [1.02, 2.25, -2.09], 0.004));
  const print = new Solid();
  for (let k = 0; k < 15; k++) print.box([0.06, 1.18 + k * 0.058, -2.0832], [k % 5 === 4 ? 0.5 : 0.6 + 0.3 * next(), 1.2 + k * 0.058, -2.082]);
  b.part('Timetable print', furniture, steel, print.box([0.06, 2.1, -2.0832], [0.55, 2.15, -2.082]));
  b.part('Timetable', furniture, paper, new Solid().box([-0.01, 1.1, -2.09], [0.97, 2.2, -2.083]));

  const kiosk = b.group('Ticket kiosk', pavilion);
  b.part('Kiosk body', kiosk, render, new Solid().box([-4.0, 0.215, -2.1], [-2.2, 1.02, 0.6], 0.008));
  b.part('Kiosk upper, back', kiosk, render, new Solid().box([-4.0, 1.02, -2.1], [-2.2, 2.82, -0.9], 0.008));
  b.part('Kiosk upper, left', kiosk, render, new Solid().box([-4.0, 1.02, -0.9], [-3.9, 2.82, 0.6], 0.008));
  b.part('Kiosk lintel', kiosk, render, new Solid().box([-4.0, 2.2, -0.9], [-2.2, 2.82, 0.6], 0.008));
  b.part('Counter', kiosk, larch, new Solid().box([-4.05, 1.02, -0.9], [-1.95, 1.07, 0.85], 0.008));
  b.part('Hatch glass', kiosk, glass, new Solid().box([-3.9, 1.07, 0.5], [-2.2, 2.2, 0.508]));
  b.part('Ticket printer', kiosk, steel, new Solid().box([-3.2, 1.07, -0.4], [-2.9, 1.3, -0.1], 0.02));

  const jetty = b.group('Jetty');
  const planks = [0, 1, 2, 3, 4].map(() => b.mesh(new Solid([3 * next(), next()]).box([-0.066, 0.06, -0.95], [0.066, 0.105, 0.95], 0.006)));
  for (let k = 0; k < 62; k++) b.again(`Plank ${k + 1}`, jetty, deck, planks[Math.floor(next() * planks.length)]!, [4.78 + k * 0.145, 0, 0]);
  for (const z of [-0.75, 0.75])
    b.part(z < 0 ? 'Bearer, north' : 'Bearer, south', jetty, deck, new Solid().box([4.75, -0.12, z - 0.06], [13.7, 0.06, z + 0.06], 0.006));
  const pile = b.mesh(
    new Solid().lathe(
      [
        [0.11, -2.4],
        [0.11, 0.5],
        [0.1, 0.52],
        [0, 0.53],
      ],
      [0, 0, 0],
      28,
    ),
  );
  for (const [k, x] of [7.4, 9.5, 11.6, 13.5].entries())
    for (const z of [-1.06, 1.06]) b.again(`Pile ${k + 1}${z < 0 ? ' north' : ' south'}`, jetty, steel, pile, [x, 0, z]);

  const railing = b.group('Railing', jetty);
  const stile = b.mesh(
    new Solid().tube(
      [
        [0, 0.08, 0],
        [0, 1.1, 0],
      ],
      0.017,
      14,
    ),
  );
  for (let k = 0; k < 7; k++) b.again(`Stile ${k + 1}`, railing, steel, stile, [5.0 + k * 1.4, 0, -0.88]);
  for (const [k, y] of [0.42, 0.72, 1.1].entries())
    b.part(
      `Rail ${k + 1}`,
      railing,
      steel,
      new Solid().tube(
        [
          [4.9, y, -0.88],
          [13.55, y, -0.88],
        ],
        k === 2 ? 0.022 : 0.009,
        14,
      ),
    );

  addLandscape(b);
  const helpers = b.group('Helpers', -1, { renderVisible: false });
  const line = b.mesh(new Solid().box([-0.01, 0, -9], [0.01, 0.01, 9]));
  for (let k = 0; k < 5; k++) b.again(`Axis ${k + 1}`, helpers, grid, line, [xs[k]!, 3.6, 0]);
  b.part('Clearance box', helpers, grid, new Solid().box([-1.8, 0.25, 2.3], [1.8, 2.4, 4.4]));

  addStaffage(b, { wood: larch, steel, red: render });
  return b.build();
}
