/** Which grade renders of a set have, where it is written, and what of their frames it decides. */
import type { Frame } from '../frame/frame.js';
import { resolveSampling } from '../frame/settings.js';
import type { Grade } from '../image/grade.js';
import { kindOf, type Shot, viewIds } from '../shots/kinds.js';
import { parseHex } from '../units/colour.js';
import type { FormatSheet } from './formatSheet.js';
import type { SetFile } from './set.js';

/** What a grade is of: every render, those of a shot, or those of a view in a shot that does not move. */
export type GradeScope = 'set' | 'shot' | 'view';

/** Of which renders. */
export interface GradedRenders {
  shot: string;
  view: string;
}

const shotOf = (set: Pick<SetFile, 'shots'>, { shot }: GradedRenders): Shot | undefined => set.shots.find((s) => s.id === shot);

/** Scopes that renders can have a grade of their own in. */
export function gradeScopes(set: Pick<SetFile, 'shots'>, of: GradedRenders): GradeScope[] {
  const shot = shotOf(set, of);
  if (!shot) return ['set'];
  return kindOf(shot).withViewGrade ? ['set', 'shot', 'view'] : ['set', 'shot'];
}

/** The grade that renders have, and what it is of: the narrowest counts. */
export function gradeOf(set: Pick<SetFile, 'shots' | 'grade'>, of: GradedRenders): { scope: GradeScope; grade: Grade } {
  const shot = shotOf(set, of);
  const ofView = shot && kindOf(shot).viewGrade?.(shot, of.view);
  if (ofView) return { scope: 'view', grade: ofView };
  return shot?.grade ? { scope: 'shot', grade: shot.grade } : { scope: 'set', grade: set.grade };
}

/** Grades that a shot has of some of its views alone. */
export function viewGradesOf(shot: Shot): [view: string, grade: Grade][] {
  return viewIds(shot).flatMap((view): [string, Grade][] => {
    const grade = kindOf(shot).viewGrade?.(shot, view);
    return grade ? [[view, grade]] : [];
  });
}

/**
 * The set with that grade in a scope. Narrower ones of these renders go, so that it counts for them.
 * @param grade undefined takes the scope's own grade away; the set's stays.
 */
export function withGrade(set: SetFile, of: GradedRenders, scope: GradeScope, grade: Grade | undefined): SetFile {
  const shots = set.shots.map((s): Shot => {
    if (s.id !== of.shot) return s;
    const kind = kindOf(s);
    const plain = kind.withViewGrade ? kind.withViewGrade(s, of.view, scope === 'view' ? grade : undefined) : s;
    return scope === 'view' ? plain : { ...plain, grade: scope === 'shot' ? grade : undefined };
  });
  return { ...set, shots, ...(scope === 'set' && grade && { grade }) };
}

/** What frames have by their grade: it may draw lines and filter noise otherwise than the format sheet says. */
export function gradedFields(sheet: Pick<FormatSheet, 'quality' | 'lines'>, grade: Grade): Pick<Frame, 'grade' | 'sampling' | 'lines'> {
  const sampling = resolveSampling(sheet.quality);
  const lines = sheet.lines && (grade.lines ?? sheet.lines);
  return {
    grade,
    // What is shaded quickly has no noise to filter.
    sampling: grade.denoise === undefined || sampling.mode !== 'traced' ? sampling : { ...sampling, denoise: grade.denoise },
    lines: lines && { width: lines.width, colour: parseHex(lines.colour) },
  };
}
