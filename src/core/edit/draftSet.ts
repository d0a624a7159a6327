/** The same plan smaller and with fewer samples: to look at a whole movie before its final frames are paid for. */
import { customQualitySchema, MIN_SIDE, type Quality, resolveSampling } from '../frame/settings.js';
import type { Grade } from '../image/grade.js';
import { MIN_LINE_WIDTH } from '../image/lineCover.js';
import type { LineStyle } from '../image/lineStyle.js';
import type { FormatSheet } from '../plan/formatSheet.js';
import { viewGradesOf } from '../plan/grading.js';
import type { SetFile } from '../plan/set.js';
import { kindOf, type Shot } from '../shots/kinds.js';

/** Shares of the planned size and samples, each above 0 and up to 1. */
export interface DraftShares {
  size: number;
  samples: number;
}

/** Sides stay even, as movies want them. */
const side = (pixels: number, share: number): number => Math.max(MIN_SIDE, 2 * Math.round((pixels * share) / 2));

/** A quality with fewer samples; a quick one, which is shaded, stays as it is. */
function fewerSamples(quality: Quality, share: number): Quality {
  if (quality === 'quick') return quality;
  const samples = Math.max(1, Math.round(resolveSampling(quality).samples * share));
  return typeof quality === 'string' ? customQualitySchema.parse({ samples }) : { ...quality, samples };
}

type Sized = Partial<Pick<FormatSheet, 'size' | 'quality' | 'sizes' | 'lines'>>;

const thinner = (lines: LineStyle, by: number): LineStyle => ({ ...lines, width: Math.max(MIN_LINE_WIDTH, lines.width * by) });

/** What of a sheet, or of what a shot sets otherwise, makes frames larger or costlier. */
function smaller<S extends Sized>(sheet: S, { size: by, samples }: DraftShares): S {
  const { size, quality, sizes, lines } = sheet;
  return {
    ...sheet,
    ...(size && { size: { width: side(size.width, by), height: side(size.height, by) } }),
    ...(sizes && { sizes: sizes.map((s) => ({ ...s, width: side(s.width, by), height: side(s.height, by) })) }),
    ...(quality !== undefined && { quality: fewerSamples(quality, samples) }),
    ...(lines && { lines: thinner(lines, by) }),
  };
}

/** A grade whose lines have the same weight beside what they are drawn over. */
const smallerGrade = (grade: Grade, by: number): Grade => (grade.lines ? { ...grade, lines: thinner(grade.lines, by) } : grade);

function smallerShot(shot: Shot, shares: DraftShares): Shot {
  const graded = viewGradesOf(shot).reduce<Shot>((s, [view, grade]) => kindOf(s).withViewGrade!(s, view, smallerGrade(grade, shares.size)), shot);
  return {
    ...graded,
    ...(shot.grade && { grade: smallerGrade(shot.grade, shares.size) }),
    ...(shot.overrides && { overrides: smaller(shot.overrides, shares) }),
  };
}

/** The set as its draft is rendered: every size and every number of samples by its share, all else as it is. */
export function draftSet(set: SetFile, shares: DraftShares): SetFile {
  return {
    ...set,
    sheet: smaller(set.sheet, shares),
    grade: smallerGrade(set.grade, shares.size),
    shots: set.shots.map((shot) => smallerShot(shot, shares)),
  };
}
