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
