/** The editor of a sun study: its suns over the sky. */
import type { InstrumentProps } from '../editorProps.js';
import type { ReactNode } from 'react';
import type { Shot } from '../../../../core/shots/kinds.js';
import type { Site } from '../../../../core/stage/site.js';
import type { SkyPoint } from '../../../../core/stage/sunPath.js';
import { SunPath } from '../../stage/SunPath.js';
import { LABELS, MESSAGES } from './words.js';
import { toast } from '../../../state/toast.js';

/** Where no place is given, the sun goes by hand and its diagram needs no days. */
const NOWHERE: Site = { latitude: 45, longitude: 0, elevation: 0, north: 0, timeZone: 'UTC' };

/** The sun's path over the days of the study. */
export function SunPathEditor({ shot, put, frames, index, desk }: InstrumentProps): ReactNode {
  const path = shot.kind === 'sunStudy' ? shot.path : undefined;
  const frame = frames[index]!;
  const { date } = frame.sun!;
  const own = frames.flatMap((f) => (f.sun && f.sun.date === date ? [f.sun] : []));
  return (
    <div className="flex h-full min-h-0 flex-col">
      <p className="num text-sm" data-testid="sun-of-frame">
        {LABELS.up(
          date ? `${date} ${frame.sun!.time}${frame.sun!.later ? ' (2)' : ''} · ` : '',
          frame.sun!.azimuth.toFixed(1),
          frame.sun!.altitude.toFixed(1),
        )}
        {path && <span className="ml-3 font-body text-graphite">{MESSAGES.drawnPathOfThe}</span>}
      </p>
      <div className="min-h-0 flex-1">
        <SunPath
          site={desk.site ?? NOWHERE}
          date={date ?? '2026-06-21'}
          sun={frame.sun!}
          frames={own}
          {...(path && {
            onDraw: (places: SkyPoint[]) => {
              const problem = put({ ...(shot as Extract<Shot, { kind: 'sunStudy' }>), path: { ...path, points: places } });
              if (problem) toast.error(problem);
            },
          })}
        />
      </div>
    </div>
  );
}
