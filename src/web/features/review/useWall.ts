/** The wall of a set: what is planned today and what was rendered, by the columns that are chosen. */
import { useMemo } from 'react';
import type { ResultReply, StaleReply } from '../../../contract/results.js';
import type { Frame } from '../../../core/frame/frame.js';
import { outputName, type SetFile } from '../../../core/plan/set.js';
import {
  arrangeWall,
  type CellState,
  type ColumnKind,
  type PlannedResult,
  sizeOf,
  stateOfCell,
  variantOf,
  type Wall,
  type WallColumn,
} from '../../../core/review/wall.js';
import { isMoving } from '../../../core/shots/kinds.js';
import { LABELS } from './words.js';

/** What the set of today has a row for: each moving shot, and each frame of a still. */
export function plannedResults(file: SetFile, frames: readonly Frame[]): PlannedResult[] {
  const rows: PlannedResult[] = [];
  const seen = new Map<string, PlannedResult>();
  const counts = new Map<string, number>();
  for (const { shot: run, kind, view } of frames) {
    const moving = isMoving(kind);
    const known = moving ? seen.get(run) : undefined;
    if (known) {
      known.frames++;
      continue;
    }
    const nth = (counts.get(`${run}\n${view}`) ?? 0) + 1;
    counts.set(`${run}\n${view}`, nth);
    const row = { run, name: outputName(file, run), kind, view: moving ? '' : view, nth: moving ? 0 : nth, frames: 1 };
    rows.push(row);
    seen.set(run, row);
  }
  return rows;
}

/** The wall of the set by that kind of column. */
export function useWall(file: SetFile | undefined, frames: readonly Frame[], results: readonly ResultReply[], by: ColumnKind): Wall<ResultReply> {
  const planned = useMemo(() => (file ? plannedResults(file, frames) : []), [file, frames]);
  return useMemo(() => arrangeWall(planned, results, by), [planned, results, by]);
}

/** What stands over a column. */
export function columnLabel(by: ColumnKind, { key, sample }: WallColumn<ResultReply>, file: SetFile | undefined): string {
  const names: Record<ColumnKind, () => string> = {
    revision: () => LABELS.revisionColumn(key),
    variant: () => (key === '' ? LABELS.setsOwn : (file?.materials?.variants.find((v) => v.id === key)?.name ?? key)),
    batch: () => LABELS.batchColumn(sample.number),
    date: () => key,
    size: () => {
      const extra = file?.sheet.sizes?.find((s) => s.id === key);
      return extra ? `${extra.width} × ${extra.height}` : sample.size ? `${sample.size.width} × ${sample.size.height}` : key || LABELS.setsOwn;
    },
  };
  return names[by]();
}

/** What tells a result from another one of its row, in few words. */
export function resultLabel(result: ResultReply, file: SetFile | undefined): string {
  const [variant, size] = [variantOf(result), sizeOf(result)];
  const name = variant && (file?.materials?.variants.find((v) => v.id === variant)?.name ?? variant);
  return [
    LABELS.revisionShort(result.revision),
    ...(name ? [name] : []),
    ...(size && result.size ? [`${result.size.width} × ${result.size.height}`] : []),
    LABELS.batchShort(result.number),
  ].join(' · ');
}

/** Whether a result is still what the set would render. */
export interface Staleness {
  stale: boolean;
  /** What changed, in words. */
  grounds: string[];
}

/** What is stale, by batch and run: it is asked for every cell. */
export type StaleByRun = ReadonlyMap<string, StaleReply[number]>;

const runKey = ({ batch, run }: { batch: number; run: string }): string => `${batch} ${run}`;

/** Staleness by run of frames. */
export function useStaleByRun(stale: StaleReply | undefined): StaleByRun {
  return useMemo(() => new Map((stale ?? []).map((s) => [runKey(s), s])), [stale]);
}

/** Whether a result would come out otherwise today. */
export function stalenessOf(result: ResultReply, stale: StaleByRun): Staleness {
  const own = stale.get(runKey(result));
  const counts = own && own.stale > 0 && (own.frames === undefined || own.frames.includes(result.cover));
  return { stale: Boolean(counts), grounds: counts ? own.grounds : [] };
}

/** State of a cell. */
export const cellState = (result: ResultReply | undefined, planned: boolean, { stale }: Staleness): CellState => stateOfCell(result, planned, stale);
