/** Parts that are hidden in the viewport come out in renders all the same, and the other way round. */
import { isWithin } from '../../model/paths.js';
import { assignParts } from '../../materials/editAssignments.js';
import type { Finding, Found, PlanPart } from '../finding.js';
import { quotePart } from '../wording.js';
import { editFix } from '../fixes.js';

/** Parts of the list that hang below no other of it. */
function topmost(parts: readonly PlanPart[]): PlanPart[] {
  const paths = new Set(parts.map((p) => p.path));
  return parts.filter(({ path }) => !path.includes('/') || !isWithin(path.slice(0, path.lastIndexOf('/')), paths));
}

const listed = (parts: readonly PlanPart[]): string =>
  `${parts
    .slice(0, 4)
    .map((p) => quotePart(p.path))
    .join(', ')}${parts.length > 4 ? ` and ${parts.length - 4} more` : ''}`;

/** Parts that are hidden in the viewport render. */
export const hiddenRendered: Finding = {
  id: 'hidden-rendered',
  title: 'Hidden parts render',
  area: 'model',
  needs: 'plan',
  inspect: ({ parts, set }) => {
    const shown = parts.filter((p) => p.triangles > 0);
    const renders = topmost(shown.filter((p) => p.renderVisible && !p.viewportVisible));
    const lacks = topmost(shown.filter((p) => !p.renderVisible && p.viewportVisible));
    const found: Found[] = [];
    if (renders.length > 0)
      found.push({
        severity: 'doubt',
        message: `${listed(renders)} ${renders.length === 1 ? 'is' : 'are'} hidden in the viewport and will render.`,
        fix: editFix('Leave them out of renders', set, {
          ...set,
          materials: assignParts(
            set.materials,
            renders.map((p) => p.path),
            { renderVisible: false },
          ),
        }),
        about: renders.map((p) => p.path),
      });
    if (lacks.length > 0)
      found.push({
        severity: 'note',
        message: `${listed(lacks)} ${lacks.length === 1 ? 'is' : 'are'} seen in the viewport and will not render.`,
        about: lacks.map((p) => p.path),
      });
    return found;
  },
};
