/** What is done with views: the one on the desk, as it is kept or as it was just moved, and every change of it. */
import { type PartClick } from '../../viewport/picking.js';
import { useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { type OfferedViewReply } from '../../../contract/contract.js';
import { type Bounds, centreOf, type Vec3 } from '../../../core/math/bounds.js';
import { freeId, freeName, withAngleSet, withoutView, withView } from '../../../core/edit/editSet.js';
import { subjectBounds } from '../../../core/planning/planFrames.js';
import { type SetFile } from '../../../core/plan/set.js';
import { rotatedView } from '../../../core/edit/templates.js';
import { type AngleSetOptions, matchScale } from '../../../core/camera/angleSet.js';
import { fitView, type Size, type View, viewProblem } from '../../../core/camera/view.js';
import { resizeFrame, evenSize } from '../../../core/camera/resizeFrame.js';
import { defaultView } from '../../../core/camera/defaultView.js';
import { useWorkspace } from '../../app/workspace.js';

export interface ViewEditor {
  /** The kept view that is chosen. */
  selected: View | undefined;
  /** As it is looked through now; null where there is no model. */
  shown: View | null;
  bounds: Bounds | undefined;
  /** It was moved by hand and is not kept so. */
  loose: boolean;
  /** Size of the frame while its edges are dragged. */
  framing: Size | null;
  /** What the next clicks in the viewport say. */
  picking: 'focus' | 'without' | 'points' | null;
  setPicking: (what: 'focus' | 'without' | null) => void;
  /** Asks for so many points of the subject, one after another; 0 asks for none any more. */
  pickPoints: (count: number, done: (points: Vec3[]) => void) => void;
  /** How many points are still to be picked. */
  left: number;
  move: (pose: { eye: Vec3; target: Vec3 }) => void;
  choose: (id: string) => void;
  /** Changes the chosen view; returns what is wrong, or null. */
  change: (values: Partial<View>) => string | null;
  keep: () => void;
  takeOver: (cameras: OfferedViewReply[]) => void;
  fit: () => void;
  fitTurn: () => void;
  frameTo: (size: Size, done: boolean) => void;
  picked: (pick: PartClick) => void;
  toScale: (id: string) => void;
  makeAngles: (options: AngleSetOptions, group: string) => void;
  remove: () => void;
}

export function useViewEditor(): ViewEditor {
  const { revision, plan } = useWorkspace();
  const [query, setQuery] = useSearchParams();
  const [moved, setMoved] = useState<{ of: string; eye: Vec3; target: Vec3; width?: number } | null>(null);
  const { file, edit } = plan!;
  const [framing, setFraming] = useState<Size | null>(null);
  const [picking, setPicking] = useState<ViewEditor['picking']>(null);
  const [asked, setAsked] = useState<{ count: number; points: Vec3[]; done: (points: Vec3[]) => void } | null>(null);
  const pickPoints: ViewEditor['pickPoints'] = (count, done) => {
    setAsked(count > 0 ? { count, points: [], done } : null);
    setPicking(count > 0 ? 'points' : null);
  };
  const { sheet, views } = file;
  const selected = views.find((v) => v.id === query.get('view')) ?? views[0];
  const bounds = revision && subjectBounds(file, revision.bounds);
  const shown = useMemo((): View | null => {
    if (!bounds) return null;
    const base = selected ?? defaultView(bounds, sheet.size, sheet.pixelAspect);
    return moved && moved.of === (selected?.id ?? 'new')
      ? {
          ...base,
          eye: moved.eye,
          target: moved.target,
          width: moved.width ?? base.width,
          keepVerticals: base.keepVerticals && viewProblem({ ...base, ...moved }) === null,
        }
      : base;
  }, [selected, moved, bounds, sheet]);
  const loose = moved !== null && moved.of === (selected?.id ?? 'new');

  const said = (problem: string | null): void => {
    if (problem) toast.error(problem);
  };
  const keep = (): void => {
    if (!shown || !revision) return;
    const name = freeName(
      'View',
      views.map((v) => v.name),
    );
    const view = {
      ...shown,
      name,
      id: freeId(
        name,
        views.map((v) => v.id),
      ),
    };
    // The bounds that pivots and lamps refer to are frozen with the first view.
    const problem = edit((f) => ({ ...withView(f, view), reference: subjectBounds(f, revision.bounds) }));
    if (problem) toast.error(problem);
    setMoved(null);
    setQuery({ view: view.id });
  };
  const takeOver = (cameras: OfferedViewReply[]): void => {
    if (!revision) return;
    let last = '';
    const problem = edit((f) => {
      let next: SetFile = { ...f, reference: subjectBounds(f, revision.bounds) };
      for (const camera of cameras) {
        const name = freeName(
          camera.name,
          next.views.map((v) => v.name),
        );
        last = freeId(
          name,
          next.views.map((v) => v.id),
        );
        next = withView(next, { ...camera, id: last, name });
      }
      return next;
    });
    if (problem) toast.error(problem);
    else setQuery({ view: last });
    setMoved(null);
  };
  const change = (values: Partial<View>): string | null => {
    if (!shown) return null;
    if (selected?.locked) return `"${selected.name}" is locked; unlock it to change it.`;
    const next = { ...shown, ...values };
    if (!selected) {
      setMoved({ of: 'new', eye: next.eye as Vec3, target: next.target as Vec3 });
      return null;
    }
    const problem = edit((f) => withView(f, { ...next, id: selected.id, name: values.name ?? selected.name }));
    if (!problem) setMoved(null);
    return problem;
  };
  const fit = (): void => {
    if (!shown || !bounds) return;
    const { eye, target, width } = fitView(shown, bounds, sheet.size, sheet.pixelAspect);
    said(change({ eye, target, width }));
  };
  const fitTurn = (): void => {
    if (!shown || !bounds) return;
    const { eye, target, width } = fitView(shown, rotatedView(bounds), sheet.size, sheet.pixelAspect);
    said(change({ eye, target, width }));
  };
  /** The frame's edges were dragged: the sheet follows, and this view keeps its scale. */
  const frameTo = (size: Size, done: boolean): void => {
    setFraming(done ? null : evenSize(size));
    if (!done || !shown) return;
    const next = evenSize(size);
    said(
      edit((f) => {
        const sized = { ...f, sheet: { ...f.sheet, size: next } };
        return selected && !selected.locked ? withView(sized, resizeFrame(selected, sheet.size, next, sheet.pixelAspect)) : sized;
      }),
    );
  };
  const picked = ({ path, point }: PartClick): void => {
    if (picking === 'focus' && shown) {
      // Uprights hold the line of sight level.
      const way = shown.target.map((t, i) => (shown.keepVerticals && i === 1 ? 0 : t - shown.eye[i]!));
      const n = Math.hypot(...way);
      // Along the line of sight, as a lens is focused.
      const ahead = way.reduce((s, w, i) => s + (w / n) * (point[i]! - shown.eye[i]!), 0);
      said(change({ focus: Number(Math.max(1e-3, ahead).toFixed(4)) }));
    }
    if (picking === 'without' && path && shown) {
      const without = new Set(shown.overrides?.hiddenParts ?? []);
      if (!without.delete(path)) without.add(path);
      said(change({ overrides: { ...shown.overrides, hiddenParts: without.size > 0 ? [...without] : undefined } }));
    }
    if (picking === 'focus') setPicking(null);
    if (picking !== 'points' || !asked) return;
    const points = [...asked.points, point];
    if (points.length < asked.count) setAsked({ ...asked, points });
    else {
      pickPoints(0, () => {});
      asked.done(points);
    }
  };
  const toScale = (id: string): void => {
    const other = views.find((v) => v.id === id);
    if (!shown || !bounds || !other) return;
    try {
      const { eye, target, width } = matchScale(shown, other, sheet.size, sheet.pixelAspect, centreOf(bounds));
      said(change({ eye, target, width }));
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  const makeAngles = (options: AngleSetOptions, group: string): void => {
    if (!revision || !bounds) return;
    const made = withAngleSet({ ...file, reference: subjectBounds(file, revision.bounds) }, bounds, options, group);
    const problem = edit(() => made.set);
    said(problem);
    setMoved(null);
    if (!problem) setQuery({ view: made.ids[0]! });
  };
  const choose = (id: string): void => {
    setMoved(null);
    setQuery({ view: id });
  };
  const remove = (): void => {
    try {
      const id = selected!.id;
      const without = withoutView(file, id);
      edit(() => without);
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  const move = ({ eye, target }: { eye: Vec3; target: Vec3 }): void => {
    if (!shown) return;
    // Going nearer in a parallel view is seeing less of it.
    const far = (a: readonly number[], b: readonly number[]): number => Math.hypot(...a.map((v, i) => v - b[i]!));
    const width = shown.kind === 'parallel' ? (shown.width! * far(eye, target)) / far(shown.eye, shown.target) : undefined;
    setMoved({ of: selected?.id ?? 'new', eye, target, width });
  };
  return {
    selected,
    shown,
    bounds,
    loose,
    framing,
    picking,
    setPicking,
    pickPoints,
    left: asked ? asked.count - asked.points.length : 0,
    move,
    choose,
    change,
    keep,
    takeOver,
    fit,
    fitTurn,
    frameTo,
    picked,
    toScale,
    makeAngles,
    remove,
  };
}
