import { describe, expect, it } from 'vitest';
import { findingsOf, planOf, setOf, severities } from '../../../tests/support/preflight.js';

const DISK = { folder: '/data/pictures', writable: true, free: 1e9, needed: null };

describe('room on the disk', () => {
  const of = (needed: number | null) => severities('no-room', planOf(setOf({}), { output: { ...DISK, needed } }));
  it('is a fault where files do not fit, and a doubt where little is left', () => {
    expect(of(0.8e9)).toEqual([]);
    expect(of(0.801e9)).toEqual(['doubt']);
    expect(of(1e9)).toEqual(['doubt']);
    expect(of(1.001e9)).toEqual(['fault']);
    const [found] = findingsOf('no-room', planOf(setOf({}), { output: { ...DISK, needed: 2.5e9 } }));
    expect(found!.message).toBe('The files need about 2,500 MB, and 1,000 MB are free. Free some, or make smaller or fewer files.');
  });

  it('is not judged where nobody foresaw the files, or nothing is known of the place', () => {
    expect(of(null)).toEqual([]);
    expect(severities('no-room', planOf(setOf({})))).toEqual([]);
  });
});

describe('the folder of the files', () => {
  it('is a fault where nothing can be written to it', () => {
    const of = (writable: boolean) => findingsOf('not-writable', planOf(setOf({}), { output: { ...DISK, writable } }));
    expect(of(true)).toEqual([]);
    expect(of(false).map((f) => [f.severity, f.message])).toEqual([
      ['fault', 'Nothing can be written to /data/pictures. Change its permissions, or choose another data folder.'],
    ]);
  });
});

describe('a grade that mixes passes', () => {
  const shots = [{ id: 'spin', kind: 'turntable', view: 'front', frames: 2 }];
  const of = (more: object) => findingsOf('mix-without-pass', planOf(setOf({ shots, ...more })));
  const mix = { occlusion: 0.5, fog: { half: 20 } };
  it('is doubted where one is not rendered, and the fix adds it', () => {
    const [found] = of({ grade: { mix }, sheet: { passes: ['beauty', 'depth'] } });
    expect([found!.severity, found!.run, found!.message]).toEqual([
      'doubt',
      'spin',
      'The grade mixes ambient occlusion, which is not among the passes: that part of it has no effect.',
    ]);
    expect(found!.fix!.patch).toEqual([{ path: ['sheet', 'passes'], value: ['beauty', 'depth', 'occlusion'] }]);
    expect(of({ grade: { mix }, sheet: { passes: ['beauty', 'depth', 'occlusion'] } })).toEqual([]);
  });
  it('is that of the shot, where it has its own grade and passes', () => {
    expect(of({ grade: { mix }, shots: [{ ...shots[0], grade: {} }] })).toEqual([]);
    const [found] = of({ shots: [{ ...shots[0], grade: { mix: { diffuse: 2 } }, overrides: { passes: ['beauty'] } }] });
    expect(found!.fix!.patch).toEqual([{ path: ['shots', 0, 'overrides', 'passes'], value: ['beauty', 'diffuse'] }]);
  });
});
