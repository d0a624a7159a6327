/** A movie as it is asked for: what its form shows, how long it is, and what the server makes of it. */
import { useRef, useState } from 'react';
import type { MovieForecastReply } from '../../../contract/batches.js';
import { movieSteps } from '../../../core/movie/movieOptions.js';
import { parseRate, rateValue } from '../../../core/units/rate.js';
import { useWorkspace } from '../../app/workspace.js';
import { send } from '../../state/api.js';
import { useRunFrames } from '../../state/results.js';
import { toastProblem } from '../../state/toastProblem.js';
import type { HandoverRow } from './handoverRows.js';
import { FIRST, optionsOf, type Shown } from './movieForm.js';
import { MESSAGES } from './movieWords.js';

/** A movie's form. */
export interface MovieForm {
  shown: Shown;
  /** Takes values; says what is wrong with them, and then takes none. */
  put: (values: Partial<Shown>) => string | null;
  /** How long the movie is, in words, or what is wrong with its range. */
  length: string;
  /** Bytes that it is forecast to have, once they were asked for. */
  estimate: number | undefined;
  /** The rest of its frames may still be rendering: the movie is behind them then, and says so. */
  partial: boolean;
  /** Whether the server is being asked. */
  busy: boolean;
  make: () => void;
  foresee: () => void;
}

/** The form of a movie of that row's frames; `onDone` is called when it is being made. */
export function useMovieForm(row: HandoverRow, onDone: () => void): MovieForm {
  const [shown, setShown] = useState<Shown>(FIRST);
  const latest = useRef(shown);
  latest.current = shown;
  const { plan } = useWorkspace();
  const [busy, setBusy] = useState(false);
  const [estimate, setEstimate] = useState<number>();
  const { data: frameList } = useRunFrames(row.batch ? { batch: row.batch.id, run: row.run } : null);
  const planned = row.batch?.rate ?? '24';
  const partial = row.done < row.frames;
  const put = (values: Partial<Shown>): string | null => {
    const next = { ...shown, ...values };
    try {
      optionsOf(next);
    } catch (e) {
      return (e as Error).message;
    }
    setShown(next);
    setEstimate(undefined);
    return null;
  };
  const length = (): string => {
    const rate = parseRate(shown.rate || planned);
    if (!frameList) return '';
    try {
      const frames = movieSteps(
        frameList
          .filter((f) => !partial || f.state === 'done')
          .map((f) => f.number)
          .sort((a, b) => a - b),
        optionsOf(shown),
        rate,
      ).length;
      const before = row.frames / rateValue(parseRate(planned));
      const all = frames + (shown.slateText === '' ? 0 : Math.max(1, Math.round(shown.slateSeconds * rateValue(rate))));
      return MESSAGES.length(all, (all / rateValue(rate)).toFixed(2), before.toFixed(2));
    } catch (e) {
      return (e as Error).message;
    }
  };
  const asked = <T>(route: string): Promise<T> => {
    setBusy(true);
    // What is being typed is taken, and a value that cannot be keeps the movie from being made without it.
    return Promise.resolve(plan?.flush())
      .then(() => send<T>('POST', `/batches/${row.batch?.id}/${route}`, { shot: row.run, options: { ...optionsOf(latest.current), partial } }))
      .finally(() => setBusy(false));
  };
  const make = (): void => void asked('clips').then(onDone, (e: Error) => toastProblem(e.message));
  const foresee = (): void =>
    void asked<MovieForecastReply>('clips/forecast').then(
      ({ bytes }) => setEstimate(bytes),
      (e: Error) => toastProblem(e.message),
    );
  return { shown, put, length: length(), estimate, partial, busy, make, foresee };
}
