/** One shot has perspective and parallel views. */
import { eachOutput, type Finding } from '../finding.js';

/** Perspective and parallel views stand in one shot. */
export const mixedProjection: Finding = {
  id: 'mixed-projection',
  title: 'Perspective and parallel mixed',
  area: 'format',
  needs: 'plan',
  inspect: eachOutput((output, { set }) => {
    const of = (kind: string): string[] => [
      ...new Set(output.frames.filter((f) => f.camera.kind === kind).map((f) => set.views.find((v) => v.id === f.view)?.name ?? f.view)),
    ];
    const [parallel, perspective] = [of('parallel'), of('perspective')];
    if (parallel.length === 0 || perspective.length === 0) return [];
    return [
      {
        severity: 'note',
        message: `${parallel.slice(0, 4).join(', ')} ${parallel.length === 1 ? 'is' : 'are'} parallel, ${perspective.slice(0, 4).join(', ')} perspective.`,
        about: { parallel, perspective },
      },
    ];
  }),
};
