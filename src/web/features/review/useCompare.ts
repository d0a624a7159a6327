/** How the renders on the easel are compared: mode, threshold, difference, and the way through what changed. */
import { useEffect, useState } from 'react';
import { DEFAULT_THRESHOLD } from '../../../core/review/threshold.js';
import { useCommands } from '../../app/commands.js';
import { useKeys } from '../../app/keys.js';
import type { CompareSettings } from './CompareStage.js';
import { type DifferenceFigures, useDifference } from '../../compare/differenceJob.js';
import type { EaselItem, Mode } from './easelItems.js';
import type { ZoomState } from './useZoom.js';
import { LABELS } from './words.js';

const PLAIN: CompareSettings = { mode: 'side', wipe: 0.5, upright: false, rate: 1, share: 0.5, area: null };
/** Device pixels for one of the render's, where a changed area is looked at. */
const AREA_SCALE = 2;

/** How renders are compared, and what their difference is. */
export interface CompareState {
  /** Whether there is something to compare. */
  comparing: boolean;
  settings: CompareSettings;
  put: (change: Partial<CompareSettings>) => void;
  threshold: number;
  setThreshold: (threshold: number) => void;
  difference: { figures: DifferenceFigures | null; problem: string | null; busy: boolean };
  stepArea: (by: 1 | -1) => void;
}

/** @param mode to begin with. @param still whether nothing plays: what plays is not compared in figures. */
export function useCompare(items: readonly EaselItem[], mode: Mode | undefined, still: boolean, zoom: ZoomState): CompareState {
  const comparing = items.length > 1;
  const [chosen, setChosen] = useState<CompareSettings>({ ...PLAIN, ...(mode && { mode }) });
  const put = (change: Partial<CompareSettings>): void => setChosen((s) => ({ ...s, ...change }));
  const [threshold, setThreshold] = useState(DEFAULT_THRESHOLD);
  const settings: CompareSettings = comparing ? chosen : { ...chosen, mode: 'one' };
  const wanted = comparing && settings.mode !== 'one' && still;
  const difference = useDifference(wanted ? { first: items[0]!.url, second: items[1]!.url, threshold } : null, still ? items[0]?.url : undefined);
  const { figures } = difference;
  useEffect(() => put({ area: null }), [figures]);
  const stepArea = (by: 1 | -1): void => {
    const count = figures?.areas.length ?? 0;
    if (!figures || count === 0) return;
    const next = ((settings.area ?? (by > 0 ? -1 : 0)) + by + count) % count;
    const { x, y, width, height } = figures.areas[next]!;
    put({ area: next, mode: 'difference' });
    zoom.goTo((x + width / 2) / figures.width, (y + height / 2) / figures.height, AREA_SCALE);
  };
  const swap = (): void => put({ mode: 'wipe', wipe: settings.wipe > 0.5 ? 0 : 1 });
  useKeys(comparing ? { n: () => stepArea(1), x: swap } : {});
  useCommands(
    comparing
      ? [
          { name: LABELS.nextArea, keys: 'N', run: () => stepArea(1) },
          { name: LABELS.swap, keys: 'X', run: swap },
        ]
      : [],
  );
  return { comparing, settings, put, threshold, setThreshold, difference, stepArea };
}
