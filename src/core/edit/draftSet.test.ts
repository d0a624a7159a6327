import { describe, expect, it } from 'vitest';
import { gradeSchema } from '../image/grade.js';
import { withGrade } from '../plan/grading.js';
import { parseSet } from '../plan/set.js';
import { planFrames } from '../planning/planFrames.js';
import { draftSet } from './draftSet.js';

const set = parseSet({
  format: 'cold-easel.set',
  version: 2,
  name: 'Set',
  sheet: { size: { width: 1920, height: 1080 }, quality: 'review', sizes: [{ id: 'square', width: 1080, height: 1080 }], lines: { width: 1.2 } },
  views: [{ id: 'v', name: 'V', eye: [0, 1, 5], target: [0, 0, 0] }],
  shots: [
    { id: 'spin', kind: 'turntable', view: 'v', frames: 4, overrides: { quality: { samples: 400, noise: 0.05 } } },
    { id: 'quick', kind: 'still', views: ['v'], overrides: { quality: 'quick', size: { width: 300, height: 200 } } },
  ],
});
const context = { bounds: { min: [0, 0, 0] as [number, number, number], max: [1, 1, 1] as [number, number, number] }, scene: 'abc' };

describe('a draft of a set', () => {
  const frames = planFrames(draftSet(set, { size: 0.5, samples: 0.25 }), context);
  const of = (shot: string) => frames.filter((f) => f.shot === shot);

  it('has the frames of the set, each smaller and with fewer samples', () => {
    expect(frames).toHaveLength(planFrames(set, context).length);
    expect(of('spin')[0]).toMatchObject({ size: { width: 960, height: 540 }, sampling: { samples: 100, noise: 0.05 } });
    expect(of('spin@square')[0]!.size).toEqual({ width: 540, height: 540 });
    expect(of('spin')[0]!.lines!.width).toBeCloseTo(0.6);
  });

  it('draws lines of a grade as thin, whatever the grade is of', () => {
    const lined = (width: number) => gradeSchema.parse({ lines: { width } });
    const graded = withGrade({ ...set, grade: lined(4) }, { shot: 'quick', view: 'v' }, 'view', lined(8));
    const draft = planFrames(
      draftSet({ ...graded, shots: graded.shots.map((s) => (s.id === 'spin' ? { ...s, grade: lined(0.8) } : s)) }, { size: 0.5, samples: 1 }),
      context,
    );
    const widths = draft.map((f) => [f.shot, f.lines!.width]);
    expect(Object.fromEntries(widths)).toEqual({ spin: 0.5, 'spin@square': 0.5, quick: 4, 'quick@square': 4 });
    expect(draftSet(graded, { size: 0.5, samples: 1 }).grade.lines!.width).toBe(2);
  });

  it('keeps a quick quality, and what a shot sets of its own by its own', () => {
    expect(of('quick')[0]).toMatchObject({ size: { width: 150, height: 100 }, sampling: { mode: 'quick', samples: 4 } });
  });

  it('sees the same: cameras differ in nothing but the size', () => {
    const whole = planFrames(set, context).filter((f) => f.shot === 'spin');
    of('spin').forEach((f, i) => expect(f.camera.viewMatrix).toEqual(whole[i]!.camera.viewMatrix));
  });

  it('keeps sides even, and a sample at least', () => {
    const tiny = draftSet(set, { size: 0.05, samples: 0.01 });
    expect(tiny.sheet.size).toEqual({ width: 96, height: 54 });
    expect(tiny.sheet.quality).toMatchObject({ samples: 1 });
  });
});
