/** The forecast of the set that is worked on, of the frames that the next batch renders. */
import { useMemo, useState } from 'react';
import { secondsUntil } from '../../../core/forecast/secondsUntil.js';
import { useWorkspace } from '../../app/workspace.js';
import { useForecast } from '../../state/forecast.js';
import type { ForecastState } from './useForecastState.js';

/** Seconds until an hour of the day, in whole minutes: it is asked again at most once a minute. */
function minutesUntil(hour: string): number | null {
  const seconds = hour === '' ? null : secondsUntil(hour, new Date());
  return seconds === null ? null : Math.max(60, Math.floor(seconds / 60) * 60);
}

/** Asks for the forecast of what is selected, anew after each edit. */
export function useForecastOf(select: string, setSelect: (select: string) => void): ForecastState {
  const { setId, revision, plan, frames, planProblem, batches } = useWorkspace();
  // What is rendered in truth changes with every batch that is over.
  const rendered = batches.filter((b) => b.state === 'done' || b.state === 'stopped').length;
  const [doneBy, setDoneBy] = useState('');
  const isPlanned = planProblem === null && frames.length > 0;
  const asked = useForecast(setId, revision?.id, isPlanned ? `${plan!.version} ${rendered}` : '', select, minutesUntil(doneBy));
  const { answer, pending, problem } = asked;
  return useMemo(() => ({ answer, pending, problem, doneBy, setDoneBy, select, setSelect }), [answer, pending, problem, doneBy, select, setSelect]);
}
