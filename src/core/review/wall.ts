/** The wall: rows are shots, and views of stills; columns are what one chooses to tell results apart by. */
import { partsOfRun } from '../frame/frame.js';

/** What columns can be. */
export const COLUMN_KINDS = ['revision', 'variant', 'batch', 'date', 'size'] as const;
/** One of {@link COLUMN_KINDS}. */
export type ColumnKind = (typeof COLUMN_KINDS)[number];

/** What one batch rendered of a shot, or of a view of a still. */
export interface Result {
  batch: number;
  number: number;
  revisionId: number;
  revision: string;
  /** Variant that the batch was started for. */
  variant?: string;
  draft?: object;
  created: string;
  run: string;
  name: string;
  kind: string;
  /** View and place in it, of a still; '' and 0 of a moving shot. */
  view: string;
  nth: number;
  total: number;
  done: number;
  accepted: number;
  redo: number;
  cover: number;
}

/** What the set plans today for a row. */
export interface PlannedResult {
  run: string;
  name: string;
  kind: string;
  view: string;
  nth: number;
  /** Frames that are planned. */
  frames: number;
}

/** A row of the wall: a shot, or one view of a still. */
export interface WallRow {
  key: string;
  name: string;
  kind: string;
  view: string;
  nth: number;
  /** Frames of it, as planned today, or as rendered where it is no longer planned. */
  frames: number;
  /** Whether the set of today has it. */
  planned: boolean;
}

/** A column of the wall: what is compared. */
export interface WallColumn<R extends Result = Result> {
  key: string;
  /** A result of the column, which tells what it is. */
  sample: R;
}

/** Results laid out by shot and by what is compared. */
export interface Wall<R extends Result = Result> {
  rows: WallRow[];
  columns: WallColumn<R>[];
  /** Results of a cell, the one to show first: finals before drafts, newest first. */
  cell(row: string, column: string): R[];
}

/** The part of a run's id that tells rows apart, where columns tell the rest. */
function rowOf({ run, view, nth }: Pick<Result, 'run' | 'view' | 'nth'>, by: ColumnKind): string {
  const { shot, variant, size } = partsOfRun(run);
  const kept = `${shot}${variant !== undefined && by !== 'variant' ? `+${variant}` : ''}${size !== undefined && by !== 'size' ? `@${size}` : ''}`;
  return `${kept}\n${view}\n${nth}`;
}

/** Variant that a result shows: the shot's own before the batch's; '' for the one that the set shows. */
export const variantOf = (result: Pick<Result, 'run' | 'variant'>): string => partsOfRun(result.run).variant ?? result.variant ?? '';
/** Extra size that a result has; '' for the set's. */
export const sizeOf = (result: Pick<Result, 'run'>): string => partsOfRun(result.run).size ?? '';

const COLUMN_OF: Record<ColumnKind, (result: Result) => string> = {
  revision: (r) => r.revision,
  variant: variantOf,
  batch: (r) => String(r.number),
  date: (r) => r.created.slice(0, 10),
  size: sizeOf,
};

const COLUMN_ORDER: Record<ColumnKind, (a: Result, b: Result) => number> = {
  revision: (a, b) => a.revisionId - b.revisionId,
  variant: (a, b) => variantOf(a).localeCompare(variantOf(b)),
  batch: (a, b) => a.number - b.number,
  date: (a, b) => a.created.localeCompare(b.created),
  size: (a, b) => sizeOf(a).localeCompare(sizeOf(b)),
};

/** Rows in the plan's order, then those that are no longer planned; columns in their own order. */
export function arrangeWall<R extends Result>(planned: readonly PlannedResult[], results: readonly R[], by: ColumnKind): Wall<R> {
  const rows = new Map<string, WallRow>();
  const addRow = ({ name, kind, view, nth, frames }: PlannedResult, key: string, isPlanned: boolean): void => {
    if (!rows.has(key)) rows.set(key, { key, name, kind, view, nth, frames, planned: isPlanned });
  };
  for (const p of planned) addRow(p, rowOf(p, by), true);
  const cells = new Map<string, R[]>();
  const columns = new Map<string, R>();
  for (const r of results) {
    const [row, column] = [rowOf(r, by), COLUMN_OF[by](r)];
    addRow({ ...r, frames: r.total }, row, false);
    columns.set(column, columns.get(column) ?? r);
    const cell = cells.get(`${row}\n${column}`) ?? [];
    cells.set(`${row}\n${column}`, [...cell, r]);
  }
  for (const cell of cells.values()) cell.sort((a, b) => Number(a.draft !== undefined) - Number(b.draft !== undefined) || b.number - a.number);
  return {
    rows: [...rows.values()],
    columns: [...columns].map(([key, sample]) => ({ key, sample })).sort((a, b) => COLUMN_ORDER[by](a.sample, b.sample)),
    cell: (row, column) => cells.get(`${row}\n${column}`) ?? [],
  };
}

/** What is to be said of a cell; the worst first. */
export const CELL_STATES = ['redo', 'stale', 'draft', 'partial', 'done', 'accepted', 'planned', 'none'] as const;
/** One of {@link CELL_STATES}. */
export type CellState = (typeof CELL_STATES)[number];

/**
 * State of the result that a cell shows: a shot's is that of its frames.
 * @param isPlanned whether the set of today has the row. @param isStale whether it would come out otherwise today.
 */
export function stateOfCell(result: Result | undefined, isPlanned: boolean, isStale: boolean): CellState {
  if (!result) return isPlanned ? 'planned' : 'none';
  if (result.redo > 0) return 'redo';
  if (isStale) return 'stale';
  if (result.draft) return 'draft';
  if (result.done < result.total) return 'partial';
  return result.accepted === result.done ? 'accepted' : 'done';
}

/**
 * Results with frames that are to be done again, one of each shot, view and variant: only where nothing newer was rendered of the
 * same or a later revision. A newer render of an earlier revision answers nothing.
 */
export function redoList<R extends Result>(results: readonly R[]): R[] {
  const byPlace = new Map<string, R[]>();
  for (const r of results) {
    if (r.draft) continue;
    const key = [r.run, r.view, r.nth, r.variant ?? ''].join('\n');
    byPlace.set(key, [...(byPlace.get(key) ?? []), r]);
  }
  return [...byPlace.values()].flatMap((list) => {
    const isAnswered = (r: R): boolean => list.some((other) => other.number > r.number && other.revisionId >= r.revisionId);
    const asked = list.filter((r) => r.redo > 0 && !isAnswered(r)).sort((a, b) => b.number - a.number);
    return asked.slice(0, 1);
  });
}
