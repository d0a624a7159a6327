/** The eye looks through more surfaces of glass in line than light is followed through: they come out black. */
import { customQualitySchema, QUALITY_LEVELS } from '../../frame/settings.js';
import { effectiveSettings } from '../../plan/formatSheet.js';
import { eachOutput, type Finding, overCells, probed } from '../finding.js';
import { inFramesOf, maxBy, percent } from '../wording.js';
import { editFix } from '../fixes.js';

/** Share of the pixels that may look through more. */
const STRAY = 0.002;
const MAX_DEPTH = 64;

/** More glass lies in line than paths are followed through. */
export const glassDepth: Finding = {
  id: 'glass-depth',
  title: 'Glass deeper than followed',
  area: 'light',
  needs: 'rays',
  inspect: eachOutput((output, { set }, probe) => {
    const deep = probed(output, probe).flatMap(({ frame, probe: p }) =>
      frame.sampling.mode === 'traced' && p.beyondDepth > STRAY
        ? [{ frame, share: p.beyondDepth, interfaces: p.interfaces, cells: p.marks.deep }]
        : [],
    );
    if (deep.length === 0) return [];
    const worst = maxBy(deep, (f) => f.share);
    const depth = worst.frame.sampling.refractionDepth;
    const wanted = Math.min(MAX_DEPTH, Math.max(depth + 1, ...deep.map((f) => f.interfaces)));
    const { shot } = output;
    const { quality } = effectiveSettings(set.sheet, shot);
    const own = typeof quality === 'string' ? customQualitySchema.parse({ samples: QUALITY_LEVELS[quality] }) : quality;
    const bounces = own.depth?.bounces ?? worst.frame.sampling.bounces;
    return [
      {
        severity: 'doubt',
        frames: deep.map((f) => f.frame.number),
        worst: worst.frame.number,
        message: `${percent(worst.share)} of the frame looks through more than ${depth} surfaces of glass, up to ${wanted}, ${inFramesOf(
          set,
          output,
          deep.map((f) => f.frame),
        )}.`,
        fix: editFix(`Refraction depth ${wanted}`, set, {
          ...set,
          shots: set.shots.map((s) =>
            s.id === shot.id ? { ...s, overrides: { ...s.overrides, quality: { ...own, depth: { bounces, refractionDepth: wanted } } } } : s,
          ),
        }),
        ...overCells(worst.cells),
        about: { depth },
      },
    ];
  }),
};
