/** What is done with views: the chosen one, as it is saved or as it was just moved, and every change of it. */
import { preferences } from '../../app/preferences.js';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { OfferedViewReply } from '../../../contract/contract.js';
import { type AngleSetOptions, matchScale } from '../../../core/camera/angleSet.js';
import { evenSize, resizeFrame } from '../../../core/camera/resizeFrame.js';
import { fitView, type Size, type View } from '../../../core/camera/view.js';
import { moveItem, withAngleSet, withCopy, withoutView, withView } from '../../../core/edit/editSet.js';
import { rotatedView } from '../../../core/edit/templates.js';
import { type Bounds, centreOf, type Vec3 } from '../../../core/math/bounds.js';
import { subjectBounds } from '../../../core/planning/planFrames.js';
import { useWorkspace } from '../../app/workspace.js';
import { focusDistance, withImportedCameras, withNewView } from './viewEdits.js';
import { useMovedView } from './useMovedView.js';
import { type PickingState, usePicking } from './usePicking.js';
import { toastProblem } from '../../state/toastProblem.js';
import { toast } from '../../state/toast.js';
import { MESSAGES } from './words.js';

/** The view that is edited, and what can be done with it. */
export interface ViewEditor extends PickingState {
  /** The saved view that is chosen. */
  selected: View | undefined;
  /** As it is looked through now; null where there is no model. */
  shown: View | null;
  bounds: Bounds | undefined;
  /** It was moved by hand and is not saved so. */
  loose: boolean;
  /** Size of the frame while its edges are dragged. */
  framing: Size | null;
  move: (pose: { eye: Vec3; target: Vec3 }) => void;
  choose: (id: string) => void;
  /** Changes the chosen view; returns what is wrong, or null. */
  change: (values: Partial<View>) => string | null;
  saveAsNew: () => void;
  importCameras: (cameras: OfferedViewReply[]) => void;
  fit: () => void;
  fitTurn: () => void;
  frameTo: (size: Size, done: boolean) => void;
  matchScaleOf: (id: string) => void;
  addAngles: (options: AngleSetOptions, group: string) => void;
  /** Deletes the chosen view, or another. */
  remove: (id?: string) => void;
  copy: (id: string) => void;
  lock: (id: string, locked: boolean) => void;
  /** Moves a view by so many places. */
  order: (id: string, by: number) => void;
}

/** The editor; the view that is chosen stands in the address. */
export function useViewEditor(): ViewEditor {
  const { revision, plan } = useWorkspace();
  const [query, setQuery] = useSearchParams();
  const [framing, setFraming] = useState<Size | null>(null);
  const { file, edit } = plan!;
  const { sheet, views } = file;
  const { size: sheetSize, pixelAspect } = sheet;
  const selected = views.find((v) => v.id === query.get('view')) ?? views[0];
  const bounds = revision && subjectBounds(file, revision.bounds);
  const { shown, loose, setPose, move } = useMovedView(selected, bounds, sheet);

  const choose = (id: string): void => {
    setPose(null);
    setQuery({ view: id });
  };
  const change = (values: Partial<View>): string | null => {
    if (!shown) return null;
    if (selected?.locked) return MESSAGES.isLockedUnlockIt(selected.name);
    const next = { ...shown, ...values };
    if (!selected) {
      setPose({ eye: next.eye as Vec3, target: next.target as Vec3 });
      return null;
    }
    const problem = edit((f) => withView(f, { ...next, id: selected.id, name: values.name ?? selected.name }));
    if (!problem) setPose(null);
    return problem;
  };
  const picking = usePicking(
    (point) => shown && toastProblem(change({ focus: focusDistance(shown, point) })),
    (path) => {
      const hidden = new Set(shown?.overrides?.hiddenParts ?? []);
      if (!hidden.delete(path)) hidden.add(path);
      toastProblem(change({ overrides: { ...shown?.overrides, hiddenParts: hidden.size > 0 ? [...hidden] : undefined } }));
    },
  );
  const fitTo = (what: Bounds | undefined): void => {
    if (!shown || !what) return;
    const { eye, target, width } = fitView(shown, what, sheetSize, pixelAspect, preferences().fitMargin);
    toastProblem(change({ eye, target, width }));
  };
  /** The frame's edges were dragged: the sheet follows, and this view keeps its scale. */
  const frameTo = (size: Size, done: boolean): void => {
    const next = evenSize(size);
    setFraming(done ? null : next);
    if (!done || !shown) return;
    toastProblem(
      edit((f) => {
        const sized = { ...f, sheet: { ...f.sheet, size: next } };
        return selected && !selected.locked ? withView(sized, resizeFrame(selected, sheetSize, next, pixelAspect)) : sized;
      }),
    );
  };
  const matchScaleOf = (id: string): void => {
    const other = views.find((v) => v.id === id);
    if (!shown || !bounds || !other) return;
    try {
      const { eye, target, width } = matchScale(shown, other, sheetSize, pixelAspect, centreOf(bounds));
      toastProblem(change({ eye, target, width }));
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  /** Applies an edit that makes views, and chooses one of them. */
  const addViews = (made: { set: typeof file; view: string }): void => {
    const problem = edit(() => made.set);
    toastProblem(problem);
    if (!problem) choose(made.view);
  };
  const remove = (id = selected!.id): void => {
    try {
      const without = withoutView(file, id);
      edit(() => without);
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  return {
    selected,
    shown,
    bounds,
    loose,
    framing,
    ...picking,
    move,
    choose,
    change,
    // The bounds that pivots and lights refer to are frozen with the first view.
    saveAsNew: () => shown && bounds && addViews(withNewView({ ...file, reference: bounds }, shown)),
    importCameras: (cameras) => bounds && addViews(withImportedCameras({ ...file, reference: bounds }, cameras)),
    fit: () => fitTo(bounds),
    fitTurn: () => fitTo(bounds && rotatedView(bounds)),
    frameTo,
    matchScaleOf,
    addAngles: (options, group) => {
      if (!bounds) return;
      const { set, ids } = withAngleSet({ ...file, reference: bounds }, bounds, options, group);
      addViews({ set, view: ids[0]! });
    },
    remove,
    copy: (id) => {
      const made = withCopy(file, id);
      addViews({ set: made.set, view: made.id });
    },
    lock: (id, locked) => toastProblem(edit((f) => ({ ...f, views: f.views.map((v) => (v.id === id ? { ...v, locked: locked || undefined } : v)) }))),
    order: (id, by) =>
      toastProblem(
        edit((f) => ({
          ...f,
          views: moveItem(
            f.views,
            f.views.findIndex((v) => v.id === id),
            by,
          ),
        })),
      ),
  };
}
