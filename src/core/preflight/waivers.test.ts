/** Findings that a person accepted, and when that ends. */
import { describe, expect, test } from 'vitest';
import { answer, planOf, setOf, turntableOf } from '../../../tests/support/preflight.js';
import type { SetFile } from '../plan/set.js';
import type { Frame } from '../frame/frame.js';
import { openFindings, type PreflightReport, runPreflight } from './preflight.js';
import { applyPatch, patchOf } from './patch.js';

/** A turntable whose subject is cut in frames 3 and 4. */
const cut = ({ index }: Frame): ReturnType<typeof answer> => answer(index === 2 || index === 3 ? { subject: { outside: 0.05 } } : {});
const set = setOf(turntableOf());
const check = (file: SetFile): PreflightReport => runPreflight(planOf(file), cut);
const faults = (file: SetFile): string[] => openFindings(check(file), 'fault').map((f) => f.check);
const [found] = check(set).findings.filter((f) => f.check === 'subject-cut');
const waive = (waiver: object, file = set): SetFile => ({
  ...file,
  waivers: [{ finding: 'subject-cut', reason: 'Meant so.', ...waiver }] as SetFile['waivers'],
});
/** The same plan with its camera elsewhere. */
const moved = (file: SetFile): SetFile => ({ ...file, views: file.views.map((v) => ({ ...v, eye: [0, 1, 7] as [number, number, number] })) });

describe('a waiver', () => {
  test('of a shot holds while what it is about stays, also through other sizes and qualities', () => {
    const waived = waive({ shot: 'spin', about: found!.about.shot });
    expect(faults(waived)).toEqual([]);
    expect(check(waived).findings.find((f) => f.check === 'subject-cut')!.waived).toBe('Meant so.');
    expect(check(waived).waivers).toMatchObject([{ holds: true }]);
    expect(faults({ ...waived, sheet: { ...waived.sheet, quality: 'final' } })).toEqual([]);
  });

  test('of a shot ends when the view moves, when the model changes, or when more frames are concerned', () => {
    const waived = waive({ shot: 'spin', about: found!.about.shot });
    expect(faults(moved(waived))).toEqual(['subject-cut']);
    expect(check(moved(waived)).waivers).toMatchObject([{ holds: false }]);
    expect(openFindings(runPreflight({ ...planOf(waived), scene: 'another' }, cut), 'fault')).toHaveLength(1);
    const more = runPreflight(planOf(waived), (f) => (f.index < 9 ? answer({ subject: { outside: 0.05 } }) : answer()));
    expect(openFindings(more, 'fault')).toHaveLength(1);
  });

  test('of one frame leaves the others', () => {
    const waived = waive({ shot: 'spin', frame: found!.worst, about: found!.about.frame });
    const left = check(waived).findings.find((f) => f.check === 'subject-cut')!;
    expect(left.frames).toEqual([4]);
    expect(left.waived).toBeUndefined();
    expect(faults(moved(waived))).toEqual(['subject-cut']);
    expect(check(moved(waived)).findings.find((f) => f.check === 'subject-cut')!.frames).toEqual([3, 4]);
  });

  test('of the whole set', () => {
    const waived = waive({ about: found!.about.set });
    expect(faults(waived)).toEqual([]);
    expect(faults(moved(waived))).toEqual(['subject-cut']);
  });

  test('of another finding does nothing', () => {
    expect(faults(waive({ finding: 'dark', shot: 'spin', about: found!.about.shot }))).toEqual(['subject-cut']);
  });
});

describe('a fix as data', () => {
  test('makes the one state of the other, whatever was added, changed or taken away', () => {
    const before = setOf({ grade: { exposure: 1 }, stage: { ground: { kind: 'plane', height: 1 } } });
    const after = setOf({ grade: { exposure: 2 }, stage: { ground: { kind: 'plane' } }, author: 'N. N.', ...turntableOf() });
    expect(applyPatch(before, patchOf(before, after))).toEqual(after);
    expect(patchOf(before, before)).toEqual([]);
  });

  test('that no longer fits is refused', () => {
    expect(() => applyPatch(set, [{ path: ['shots', 0, 'view'], value: 'gone' }])).toThrow('Check again');
  });
});
