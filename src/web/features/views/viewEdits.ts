/** Edits of a set that make views, and what a click means for a view. */
import type { OfferedViewReply } from '../../../contract/contract.js';
import type { View } from '../../../core/camera/view.js';
import { freeId, freeName, withView } from '../../../core/edit/editSet.js';
import type { Vec3 } from '../../../core/math/bounds.js';
import type { SetFile } from '../../../core/plan/set.js';
import { LABELS } from './words.js';

/** A set with a view more, and the id of that view. */
export interface SetWithView {
  set: SetFile;
  view: string;
}

function addView(set: SetFile, view: Omit<View, 'id' | 'name'>, wanted: string): SetWithView {
  const name = freeName(
    wanted,
    set.views.map((v) => v.name),
  );
  const id = freeId(
    name,
    set.views.map((v) => v.id),
  );
  return { set: withView(set, { ...view, id, name }), view: id };
}

/** The set with the view added under a free id and name. */
export const withNewView = (set: SetFile, view: View): SetWithView => addView(set, view, LABELS.view);

/** Every camera as a view, in order; the last is the one that is named. */
export function withImportedCameras(set: SetFile, cameras: OfferedViewReply[]): SetWithView {
  return cameras.reduce<SetWithView>((made, camera) => addView(made.set, camera, camera.name), { set, view: '' });
}

/** Metres along the line of sight to a point, as a lens is focused; with straight verticals that line is level. */
export function focusDistance({ eye, target, keepVerticals }: View, point: Vec3): number {
  const way = target.map((t, i) => (keepVerticals && i === 1 ? 0 : t - eye[i]!));
  const length = Math.hypot(...way);
  const ahead = way.reduce((sum, w, i) => sum + (w / length) * (point[i]! - eye[i]!), 0);
  return Number(Math.max(1e-3, ahead).toFixed(4));
}
