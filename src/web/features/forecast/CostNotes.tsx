/** What a change of samples, size or frames would add, said before it is made. */
import type { ReactNode } from 'react';
import { about } from '../../app/format.js';
import { forecastOfShot, useForecastState } from './useForecastState.js';
import { MESSAGES } from './words.js';

/** Of all shots: twice the samples, twice the size. */
export function SetCostNote({ traced }: { traced: boolean }): ReactNode {
  const parts = useForecastState()?.answer?.parts;
  if (!parts) return null;
  return (
    <p className="num pb-1 text-graphite" data-testid="set-cost">
      {traced && `${MESSAGES.twiceSamples(about(parts.bySample))} `}
      {MESSAGES.twiceSize(about(3 * (parts.bySample + parts.byPixel)))}
    </p>
  );
}

/** Of one shot: what it takes, and twice the frames. */
export function ShotCostNote({ shot, moving }: { shot: string; moving: boolean }): ReactNode {
  const state = useForecastState();
  const found = forecastOfShot(state?.answer ?? null, shot);
  if (!found) return null;
  const { likely, low, high } = found.seconds;
  return (
    <p className="num text-sm text-graphite" data-testid="shot-cost">
      {MESSAGES.shot(about(likely), about(low), about(high))} {moving && MESSAGES.twiceFrames(about(likely))}
    </p>
  );
}
