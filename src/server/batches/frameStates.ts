/** What became of a set's planned frames in its batches so far: taken over, missing, stale, failed, not accepted. */
import { QueryTypes } from 'sequelize';
import type { ChangesReply } from '../../contract/changes.js';
import { shotIdOfOutput } from '../../core/frame/frame.js';
import { changedGrounds, type Ground, GROUNDS } from '../../core/frame/identity.js';
import {
  formatRanges,
  formatSelections,
  hasSelectionWords,
  NO_FRAMES,
  parseSelections,
  SELECTION_WORDS,
  type SelectionWord,
  selectFrames,
  type WordNumbers,
} from '../../core/plan/selection.js';
import type { SetFile } from '../../core/plan/set.js';
import type { ServerContext } from '../context.js';
import type { PlanSet, Project, Revision } from '../db/models.js';
import { ServerError } from '../errors.js';
import { PlanError } from '../planning/planner.js';
import { type PlanSnapshot, ROW_COLUMNS, ROWS_PER_QUERY } from '../planning/tasks.js';
import { planContext } from '../revisions.js';

/** A set as it would be rendered: in its variant, with its shots, as its draft. */
export interface AskedPlan {
  project: Project;
  row: PlanSet;
  revision: Revision;
  set: SetFile;
  choice: { variant?: string; draft?: PlanSnapshot['draft'] };
  /** Frames that are chosen, in numbers; all where absent. */
  select?: string;
}

/** What became of one planned frame. */
export interface FrameState {
  run: string;
  number: number;
  /** An equal picture is there, so that it need not be rendered. */
  equal: boolean;
  /** None is, but the light of one: its files are developed. */
  developable: boolean;
  words: ReadonlySet<SelectionWord>;
  /** What makes the picture that is there another; empty where none is, or where that is not known. */
  grounds: Ground[];
}

interface KnownRow {
  shot: string;
  number: number;
  grounds: string | null;
  decision: string | null;
}

/** Of each shot and number the row that was made last, among the batches of the set in this variant, drafts apart. */
async function latestRows(
  { database }: ServerContext,
  { row, choice }: AskedPlan,
  states: readonly string[],
): Promise<Map<string, KnownRow & { state: string }>> {
  const rows = await database.sequelize.query<KnownRow & { state: string }>(
    `SELECT f.shot, f.number, f.grounds, f.decision, f.state, max(f.id) FROM frames f JOIN batches b ON b.id = f.batchId
     WHERE b.setId = $1 AND b.deleted IS NULL AND json_extract(b.digest, '$.variant') IS $2
       AND (json_extract(b.digest, '$.draft') IS NOT NULL) = $3 AND f.state IN (SELECT value FROM json_each($4))
     GROUP BY f.shot, f.number`,
    { bind: [row.id, choice.variant ?? null, choice.draft ? 1 : 0, JSON.stringify(states)], type: QueryTypes.SELECT },
  );
  return new Map(rows.map((r) => [`${r.shot}\n${r.number}`, r]));
}

/** Which of the keys have a whole picture, in any batch of any project. */
async function keysThere({ database }: ServerContext, keys: readonly string[]): Promise<Set<string>> {
  const rows = await database.sequelize.query<{ filesKey: string }>(
    `SELECT DISTINCT f.filesKey FROM frames f JOIN batches b ON b.id = f.batchId
     WHERE f.filesKey IN (SELECT value FROM json_each($1)) AND ${TAKEABLE}`,
    { bind: [JSON.stringify(keys)], type: QueryTypes.SELECT },
  );
  return new Set(rows.map((r) => r.filesKey));
}

/** Which of the keys have a master. */
async function mastersThere({ database }: ServerContext, keys: readonly string[]): Promise<Set<string>> {
  const rows = await database.sequelize.query<{ key: string }>('SELECT key FROM masters WHERE key IN (SELECT value FROM json_each($1))', {
    bind: [JSON.stringify(keys)],
    type: QueryTypes.SELECT,
  });
  return new Set(rows.map((r) => r.key));
}

/** What a row `f` of a batch `b` must be to be taken over: all its samples, and files that are as they were written, as far as is known. */
export const TAKEABLE = `f.state = 'done' AND f.ended = 'samples' AND f.damage IS NULL AND f.checksums IS NOT NULL AND b.deleted IS NULL
  AND (f.developed IS NULL OR f.developed = 'exact')`;

/** A row of a plan by the names of ROW_COLUMNS. */
export type PlannedRow = Record<(typeof ROW_COLUMNS)[number], unknown>;

