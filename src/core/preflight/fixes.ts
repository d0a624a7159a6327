/** Edits that mend findings. */
import { type Frame, shotIdOfOutput } from '../frame/frame.js';
import { fitView, type View } from '../camera/view.js';
import { subjectBounds } from '../planning/planFrames.js';
import { gradeOf, withGrade } from '../plan/grading.js';
import type { SetFile } from '../plan/set.js';
import type { Fix, PreflightPlan } from './finding.js';
import { patchOf } from './patch.js';
import type { Box } from './probe.js';

/** What stays free at each side, in shares of the frame. */
const MARGIN = 0.04;
/** Focal lengths that a view takes, millimetres. */
const FOCAL_LENGTHS = { min: 8, max: 1200 };

/** The edit between two states of a set; undefined where it changes nothing. */
export function editFix(label: string, before: SetFile, after: SetFile): Fix | undefined {
  const patch = patchOf(before, after);
  return patch.length > 0 ? { label, patch } : undefined;
}

/** The set with another exposure for a frame, where its grade is written. */
export function withExposure(set: SetFile, frame: Pick<Frame, 'shot' | 'view'>, exposure: number): SetFile {
  const of = { shot: shotIdOfOutput(frame.shot), view: frame.view };
  const { scope, grade } = gradeOf(set, of);
  return withGrade(set, of, scope, { ...grade, exposure });
}

/** Times that a view must show as much, across and upright, so that what is in the boxes is whole. */
function widening(boxes: readonly Box[]): number {
  return Math.max(
    ...boxes.flatMap(([left, top, right, bottom]) => [0.5 - left, 0.5 - top, right - 0.5, bottom - 0.5].map((d) => d / (0.5 - MARGIN))),
  );
}

/** The view with another angle of view; null where no lens does it. */
function widened(view: View, times: number): View | null {
  if (view.kind === 'parallel') return view.width === undefined ? null : { ...view, width: Number((view.width * times).toPrecision(4)) };
  // Whole millimetres, rounded towards what shows more.
  const focalLength = view.focalLength / times;
  const rounded = focalLength >= 20 ? Math.floor(focalLength) : Math.floor(focalLength * 10) / 10;
  return view.kind === 'perspective' && rounded >= FOCAL_LENGTHS.min && rounded <= FOCAL_LENGTHS.max ? { ...view, focalLength: rounded } : null;
}

const lensOf = (view: View): string => (view.kind === 'parallel' ? `${view.width!.toPrecision(3)} m` : `${Number(view.focalLength.toFixed(1))} mm`);

/**
 * Lets the views of these frames show the whole subject by their angle of view: the eye stays, the middle of the frame
 * too. Undefined where that cannot be done: behind the eye, in a locked view, or where the frames come from no view.
 */
export function fitFix({ set }: Pick<PreflightPlan, 'set'>, seen: readonly { frame: Frame; box: Box }[]): Fix | undefined {
  const views = new Map<string, Box[]>();
  for (const { frame, box } of seen) views.set(frame.view, [...(views.get(frame.view) ?? []), box]);
  const changed: [View, View][] = [];
  for (const [id, boxes] of views) {
    const view = set.views.find((v) => v.id === id);
    const times = widening(boxes);
    const next = view && !view.locked && Number.isFinite(times) && times > 0 ? widened(view, times) : null;
    if (view && next) changed.push([view, next]);
  }
  if (changed.length === 0 || changed.length < views.size) return undefined;
  const [[before, after]] = changed as [[View, View]];
  const next = new Map(changed.map(([v, n]) => [v.id, n]));
  return editFix(changed.length === 1 ? `Fit: ${lensOf(before)} to ${lensOf(after)}` : `Fit ${changed.length} views`, set, {
    ...set,
    views: set.views.map((v) => next.get(v.id) ?? v),
  });
}

/** Puts the subject in the middle of the views of these frames, from the same side. Undefined where one is locked or comes from no view. */
export function aimFix({ set, bounds }: Pick<PreflightPlan, 'set' | 'bounds'>, frames: readonly Frame[]): Fix | undefined {
  const ids = new Set(frames.map((f) => f.view));
  if ([...ids].some((id) => set.views.find((v) => v.id === id)?.locked !== undefined || !set.views.some((v) => v.id === id))) return undefined;
  const { size, pixelAspect } = set.sheet;
  return editFix(ids.size === 1 ? 'Aim at the subject' : `Aim ${ids.size} views at the subject`, set, {
    ...set,
    views: set.views.map((v) => (ids.has(v.id) && v.kind !== 'panorama' ? fitView(v, subjectBounds(set, bounds), size, pixelAspect) : v)),
  });
}
