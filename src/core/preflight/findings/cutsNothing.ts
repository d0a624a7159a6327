/** A cutting plane passes beside the subject, or takes all of it away. */
import { eachOutput, type Finding, type Found, probed } from '../finding.js';
import { formatMetres, inFramesOf } from '../wording.js';

/** A section's plane meets no part that it could cut. */
export const cutsNothing: Finding = {
  id: 'cuts-nothing',
  title: 'Section cuts nothing',
  area: 'section',
  needs: 'rays',
  inspect: eachOutput((output, { set }, probe) => {
    const all = probed(output, probe).flatMap(({ frame, probe: p }) => (p.subject && frame.section ? [{ frame, reach: p.subject.reach }] : []));
    if (all.length === 0) return [];
    const { number } = all[0]!.frame;
    return all[0]!.reach.flatMap((_, plane): Found[] => {
      const ranges = all.map((f) => f.reach[plane]!);
      const beside = ranges.every(([low, high]) => !(high > 0 && low < 0));
      const isGone = ranges.every(([low]) => low >= 0);
      // What the plane is for is not there at all: a part that is lost or hidden.
      const lost = ranges.every(([low, high]) => high < low);
      if (!beside) return [];
      const off = Math.min(...ranges.map(([low, high]) => (low >= 0 ? low : -high)));
      return [
        {
          severity: isGone && !lost ? 'fault' : 'doubt',
          worst: number,
          message: lost
            ? 'The section cuts a part that is not rendered.'
            : isGone
              ? `The section takes all of the subject away: it begins ${formatMetres(off)} beyond the plane.`
              : `The section cuts nothing: the subject ends ${formatMetres(off)} before the plane ${inFramesOf(
                  set,
                  output,
                  all.map((f) => f.frame),
                )}.`,
        },
      ];
    });
  }),
};
