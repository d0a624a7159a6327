import { describe, expect, it } from 'vitest';
import { resolveMaterials, materialAssignmentsSchema } from './assignments.js';
import { csv, scheduleCsv, scheduleOf } from './schedule.js';

const PARTS = [
  { path: 'a', renderVisible: true, materials: ['Brass, brushed', 'Glass'], areas: [1, 2] },
  { path: 'b', renderVisible: true, materials: ['Brass, brushed'], areas: [0.5] },
  { path: 'c', renderVisible: false, materials: ['Glass'], areas: [9] },
];

describe('the finish schedule', () => {
  it('counts parts and areas of what comes out', () => {
    expect(scheduleOf(PARTS, resolveMaterials(PARTS, materialAssignmentsSchema.parse({})))).toEqual([
      { material: 'Brass, brushed', parts: 2, area: 1.5 },
      { material: 'Glass', parts: 1, area: 2 },
    ]);
  });

  it('counts the materials as assigned now', () => {
    const resolved = resolveMaterials(
      PARTS,
      materialAssignmentsSchema.parse({ swaps: [{ from: 'Brass, brushed', to: 'Glass' }], parts: [{ path: 'c', renderVisible: true }] }),
    );
    expect(scheduleOf(PARTS, resolved)).toEqual([{ material: 'Glass', parts: 3, area: 12.5 }]);
  });

  it('is written as RFC 4180 has it', () => {
    expect(scheduleCsv([{ material: 'Brass, brushed', parts: 2, area: 1.50004 }])).toBe('material,parts,area m2\r\n"Brass, brushed",2,1.5\r\n');
    expect(csv([['say "a"', 'line\nend']])).toBe('"say ""a""","line\nend"\r\n');
  });
});
