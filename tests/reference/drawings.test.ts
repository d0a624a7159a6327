/** DXF, written here by group codes (DXF Reference; from memory): sizes follow from the numbers in the file. And files by others. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { type Model, modelBounds, triangleCount } from '../../src/core/model/model.js';
import type { AskedOptions } from '../../src/formats/format.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import { compile } from '../../src/engine/scene/compile.js';
import { readModel } from '../../src/formats/formats.js';
import { writeGlb } from '../../src/formats/glb/write.js';

const read = (name: string, text: string | Uint8Array, options: AskedOptions = {}): Promise<Model> =>
  readModel([{ name, bytes: typeof text === 'string' ? new TextEncoder().encode(text) : text }], options);
const round = (list: readonly number[]): number[] => list.map((v) => Math.round(v * 1e4) / 1e4 + 0);
const boxOf = (model: Model): number[] => round([...modelBounds(model).min, ...modelBounds(model).max]);
/** Lowest and highest x, y and z of lines. */
const reach = (points: readonly number[]): number[] => {
  const of = (k: number): number[] => points.filter((_, i) => i % 3 === k);
  return round([0, 1, 2].flatMap((k) => [Math.min(...of(k)), Math.max(...of(k))]));
};

/** Codes and values by turns, each on its line. */
const codes = (...said: string[]): string => `${said.join(' ').split(/\s+/).join('\n')}\n`;
const layer = (name: string, colour: number, flags = 0): string => `0 LAYER 2 ${name} 70 ${flags} 62 ${colour}`;
/** A drawing of entities on layers, with blocks. */
const drawing = (entities: readonly string[], { units = 6, blocks = [] as string[], layers = [layer('0', 7), layer('Walls', 1)] } = {}): string =>
  codes(
    `0 SECTION 2 HEADER 9 $INSUNITS 70 ${units} 0 ENDSEC 0 SECTION 2 TABLES 0 TABLE 2 LAYER 70 ${layers.length}`,
    ...layers,
    '0 ENDTAB 0 ENDSEC 0 SECTION 2 BLOCKS',
    ...blocks,
    '0 ENDSEC 0 SECTION 2 ENTITIES',
    ...entities,
    '0 ENDSEC 0 EOF',
  );
const face = (corners: readonly number[][], more = '8 Walls'): string =>
  `0 3DFACE ${more} ${corners.map((c, i) => c.map((v, k) => `${(k + 1) * 10 + i} ${v}`).join(' ')).join(' ')}`;
const wall = face([
  [0, 0, 0],
  [4, 0, 0],
  [4, 0, 3],
  [0, 0, 3],
]);

