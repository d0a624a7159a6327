/** The section that is edited: the set's own, or one of its named ones. */
import { useState } from 'react';
import type { PartReply } from '../../../contract/contract.js';
import { freeId, freeName } from '../../../core/edit/editSet.js';
import { capsIn } from '../../../core/frame/sectionCap.js';
import { type Bounds, centreOf, transformBounds, type Vec3 } from '../../../core/math/bounds.js';
import { matrixOf } from '../../../core/math/matrix.js';
import { type Plane, planeThrough } from '../../../core/math/plane.js';
import { resolveTransform } from '../../../core/model/modelTransform.js';
import type { SetFile } from '../../../core/plan/set.js';
import { useWorkspace } from '../../app/workspace.js';
import { partBounds } from '../../state/partBox.js';
import { useParts } from '../../state/queries.js';
import { toast } from '../../state/toast.js';
import { toastProblem } from '../../state/toastProblem.js';
import { LABELS } from './toolWords.js';

/** What each choice cuts away, and the plane's normal. */
export const SIDES = {
  above: { label: LABELS.above, normal: [0, 1, 0], axis: 1, where: LABELS.height },
  front: { label: LABELS.frontZ, normal: [0, 0, 1], axis: 2, where: LABELS.atZ },
  back: { label: LABELS.backZ, normal: [0, 0, -1], axis: 2, where: LABELS.atZ },
  right: { label: LABELS.rightX, normal: [1, 0, 0], axis: 0, where: LABELS.atX },
  left: { label: LABELS.leftX, normal: [-1, 0, 0], axis: 0, where: LABELS.atX },
} as const;
/** One of them. */
export type Side = keyof typeof SIDES;

/** A section as the set has it. */
export type Section = NonNullable<SetFile['section']>;

/** The set's own section among its named ones: no id is written like this. */
export const OWN = '-';
/** A longer list is no help; the search in the Model step is. */
const MAX_LISTED = 400;

/** Which of the sides a section is, or null where it is another plane or several. */
function sideOf({ planes }: Section): Side | null {
  const [plane, more] = planes;
  if (more) return null;
  return (Object.keys(SIDES) as Side[]).find((s) => SIDES[s].normal.every((c, i) => c === plane!.normal[i])) ?? null;
}

/** Where a plane lies beside a part: at the ends and in the middle of its box. */
export const BY_PART = {
  low: (low: number, _: number) => low,
  middle: (low: number, high: number) => (low + high) / 2,
  high: (_: number, high: number) => high,
};

/** What is done with a section. Each edit returns what is wrong with it, or null. */
export interface SectionEditor {
  /** Parts that render, as far as a list of them helps. */
  shown: PartReply[];
  sections: NonNullable<SetFile['sections']>;
  /** The named section that is edited; undefined for the set's own. */
  named: NonNullable<SetFile['sections']>[number] | undefined;
  choose(id: string): void;
  section: Section | undefined;
  /** Which side its one plane cuts away; null for another plane, undefined without one. */
  side: Side | null | undefined;
  /** Path of the part that it cuts alone. */
  part: string | undefined;
  put(next: Section | undefined): string | null;
  /** Saves it under a name of its own, and says what is wrong with that. */
  keep(): void;
  plane(of: Plane): string | null;
  /** Cuts a side away, `at` metres along its axis. */
  cut(side: Side, at: number): string | null;
  /** Where the plane halves the subject, in metres. */
  middle(side: Side): number;
  /** Puts the plane at an end or in the middle of a part as it stands. */
  byPart(side: Side, path: string, where: keyof typeof BY_PART): void;
  /** Puts the plane through points that were picked. */
  through(points: Vec3[]): void;
}

/**
 * @param bounds of the subject.
 * @param eye whence the view looks: a plane through picked points cuts away its side.
 */
export function useSection(bounds: Bounds, eye: Vec3): SectionEditor {
  const { plan, revision } = useWorkspace();
  const { file, edit } = plan!;
  const { data: parts = [] } = useParts(revision?.id);
  const shown = parts.filter((p) => p.renderVisible).slice(0, MAX_LISTED);
  const sections = file.sections ?? [];
  const [chosen, setChosen] = useState(OWN);
  const named = sections.find((s) => s.id === chosen);
  const section: Section | undefined = named ?? file.section;
  const put = (next: Section | undefined): string | null =>
    edit((f) => {
      if (!named) return { ...f, section: next };
      const { id, name } = named;
      const list = next
        ? sections.map((s) => (s.id === id ? { id, name, planes: next.planes, ...capsIn(next) } : s))
        : sections.filter((s) => s.id !== id);
      return { ...f, sections: list.length > 0 ? list : undefined };
    });
  const keep = (): void => {
    const name = freeName(
      LABELS.section,
      sections.map((s) => s.name),
    );
    const id = freeId(
      name,
      sections.map((s) => s.id),
    );
    const problem = edit((f) => ({
      ...f,
      sections: [...sections, { id, name, planes: section!.planes, ...capsIn(section!) }],
    }));
    if (problem) toast.error(problem);
    else setChosen(id);
  };
  const part = section?.planes.length === 1 ? section.planes[0]!.part : undefined;
  const plane = (of: Plane): string | null => put({ ...section, planes: [{ ...of, ...(part && { part }) }] });
  const cut = (side: Side, at: number): string | null => {
    const { normal, axis } = SIDES[side];
    return plane({ normal: [...normal], offset: normal[axis] * at });
  };
  const byPart = (side: Side, path: string, where: keyof typeof BY_PART): void => {
    const box = partBounds(parts, new Set([path]));
    if (!box || !revision) return;
    const placed = resolveTransform(file.transform, revision.bounds);
    const { min, max } = placed ? transformBounds(box, matrixOf(placed.matrix)) : box;
    const { axis } = SIDES[side];
    toastProblem(cut(side, Number(BY_PART[where](min[axis], max[axis]).toFixed(4))));
  };
  const through = (points: Vec3[]): void => {
    try {
      const [a, b, c] = points as [Vec3, Vec3?, Vec3?];
      const normal = section?.planes[0]?.normal ?? [0, 1, 0];
      const size = Math.hypot(...normal);
      const next =
        b && c ? planeThrough([a, b, c], eye) : { normal, offset: Number((normal.reduce((s, v, i) => s + v * a[i]!, 0) / size).toFixed(4)) };
      toastProblem(plane(next));
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  return {
    shown,
    sections,
    named,
    choose: setChosen,
    section,
    side: section && sideOf(section),
    part,
    put,
    keep,
    plane,
    cut,
    middle: (side) => Number(centreOf(bounds)[SIDES[side].axis].toFixed(3)),
    byPart,
    through,
  };
}
