import { describe, expect, it } from 'vitest';
import { resolveMaterials, materialAssignmentsSchema } from './assignments.js';
import { csv, scheduleCsv, scheduleOf } from './schedule.js';

const PARTS = [
  { path: 'a', inPicture: true, finishes: ['Brass, brushed', 'Glass'], areas: [1, 2] },
  { path: 'b', inPicture: true, finishes: ['Brass, brushed'], areas: [0.5] },
  { path: 'c', inPicture: false, finishes: ['Glass'], areas: [9] },
];

describe('the finish schedule', () => {
  it('counts parts and areas of what comes out', () => {
    expect(scheduleOf(PARTS, resolveMaterials(PARTS, materialAssignmentsSchema.parse({})))).toEqual([
      { finish: 'Brass, brushed', parts: 2, area: 1.5 },
      { finish: 'Glass', parts: 1, area: 2 },
    ]);
  });

  it('goes by what is worn now', () => {
    const worn = resolveMaterials(
      PARTS,
      materialAssignmentsSchema.parse({ swaps: [{ from: 'Brass, brushed', to: 'Glass' }], parts: [{ path: 'c', picture: true }] }),
    );
    expect(scheduleOf(PARTS, worn)).toEqual([{ finish: 'Glass', parts: 3, area: 12.5 }]);
  });

  it('is written as RFC 4180 has it', () => {
    expect(scheduleCsv([{ finish: 'Brass, brushed', parts: 2, area: 1.50004 }])).toBe('finish,parts,area m2\r\n"Brass, brushed",2,1.5\r\n');
    expect(csv([['say "a"', 'line\nend']])).toBe('"say ""a""","line\nend"\r\n');
  });
});