describe('DXF', () => {
  it.each([
    [1, 0.0254],
    [2, 0.3048],
    [4, 0.001],
    [5, 0.01],
    [6, 1],
    [7, 1000],
  ])('of unit %i has its size in metres, heights along +Y, parts by layer and the colour of the layer', async (units, metres) => {
    const model = await read('house.dxf', drawing([wall], { units }));
    expect(boxOf(model)).toEqual(round([0, 0, 0, 4 * metres, 3 * metres, 0]));
    expect(model.parts.map((p) => p.path)).toEqual(['house', 'house/Walls']);
    expect(model.materials.map((m) => [m.name, m.base])).toEqual([['Colour #ff0000', [1, 0, 0]]]);
    expect(model.warnings).toEqual([]);
  });

  it('without a unit is in millimetres, and says so; one that is given is taken', async () => {
    const plain = drawing([wall], { units: 0 });
    const assumed = await read('a.dxf', plain);
    expect([boxOf(assumed), assumed.warnings]).toEqual([round([0, 0, 0, 0.004, 0.003, 0]), ['Not stated by the file, and assumed: millimetres.']]);
    const given = await read('a.dxf', plain, { unit: 'ft' });
    expect([boxOf(given), given.warnings]).toEqual([round([0, 0, 0, 1.2192, 0.9144, 0]), []]);
  });

  it('has lines and curves as lines of their layer: arcs, bulges, ellipses and splines where they run', async () => {
    const model = await read(
      'plan.dxf',
      drawing([
        wall,
        '0 LINE 8 Axes 10 0 20 0 30 0 11 2 21 1 31 0',
        '0 CIRCLE 8 Round 10 5 20 5 30 0 40 2',
        '0 ARC 8 Arc 10 0 20 0 30 0 40 1 50 0 51 90',
        // Half a turn to the right of the way from (0, 0) to (2, 0): below it.
        '0 LWPOLYLINE 8 Bulge 90 2 70 0 10 0 20 0 42 1 10 2 20 0',
        `0 ELLIPSE 8 Oval 10 0 20 0 30 0 11 0 21 3 31 0 40 0.5 41 0 42 ${2 * Math.PI}`,
        '0 SPLINE 8 Bow 70 8 71 2 72 6 73 3 40 0 40 0 40 0 40 1 40 1 40 1 10 0 20 0 30 0 10 1 20 2 30 0 10 2 20 0 30 0',
      ]),
    );
    const of = (name: string): number[] => {
      const at = model.parts.findIndex((p) => p.path === `plan/${name}/Lines`);
      return model.curves.find((c) => c.part === at)!.points;
    };
    expect(of('Axes')).toEqual([0, 0, -0, 2, 0, -1]);
    // The drawing's +Y runs to −Z.
    expect(reach(of('Round'))).toEqual([3, 7, 0, 0, -7, -3]);
    expect(reach(of('Arc'))).toEqual([0, 1, 0, 0, -1, 0]);
    expect(reach(of('Bulge'))).toEqual([0, 2, 0, 0, 0, 1]);
    expect(reach(of('Oval'))).toEqual([-1.5, 1.5, 0, 0, -3, 3]);
    // A parabola that peaks at half the height of its middle point.
    expect(reach(of('Bow'))).toEqual([0, 2, 0, 0, -1, 0]);
    expect(model.parts.filter((p) => p.name === 'Lines').every((p) => !p.renderVisible)).toBe(true);
  });

  it('puts blocks where they are inserted: turned, scaled, mirrored by their plane, in rows, and in one another', async () => {
    const block = (name: string, entities: string, base: number): string =>
      `0 BLOCK 8 0 2 ${name} 70 0 10 ${base} 20 0 30 0 ${entities} 0 ENDBLK 8 0`;
    const insert = (name: string, on: string, more: string): string => `0 INSERT 8 ${on} 2 ${name} ${more}`;
    const corners = [
      [1, 0, 0],
      [2, 0, 0],
      [2, 1, 0],
      [1, 1, 0],
    ];
    const blocks = [block('Tile', face(corners, '8 0 62 0'), 1), block('Pair', insert('Tile', '0', '62 0 10 0 20 0 30 0 70 2 44 3'), 0)];
    const one = (more: string, name = 'Tile'): Promise<Model> => read('b.dxf', drawing([insert(name, 'Walls', more)], { blocks }));
    expect(boxOf(await one('10 5 20 0 30 0 41 2 42 1 43 1'))).toEqual([5, 0, -1, 7, 0, 0]);
    expect(boxOf(await one('10 0 20 0 30 0 50 90'))).toEqual([-1, 0, -1, 0, 0, 0]);
    // Extruded downwards, x is mirrored.
    expect(boxOf(await one('10 0 20 0 30 0 210 0 220 0 230 -1'))).toEqual([-1, 0, -1, 0, 0, 0]);
    const pair = await one('10 0 20 0 30 0 62 3', 'Pair');
    expect([boxOf(pair), triangleCount(pair)]).toEqual([[0, 0, -1, 4, 0, 0], 4]);
    // On layer 0 of a block it is on the insert's layer; its colour is the insert's, through both blocks, where they say so.
    expect([pair.parts.map((p) => p.name), pair.materials.map((m) => m.name)]).toEqual([['b', 'Walls'], ['Colour #00ff00']]);
    const lost = await read('b.dxf', drawing([wall, insert('Gone', '0', '10 0 20 0 30 0')]));
    expect(lost.warnings).toEqual(['Blocks that are not in the file: "Gone".']);
  });

  it('has meshes of numbered vertices, hides frozen layers, and names what it leaves out', async () => {
    const place = (x: number, y: number): string => `0 VERTEX 8 Off 10 ${x} 20 ${y} 30 0 70 192`;
    const mesh = [
      '0 POLYLINE 8 Off 66 1 70 64',
      ...[place(0, 0), place(1, 0), place(1, 1), place(0, 1)],
      '0 VERTEX 8 Off 10 0 20 0 30 0 70 128 71 1 72 2 73 -3 74 4 0 SEQEND 8 Off',
    ];
    const others = [
      '0 HATCH 8 0 2 SOLID',
      '0 LINE 60 1 8 0 10 0 20 0 11 1 21 1',
      '0 LWPOLYLINE 8 0 90 2 70 0 39 2.5 10 0 20 0 10 1 20 0',
      '0 DIMENSION 8 0 10 0 20 0',
      '0 TEXT 8 0 10 0 20 0 40 1 1 Hall',
      '0 LINE 67 1 8 0 10 0 20 0 11 1 21 1',
    ];
    const layers = [layer('0', 7), layer('Walls', 1), layer('Off', 5, 1)];
    const model = await read('c.dxf', drawing([wall, ...mesh, ...others], { layers }));
    expect(model.parts.map((p) => [p.name, p.renderVisible])).toEqual([
      ['c', true],
      ['Walls', true],
      ['Off', false],
      ['0', true],
      ['Lines', false],
    ]);
    expect(triangleCount(model)).toBe(4);
    expect(model.warnings).toEqual([
      'Left out: 1 DIMENSION, 1 TEXT, 1 HATCH.',
      '1 entity of paper space left out.',
      '1 hidden entity left out.',
      '1 line has a thickness, which is left out.',
    ]);
  });

  it('of lines alone has its size by them, and shows them; frozen layers stay hidden', async () => {
    const lines = ['0 LINE 8 Walls 10 0 20 0 30 0 11 3 21 2 31 0', '0 LINE 8 Off 10 0 20 0 30 0 11 1 21 1 31 0'];
    const model = await read('d.dxf', drawing(lines, { layers: [layer('Walls', 1), layer('Off', 5, 1)] }));
    expect(boxOf(model)).toEqual([0, 0, -2, 3, 0, 0]);
    expect(model.curves.map(({ part }) => [model.parts[part]!.path, model.parts[part]!.renderVisible])).toEqual([
      ['d/Walls/Lines', true],
      ['d/Off/Lines', false],
    ]);
    expect(model.warnings).toEqual(['The file has lines alone. Renders show them with "Line overlay", under Passes on the Shots step.']);
    // As it is kept: read back, and compiled for the kernel.
    const kept = await readModel([{ name: 'd.glb', bytes: await writeGlb(model) }], {});
    expect([boxOf(kept), compile(loadKernelModule(), kept).curves.length]).toEqual([boxOf(model), 2]);
  });

  it('comes to an end where a table or a polyline does not', async () => {
    const whole = drawing([wall]);
    await expect(read('e.dxf', whole.replace('8\nWalls', '8Walls'))).rejects.toThrow(/line \d+ should be a number and is not/);
    await expect(read('e.dxf', whole.replace('LAYER\n2\nWalls', 'LAYEX\n2\nWalls'))).rejects.toThrow(
      'its table of LAYER holds LAYEX, or does not end',
    );
    await expect(read('e.dxf', whole.replace('0\nENDTAB\n', ''))).rejects.toThrow('its table of LAYER holds ENDSEC, or does not end');
    // Without its SEQEND a polyline ends where the next entity begins.
    const open = await read(
      'e.dxf',
      drawing(['0 POLYLINE 8 Walls 66 1 70 0', '0 VERTEX 8 Walls 10 0 20 0 30 0', '0 VERTEX 8 Walls 10 2 20 0 30 0', wall]),
    );
    expect([open.curves[0]!.points.length, triangleCount(open)]).toEqual([6, 2]);
    // Numbers of vertices (91) may be between them, and the count is not to be trusted.
    const flat = (more: string): string => drawing([wall, `0 LWPOLYLINE 8 Walls 90 2000000000 70 0 10 0 20 0 91 7 10 1 20 0 91 8 10 1 ${more} 1`]);
    expect((await read('e.dxf', flat('20'))).curves[0]!.points.length).toBe(12);
    await expect(read('e.dxf', flat('2'))).rejects.toThrow('a vertex of a polyline has no y');
    const many = ['0 INSERT 8 0 2 None 10 0 20 0 30 0 70 32000 71 32000', wall];
    await expect(read('e.dxf', drawing(many))).rejects.toThrow('has more than 2,000,000 entities');
  });

  it('is refused where it is cut short, or has nothing to see', async () => {
    await expect(read('d.dxf', drawing([wall]).slice(0, -8))).rejects.toThrow('"d.dxf" is cut short');
    await expect(read('d.dxf', drawing(['0 TEXT 8 0 10 0 20 0 40 1 1 Hall']))).rejects.toThrow('"d.dxf" has no surfaces to render');
  });

  it.each([
    // Triangles as counted in the files with awk, a face of four corners as two; the second as of the same model in OBJ too.
    ['PinkEggFromLW.dxf', 576],
    ['wuson.dxf', 3732],
    ['issue_2229.dxf', 1520],
  ])('of another program is read whole: %s', async (name, triangles) => {
    const bytes = new Uint8Array(readFileSync(`/usr/share/assimp/models/DXF/${name}`));
    const model = await read(name, bytes, { unit: 'm', up: 'z' });
    const dropped = Number(/^(\d+) triangle/.exec(model.warnings.join())?.[1] ?? 0);
    expect([triangleCount(model) + dropped, model.warnings.length]).toEqual([triangles, dropped > 0 ? 1 : 0]);
  });
});
