/** Grades that mix passes which are not rendered. */
import { passesOfMix } from '../../image/mix.js';
import { passOf } from '../../image/passes.js';
import { effectiveSettings } from '../../plan/formatSheet.js';
import { viewGradesOf } from '../../plan/grading.js';
import type { Finding } from '../finding.js';
import { editFix } from '../fixes.js';

/** A grade mixes passes that are not rendered. */
export const mixWithoutPass: Finding = {
  id: 'mix-without-pass',
  title: 'Grade mixes missing passes',
  area: 'format',
  needs: 'plan',
  inspect: ({ set }) =>
    set.shots.flatMap((shot) => {
      const { passes } = effectiveSettings(set.sheet, shot);
      const grades = [shot.grade ?? set.grade, ...viewGradesOf(shot).map(([, grade]) => grade)];
      const mixed = new Set(grades.flatMap(({ mix }) => (mix ? passesOfMix(mix) : [])));
      const missing = [...mixed].filter((id) => !passes.includes(id));
      if (shot.off || missing.length === 0) return [];
      const added = [...passes, ...missing];
      const fixed = shot.overrides?.passes
        ? { ...set, shots: set.shots.map((s) => (s.id === shot.id ? { ...s, overrides: { ...s.overrides, passes: added } } : s)) }
        : { ...set, sheet: { ...set.sheet, passes: added } };
      const names = missing.map((id) => passOf(id).label).join(', ');
      return [
        {
          severity: 'doubt',
          run: shot.id,
          message: `The grade mixes ${names}, which ${missing.length === 1 ? 'is' : 'are'} not among the passes: that part of it has no effect.`,
          fix: editFix(`Add ${names}`, set, fixed),
          about: { missing },
        },
      ];
    }),
};
