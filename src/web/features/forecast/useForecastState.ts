/** The forecast of the set, for whatever is shown beside the shots. */
import { createContext, useContext } from 'react';
import type { ForecastReply } from '../../../contract/forecast.js';
import type { CostParts } from '../../../core/forecast/forecast.js';
import type { Range } from '../../../core/forecast/range.js';
import { shotIdOfOutput } from '../../../core/frame/frame.js';
import type { Asked } from '../../state/askAnew.js';

/** A forecast with what it is asked about. */
export interface ForecastState extends Asked<ForecastReply> {
  /** Hour by which the set must be done, as it was typed; empty for none. */
  doneBy: string;
  setDoneBy: (hour: string) => void;
  /** Frames that the next batch renders, as core/plan/selection.ts reads them. */
  select: string;
  setSelect: (select: string) => void;
}

/** Gives it to all that show a part of it; null outside of the shots step. */
export const ForecastContext = createContext<ForecastState | null>(null);

/** The forecast; null outside of the shots step. */
export const useForecastState = (): ForecastState | null => useContext(ForecastContext);

/** What is foreseen of one shot, in all its sizes and variants. */
export interface ShotForecast {
  seconds: Range;
  parts: CostParts;
}

/** The sum of a shot's runs; null where nothing is known of them. */
export function forecastOfShot(reply: ForecastReply | null, shot: string): ShotForecast | null {
  const runs = reply?.runs.filter((r) => shotIdOfOutput(r.run) === shot) ?? [];
  if (runs.length === 0) return null;
  const sum = (pick: (r: (typeof runs)[number]) => number): number => runs.reduce((n, r) => n + pick(r), 0);
  return {
    seconds: { low: sum((r) => r.seconds.low), likely: sum((r) => r.seconds.likely), high: sum((r) => r.seconds.high) },
    parts: { fixed: sum((r) => r.parts.fixed), byPixel: sum((r) => r.parts.byPixel), bySample: sum((r) => r.parts.bySample) },
  };
}