/** Goes through the rows that the set plans, page by page in the plan's order. Throws ServerError 'unusable' where it cannot be planned. */
export async function eachPlannedRow(context: ServerContext, asked: AskedPlan, use: (page: PlannedRow[]) => Promise<void> | void): Promise<void> {
  const snapshot: PlanSnapshot = {
    set: asked.set,
    context: planContext(asked.project, asked.revision, '1'),
    ...(asked.select && { select: asked.select }),
  };
  try {
    const plan = await context.planner.open(JSON.stringify(snapshot));
    for (let from = 0; from < plan.total; from += ROWS_PER_QUERY) {
      const rows = JSON.parse(await plan.rows(from, from + ROWS_PER_QUERY)) as unknown[][];
      await use(rows.map((row) => Object.fromEntries(ROW_COLUMNS.map((name, i) => [name, row[i]])) as PlannedRow));
    }
  } catch (e) {
    throw e instanceof PlanError ? new ServerError('unusable', e.message) : e;
  }
}

/** What became of each frame that the set plans, in the plan's order. Throws ServerError 'unusable' where it cannot be planned. */
export async function frameStates(context: ServerContext, asked: AskedPlan): Promise<FrameState[]> {
  const [done, last] = [await latestRows(context, asked, ['done']), await latestRows(context, asked, ['done', 'failed'])];
  const states: FrameState[] = [];
  await eachPlannedRow(context, asked, async (page) => {
    const there = await keysThere(
      context,
      page.map((row) => row.filesKey as string),
    );
    const masters = await mastersThere(
      context,
      page.map((row) => row.masterKey as string),
    );
    for (const row of page) {
      const [run, number] = [row.shot as string, row.number as number];
      const known = done.get(`${run}\n${number}`);
      const equal = there.has(row.filesKey as string);
      const words = new Set<SelectionWord>();
      if (!equal) words.add(known ? 'stale' : 'missing');
      if (last.get(`${run}\n${number}`)?.state === 'failed') words.add('failed');
      if (known?.decision !== 'accepted' || !equal) words.add('not accepted');
      const grounds = equal || !known?.grounds ? [] : changedGrounds(known.grounds, row.grounds as string);
      states.push({ run, number, equal, developable: !equal && masters.has(row.masterKey as string), words, grounds });
    }
  });
  return states;
}

/** Numbers of each run that each word stands for. */
function wordNumbers(states: readonly FrameState[]): Map<string, Record<SelectionWord, number[]>> {
  const runs = new Map<string, Record<SelectionWord, number[]>>();
  for (const { run, number, words } of states) {
    const own = runs.get(run) ?? { missing: [], failed: [], stale: [], 'not accepted': [] };
    runs.set(run, own);
    for (const word of words) own[word].push(number);
  }
  return runs;
}

/**
 * A selection in numbers alone, so that it stays what it was when the batch started. A shot of several sizes or variants
 * gets what any of them needs: what the others have is taken over. Throws ServerError 'unusable' where it chooses nothing.
 */
export async function withoutWords(context: ServerContext, asked: AskedPlan, select: string): Promise<string> {
  try {
    if (!hasSelectionWords(select)) return select;
    const { others, shots } = parseSelections(select);
    const states = await frameStates(context, asked);
    const chosen = new Map<string, Set<number>>();
    for (const [run, words] of wordNumbers(states)) {
      const shot = shotIdOfOutput(run);
      const numbers = states.filter((s) => s.run === run).map((s) => s.number);
      const own = chosen.get(shot) ?? new Set();
      for (const n of selectFrames(shots.get(shot) ?? others, numbers, words satisfies WordNumbers)) own.add(n);
      chosen.set(shot, own);
    }
    if ([...chosen.values()].every((own) => own.size === 0)) throw new Error(`"${select}" chooses no frame: there is none of that kind.`);
    const texts = [...chosen].map(([shot, own]) => [shot, own.size === 0 ? NO_FRAMES : formatRanges([...own].sort((a, b) => a - b))] as const);
    return formatSelections({ others: NO_FRAMES, shots: new Map(texts) });
  } catch (e) {
    throw e instanceof ServerError ? e : new ServerError('unusable', (e as Error).message);
  }
}

/** What a start would render, and why. */
export async function describeChanges(context: ServerContext, asked: AskedPlan): Promise<ChangesReply> {
  const states = await frameStates(context, asked);
  const count = (word: SelectionWord): number => states.filter((s) => s.words.has(word)).length;
  const reasons = new Map<string, { grounds: string[]; frames: number }>();
  for (const { words, grounds } of states) {
    if (!words.has('stale')) continue;
    const named = grounds.map((g) => GROUNDS[g]);
    const known = reasons.get(named.join()) ?? { grounds: named, frames: 0 };
    known.frames++;
    reasons.set(named.join(), known);
  }
  const equal = states.filter((s) => s.equal).length;
  const toDevelop = states.filter((s) => s.developable).length;
  return {
    total: states.length,
    takenOver: equal,
    toDevelop,
    toRender: states.length - equal - toDevelop,
    counts: Object.fromEntries(SELECTION_WORDS.map((w) => [w, count(w)])) as ChangesReply['counts'],
    reasons: [...reasons.values()].sort((a, b) => b.frames - a.frames),
    runs: [...wordNumbers(states)].map(([run, own]) => ({
      run,
      words: Object.fromEntries(SELECTION_WORDS.map((w) => [w, formatRanges(own[w])])) as Record<SelectionWord, string>,
    })),
  };
}
