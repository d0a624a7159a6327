import { describe, expect, it } from 'vitest';
import { gradeSchema } from '../image/grade.js';
import { planFrames } from '../planning/planFrames.js';
import { gradeOf, gradeScopes, viewGradesOf, withGrade } from './grading.js';
import { parseSet, type SetFile } from './set.js';

const set = parseSet({
  format: 'cold-easel.set',
  version: 2,
  name: 'Set',
  sheet: { lines: { width: 1, colour: '#000000' }, quality: 'review' },
  grade: { exposure: 1 },
  views: ['a', 'b'].map((id) => ({ id, name: id, eye: [0, 1, 5], target: [0, 0, 0] })),
  shots: [
    { id: 'spin', kind: 'turntable', view: 'a', frames: 2 },
    { id: 'still', kind: 'still', views: ['a', 'b'] },
  ],
});
const grade = (exposure: number, more: object = {}) => gradeSchema.parse({ exposure, ...more });
const planned = (file: SetFile) => planFrames(file, { bounds: { min: [0, 0, 0], max: [1, 1, 1] }, scene: 'abc' });
/** Exposure of each frame: two of the turntable, then both views of the still. */
const exposures = (file: SetFile): number[] => planned(file).map((f) => f.grade.exposure);

describe('which grade renders have', () => {
  it('the narrowest: of the view, of the shot, of the set', () => {
    expect(exposures(set)).toEqual([1, 1, 1, 1]);
    const ofShot = withGrade(set, { shot: 'still', view: 'a' }, 'shot', grade(2));
    expect(exposures(ofShot)).toEqual([1, 1, 2, 2]);
    const ofView = withGrade(ofShot, { shot: 'still', view: 'b' }, 'view', grade(3));
    expect(exposures(ofView)).toEqual([1, 1, 2, 3]);
    expect(['a', 'b', 'c'].map((view) => gradeOf(ofView, { shot: 'still', view }).scope)).toEqual(['shot', 'view', 'shot']);
    expect(gradeOf(ofView, { shot: 'gone', view: 'a' })).toEqual({ scope: 'set', grade: set.grade });
    expect(viewGradesOf(ofView.shots[1]!)).toEqual([['b', grade(3)]]);
  });

  it('a wider one counts for the render that it is given by, and leaves the others', () => {
    const ofViews = withGrade(withGrade(set, { shot: 'still', view: 'a' }, 'view', grade(3)), { shot: 'still', view: 'b' }, 'view', grade(4));
    expect(exposures(withGrade(ofViews, { shot: 'still', view: 'a' }, 'shot', grade(5)))).toEqual([1, 1, 5, 4]);
    expect(exposures(withGrade(ofViews, { shot: 'still', view: 'b' }, 'set', grade(5)))).toEqual([5, 5, 3, 5]);
  });

  it('taken away, the wider one counts again; nothing of it stays in the file', () => {
    const of = { shot: 'still', view: 'a' };
    expect(withGrade(withGrade(set, of, 'view', grade(3)), of, 'view', undefined)).toEqual({ ...set, shots: set.shots.map((s) => ({ ...s })) });
    expect(exposures(withGrade(withGrade(set, of, 'shot', grade(3)), of, 'shot', undefined))).toEqual([1, 1, 1, 1]);
  });

  it('views of a shot that moves have none of their own', () => {
    expect(gradeScopes(set, { shot: 'spin', view: 'a' })).toEqual(['set', 'shot']);
    expect(gradeScopes(set, { shot: 'still', view: 'a' })).toEqual(['set', 'shot', 'view']);
    expect(gradeScopes(set, { shot: 'gone', view: 'a' })).toEqual(['set']);
  });
});

describe('a grade', () => {
  it('draws lines otherwise where the sheet has some, and filters noise or not', () => {
    const [frame] = planned({ ...set, grade: grade(0, { lines: { width: 3, colour: '#ffffff' }, denoise: false }) });
    expect(frame!.lines).toEqual({ width: 3, colour: [1, 1, 1] });
    expect(planned(set)[0]!.sampling.denoise).toBe(true);
    expect(frame!.sampling).toEqual({ ...planned(set)[0]!.sampling, denoise: false });
    const { lines: _, ...sheet } = set.sheet;
    expect(planned({ ...set, sheet, grade: grade(0, { lines: { width: 3, colour: '#ffffff' } }) })[0]!.lines).toBeUndefined();
  });

  it('does not filter what is shaded quickly', () => {
    const quick = { ...set, sheet: { ...set.sheet, quality: 'quick' as const } };
    expect(planned({ ...quick, grade: grade(0, { denoise: true }) })[0]!.sampling).toEqual(planned(quick)[0]!.sampling);
  });
});
