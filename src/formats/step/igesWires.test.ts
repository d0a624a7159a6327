import { describe, expect, it } from 'vitest';
import { igesWires } from './igesWires.js';

interface Entity {
  type: number;
  data: string;
  form?: number;
  matrix?: number;
  status?: string;
}

const row = (text: string, section: string, n: number): string => `${text.padEnd(72)}${section}${String(n).padStart(7)}`;

/** A file in the fixed columns of IGES 5.3; `unit` is the flag of the global section. */
function iges(entities: Entity[], unit = 2): string {
  const globals = `1H,,1H;,4Htest,4Htest,4Htest,4Htest,32,38,6,308,15,4Htest,1.,${unit},2HMM,1,0.01;`;
  const p: string[] = [];
  const d: string[] = [];
  entities.forEach(({ type, data, form = 0, matrix = 0, status = '00000000' }, i) => {
    const words = `${type},${data};`;
    const lines = words.match(/.{1,64}/g)!;
    const first = p.length + 1;
    for (const line of lines) p.push(row(`${line.padEnd(64)}${String(2 * i + 1).padStart(8)}`, 'P', p.length + 1));
    const cells = (list: (number | string)[]): string => list.map((v) => String(v).padStart(8)).join('');
    d.push(row(cells([type, first, 0, 0, 0, 0, matrix, 0, status]), 'D', 2 * i + 1));
    d.push(row(cells([type, 0, 0, lines.length, form, '', '', '', 0]), 'D', 2 * i + 2));
  });
  return [row('by hand', 'S', 1), ...globals.match(/.{1,72}/g)!.map((line, i) => row(line, 'G', i + 1)), ...d, ...p].join('\n');
}

const length = (points: number[]): number => {
  let sum = 0;
  for (let i = 0; i < points.length; i += 6) sum += Math.hypot(...[0, 1, 2].map((k) => points[i + k]! - points[i + 3 + k]!));
  return sum;
};

describe('curves of IGES', () => {
  it('lines, arcs and chains, in the unit of the file', () => {
    const { lists, leftOut } = igesWires(
      iges([
        { type: 110, data: '0.,0.,0.,3.,4.,0.' },
        { type: 100, data: '2.,0.,0.,1.,0.,0.,1.' },
        { type: 106, form: 12, data: '2,3,0.,0.,0.,1.,0.,0.,1.,1.D0,0.' },
      ]),
    );
    expect(leftOut).toBe(0);
    expect(length(lists[0]!)).toBeCloseTo((5 + 48 * Math.sin(Math.PI / 96) + 2) * 1e-3, 12);
    // An arc lies at its own height.
    expect(lists[0]![8]).toBe(0.002);
    expect(length(igesWires(iges([{ type: 110, data: '0.,0.,0.,3.,4.,0.' }], 1)).lists[0]!)).toBeCloseTo(5 * 0.0254, 12);
  });

  it('a spline of degree 2 with weights is a quarter of a circle', () => {
    const w = Math.SQRT1_2;
    const data = `2,2,1,0,0,0,0.,0.,0.,1.,1.,1.,1.,${w},1.,1.,0.,0.,1.,1.,0.,0.,1.,0.,0.,1.,0.,0.,1.`;
    const { lists } = igesWires(iges([{ type: 126, data }]));
    for (let i = 0; i < lists[0]!.length; i += 3) expect(Math.hypot(lists[0]![i]!, lists[0]![i + 1]!)).toBeCloseTo(1e-3, 12);
    expect(lists[0]!).toHaveLength(8 * 6);
  });

  it('what a matrix moves is moved, what is part of another or blanked is left alone, what is not read is counted', () => {
    const file = iges([
      { type: 124, data: '0.,-1.,0.,10.,1.,0.,0.,20.,0.,0.,1.,30.' },
      { type: 110, data: '1.,0.,0.,2.,0.,0.', matrix: 1 },
      { type: 110, data: '0.,0.,0.,9.,0.,0.', status: '00010000' },
      { type: 110, data: '0.,0.,0.,9.,0.,0.', status: '01000000' },
      { type: 112, data: '1,1,3,1' },
    ]);
    const { lists, leftOut } = igesWires(file);
    expect(lists[0]!.map((v) => Number((v * 1e3).toFixed(9)))).toEqual([10, 21, 30, 10, 22, 30]);
    expect(leftOut).toBe(1);
  });

  it('members of a composite curve are drawn once, by it', () => {
    const { lists } = igesWires(
      iges([
        { type: 110, data: '0.,0.,0.,1.,0.,0.', status: '00010000' },
        { type: 110, data: '1.,0.,0.,1.,1.,0.', status: '00010000' },
        { type: 102, data: '2,1,3' },
      ]),
    );
    expect(length(lists[0]!)).toBeCloseTo(2e-3, 12);
  });

  it('nonsense is no curve', () => {
    expect(igesWires('nothing of the kind')).toEqual({ lists: [], leftOut: 0 });
    expect(igesWires(iges([{ type: 110, data: 'a,b,c,d,e,f' }]))).toEqual({ lists: [], leftOut: 1 });
  });
});
