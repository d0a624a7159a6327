import { useMemo, useState } from 'react';
import type { PartReply, RevisionReply } from '../../../contract/contract.js';
import { type Camera, cameraOf, fitView, type View } from '../../../core/camera/view.js';
import { type Bounds, transformBounds, type Vec3 } from '../../../core/math/bounds.js';
import { transformedBounds, transformMatrix } from '../../../core/model/modelTransform.js';
import type { SetFile } from '../../../core/plan/set.js';
import { partBounds } from '../../state/partBox.js';

/** Where the model is looked at from, before anybody moves. */
const FIRST_LOOK: View = {
  id: 'desk',
  name: 'desk',
  kind: 'perspective',
  eye: [0.8, 0.45, 1],
  target: [0, 0, 0],
  focalLength: 50,
  keepVerticals: false,
};

/** From where the Model step looks at the model. */
export interface ModelLook {
  /** Of what is selected, as the set places it; null where nothing is. */
  box: Bounds | null;
  /** Null without a model, as the camera is. */
  view: View | null;
  camera: Camera | null;
  move(pose: { eye: Vec3; target: Vec3 } | null): void;
  /** Shows what is selected, or all. */
  fit(): void;
}

/** The look at a model, which nothing keeps. */
export function useModelLook(
  { sheet, transform: place }: SetFile,
  revision: RevisionReply | undefined,
  parts: PartReply[] | undefined,
  selected: ReadonlySet<string>,
): ModelLook {
  const [pose, setPose] = useState<{ eye: Vec3; target: Vec3 } | null>(null);
  const box = useMemo(() => {
    const own = partBounds(parts ?? [], selected);
    return own && revision && place ? transformBounds(own, transformMatrix(place, revision.bounds)) : own;
  }, [parts, selected, revision, place]);
  const view = useMemo((): View | null => {
    if (!revision) return null;
    if (pose) return { ...FIRST_LOOK, ...pose };
    return fitView(FIRST_LOOK, transformedBounds(place, revision.bounds), sheet.size, sheet.pixelAspect, 0.1);
  }, [revision, pose, sheet, place]);
  const camera = useMemo(() => view && cameraOf(view, sheet.size, sheet.pixelAspect), [view, sheet]);
  const fit = (): void => setPose(box ? fitView({ ...FIRST_LOOK, ...pose }, box, sheet.size, sheet.pixelAspect, 0.1) : null);
  return { box, view, camera, move: setPose, fit };
}
