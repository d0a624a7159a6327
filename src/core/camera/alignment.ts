/** One plan on several revisions: whether pictures of each view lie on each other. */
import { type Bounds, centreOf, corners, type Vec3 } from '../math/bounds.js';
import { csv } from '../base/csv.js';
import { pixelsPerMetre } from './angleSet.js';
import { cameraOf, projectPoint, type Size, type View } from './view.js';

/** Where a view puts the subject of one revision. */
export interface Placed {
  /** Pixels a metre at the middle of the subject, across the line of sight; null where that lies behind the eye. */
  scale: number | null;
  /** The subject's box in the frame, pixels: left, top, right, bottom; null where it reaches behind the eye. */
  box: [number, number, number, number] | null;
  /** Farthest that a side of the box lies from where it lay on the first revision, pixels; null where either has none. */
  moved: number | null;
}

/** A view over all revisions that are compared. */
export interface AlignmentRow {
  view: View;
  /** One a revision, in their order. */
  revisions: Placed[];
}

function boxOf(view: View, size: Size, pixelAspect: number, bounds: Bounds): Placed['box'] {
  const camera = cameraOf(view, size, pixelAspect);
  const points = corners(bounds).map((c) => projectPoint(camera, size, c as Vec3));
  if (points.some((p) => p === null)) return null;
  const [xs, ys] = [points.map((p) => p![0]), points.map((p) => p![1])];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

/** Scale and box of the subject in every view but panoramas, on each revision's bounds. */
export function alignment(views: readonly View[], size: Size, pixelAspect: number, revisions: readonly Bounds[]): AlignmentRow[] {
  return views
    .filter((v) => v.kind !== 'panorama')
    .map((view) => {
      const boxes = revisions.map((b) => boxOf(view, size, pixelAspect, b));
      const [first] = boxes;
      return {
        view,
        revisions: revisions.map((bounds, i): Placed => {
          const box = boxes[i]!;
          return {
            scale: pixelsPerMetre(view, size, pixelAspect, centreOf(bounds)),
            box,
            moved: box && first ? Math.max(...box.map((v, k) => Math.abs(v - first[k]!))) : null,
          };
        }),
      };
    });
}

/** A set on one model beside another, over all its views. */
export interface AlignmentSummary {
  /** Farthest that a side of the subject's box moved in any view, pixels; null where no view shows both boxes. */
  moved: number | null;
  /** Largest change of scale in any view, percent of the first model's; null where no view has both scales. */
  scaled: number | null;
  /** Views in which the subject reaches beyond the frame, though it did not on the first. */
  cropped: number;
}

const largest = (values: readonly number[]): number | null => (values.length === 0 ? null : Math.max(...values));

/** How the views of a set show a model, beside how they show the first. */
export function alignmentSummary(views: readonly View[], size: Size, pixelAspect: number, first: Bounds, bounds: Bounds): AlignmentSummary {
  const pairs = alignment(views, size, pixelAspect, [first, bounds]).map((r) => r.revisions as [Placed, Placed]);
  const leaves = ({ box }: Placed): boolean => box === null || box[0] < 0 || box[1] < 0 || box[2] > size.width || box[3] > size.height;
  return {
    moved: largest(pairs.flatMap(([, now]) => now.moved ?? [])),
    scaled: largest(pairs.flatMap(([then, now]) => (then.scale && now.scale ? [Math.abs(now.scale / then.scale - 1) * 100] : []))),
    cropped: pairs.filter(([then, now]) => leaves(now) && !leaves(then)).length,
  };
}

/** The table as CSV: a row a view and revision, lengths in pixels; `moved` counts from the first revision. */
export function alignmentCsv(rows: readonly AlignmentRow[], letters: readonly string[]): string {
  const head = ['view', 'revision', 'pixels a metre', 'left', 'top', 'right', 'bottom', 'moved pixels'];
  return csv(
    head,
    rows.flatMap((r) => r.revisions.map((p, i) => [r.view.name, letters[i]!, p.scale, ...(p.box ?? [null, null, null, null]), p.moved])),
  );
}
