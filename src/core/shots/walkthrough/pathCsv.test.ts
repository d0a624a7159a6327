import { describe, expect, it } from 'vitest';
import { pathCsv, type PathRow, readPath } from './pathCsv.js';

describe('a path as a table', () => {
  const rows: PathRow[] = [{ eye: [1, 1.65, 9] }, { eye: [0, 1.65, 4.5], seconds: 4, hold: 1.5 }, { eye: [-2, 1.65, 0] }];

  it('comes back as it went', () => {
    expect(readPath(pathCsv(rows))).toEqual(rows);
  });

  it('is read with other signs, another order, and without a head', () => {
    expect(readPath('z;y;x\n9;1,65;1\n4,5;1,65;0')).toEqual([{ eye: [1, 1.65, 9] }, { eye: [0, 1.65, 4.5] }]);
    expect(readPath('1\t1.65\t9\n0\t1.65\t4.5\t4')).toEqual([{ eye: [1, 1.65, 9] }, { eye: [0, 1.65, 4.5], seconds: 4 }]);
  });

  it('names the line that is wrong', () => {
    expect(() => readPath('')).toThrow('The file is empty');
    expect(() => readPath('x,y,z\n1,2,3\n1,two,3')).toThrow('Line 3: "two" is no number.');
    expect(() => readPath('x,y,z\n1,2\n1,2,3')).toThrow('Line 2 has no x, y and z.');
    expect(() => readPath('x,y\n1,2\n3,4')).toThrow('has no x, y and z');
    expect(() => readPath('1,2,3')).toThrow('at least two stations');
  });
});
