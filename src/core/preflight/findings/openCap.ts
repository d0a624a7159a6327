/** A section cuts a part whose faces do not close: there is no cut face to cap. */
import { turnMatrix } from '../../camera/view.js';
import type { CuttingPlane, Frame } from '../../frame/frame.js';
import { type Bounds, corners, emptyBounds, joinBounds, transformBounds } from '../../math/bounds.js';
import { transformMatrix } from '../../model/modelTransform.js';
import { isBelow } from '../../model/paths.js';
import { boxInFrame } from '../boxInFrame.js';
import { eachOutput, type Finding, overBox, type PlanPart } from '../finding.js';
import { inFramesOf, quotePart } from '../wording.js';

/** Parts that a message names. */
const MAX_NAMED = 3;

/** Whether the plane goes through the box of the part as the frame has it. */
function crosses({ normal, offset, part: only }: CuttingPlane, path: string, box: Bounds): boolean {
  if (only !== undefined && !isBelow(path, only)) return false;
  const heights = corners(box).map((c) => normal[0] * c[0] + normal[1] * c[1] + normal[2] * c[2] - offset);
  return Math.min(...heights) < 0 && Math.max(...heights) > 0;
}

/** Open parts that the frame's section cuts. @param boxes of the parts where the set puts them. */
function cutOpen({ section, turn }: Frame, open: readonly { part: PlanPart; box: Bounds }[]): PlanPart[] {
  if (!section) return [];
  const turned = turn?.what.includes('subject') ? turnMatrix(turn, turn.rotation) : null;
  return open.flatMap(({ part, box }) => {
    const placed = turned ? transformBounds(box, turned) : box;
    return section.planes.some((p) => crosses(p, part.path, placed)) ? [part] : [];
  });
}

/** A part that is cut is not closed, so that its cap has holes. */
export const openCap: Finding = {
  id: 'open-cap',
  title: 'Cut part is open',
  area: 'section',
  needs: 'plan',
  inspect: eachOutput((output, { set, parts }) => {
    const { frames } = output;
    if (!frames.some((f) => f.section)) return [];
    const model = parts.reduce((all, p) => (p.bounds && p.triangles > 0 ? joinBounds(all, p.bounds) : all), emptyBounds());
    const matrix = set.transform && transformMatrix(set.transform, model);
    const open = parts.flatMap((part) =>
      part.isOpen && part.renderVisible && !part.isContext && !part.isLines && part.bounds
        ? [{ part, box: matrix ? transformBounds(part.bounds, matrix) : part.bounds }]
        : [],
    );
    if (open.length === 0) return [];
    const cut = new Map<string, number>();
    const shown = frames.filter((f) => {
      const found = cutOpen(f, open);
      for (const { path } of found) cut.set(path, (cut.get(path) ?? 0) + 1);
      return found.length > 0;
    });
    if (shown.length === 0) return [];
    const [firstPath] = cut.keys();
    const first = open.find(({ part }) => part.path === firstPath)!.box;
    const names = [...cut.keys()].slice(0, MAX_NAMED).map(quotePart).join(', ');
    const more = cut.size > MAX_NAMED ? ` and ${cut.size - MAX_NAMED} more` : '';
    return [
      {
        severity: 'doubt',
        frames: shown.map((f) => f.number),
        worst: shown[0]!.number,
        message: `The section cuts ${names}${more} ${inFramesOf(set, output, shown)}, whose faces do not close: the cut face may be missing. Close the part in the model, or leave it out of the section.`,
        ...overBox(boxInFrame(shown[0]!, first)),
        about: { parts: [...cut.keys()] },
      },
    ];
  }),
};
