/** The set names parts that this revision does not have. */
import { cutPartPaths, missingPartPaths } from '../../edit/remapParts.js';
import type { Finding, Found } from '../finding.js';
import { quotePart } from '../wording.js';

/** The set names parts that this revision does not have. */
export const lostParts: Finding = {
  id: 'lost-parts',
  title: 'Parts the model lacks',
  area: 'model',
  needs: 'plan',
  inspect: ({ set, parts }) => {
    const paths = new Set(parts.map((p) => p.path));
    const cut = new Set(cutPartPaths(set));
    return missingPartPaths(set, paths).map((path): Found => ({
      severity: cut.has(path) ? 'fault' : 'doubt',
      message: cut.has(path)
        ? `The set cuts ${quotePart(path)}, which this revision does not have. Map it to another part in Model.`
        : `The set names ${quotePart(path)}, which this revision does not have. Map it to another part in Model.`,
      about: { path },
    }));
  },
};
