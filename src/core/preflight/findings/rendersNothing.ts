/** No shot makes a frame. */
import type { Finding, Found } from '../finding.js';

/** A set, or a shot of it, has nothing to render. */
export const rendersNothing: Finding = {
  id: 'renders-nothing',
  title: 'Nothing to render',
  area: 'format',
  needs: 'plan',
  inspect: ({ outputs, set }): Found[] =>
    outputs.some((o) => o.frames.length > 0)
      ? []
      : [
          {
            severity: 'fault',
            message: set.shots.length === 0 ? 'The set has no shots. Add one in Shots.' : 'All shots are switched off. Switch one on in Shots.',
          },
        ],
};
