/** Entry of the process that compares revisions; bundled to dist/match-worker.mjs. */
import { readFile, writeFile } from 'node:fs/promises';
import sqlite3 from 'sqlite3';
import { changedFaceGroups, remapPartPaths } from '../../core/edit/remapParts.js';
import { matchParts } from '../../core/model/match.js';
import { parseSet } from '../../core/plan/set.js';
import { serveTasks } from '../../engine/node/serveTasks.js';
import type { PartSummary } from '../../engine/scene/prepare.js';
import type { MatchDone, MatchTask, RemapResult } from './matchTask.js';

/** Milliseconds for which a read waits for a lock. */
const BUSY_MS = 5000;

/** All rows of a query, over a connection of its own that can change nothing. */
function readRows<Row>(database: string, sql: string, values: unknown[]): Promise<Row[]> {
  return new Promise((resolve, reject) => {
    const connection = new sqlite3.Database(database, sqlite3.OPEN_READONLY, (fault) => {
      if (fault) {
        reject(fault);
        return;
      }
      connection.configure('busyTimeout', BUSY_MS);
      connection.all<Row>(sql, values, (e, rows) => {
        connection.close();
        if (e) reject(e);
        else resolve(rows);
      });
    });
  });
}

/** Parts of a revision as JSON. Where the row cannot be read they count as none. */
async function partsOf(database: string, id: number): Promise<string> {
  const sql = "SELECT CASE WHEN json_valid(summary) THEN json_extract(summary, '$.parts') END AS parts FROM revisions WHERE id = ?";
  return (await readRows<{ parts: string | null }>(database, sql, [id]))[0]?.parts ?? '';
}

/** Whether the parts were measured: those of earlier versions of the application were not, and unreadable ones were not either. */
const isMeasured = (parts: string): boolean => parts === '[]' || parts.includes('"area":');

/** A solid's edges are made of it, so they are not compared as well. */
const solidsOf = (parts: PartSummary[]): PartSummary[] => parts.filter((p) => p.lines === undefined);

function remapSet(
  file: string,
  before: PartSummary[],
  after: PartSummary[],
  matches: ReturnType<typeof matchParts>,
): Omit<RemapResult, 'id' | 'version'> {
  const set = parseSet(JSON.parse(file));
  const moved = remapPartPaths(set, matches);
  return { name: set.name, file: moved === set ? null : JSON.stringify(moved), regrouped: changedFaceGroups(set, before, after) };
}

async function match({ database, earlier, later, out }: Extract<MatchTask, { kind: 'match' }>): Promise<MatchDone> {
  const [before, after] = [await partsOf(database, earlier), await partsOf(database, later)];
  const bytes = before.length + after.length;
  for (const [id, parts] of [
    [earlier, before],
    [later, after],
  ] as const)
    if (!isMeasured(parts)) return { unmeasured: id, bytes };
  const parse = (parts: string): PartSummary[] => solidsOf(JSON.parse(parts) as PartSummary[]);
  await writeFile(out, JSON.stringify(matchParts(parse(before), parse(after))));
  return { matched: true, bytes };
}

async function remap({ database, earlier, project, summary }: Extract<MatchTask, { kind: 'remap' }>): Promise<MatchDone> {
  const [before, later] = [await partsOf(database, earlier), await readFile(summary, 'utf8')];
  const bytes = before.length + later.length;
  if (!isMeasured(before)) return { unmeasured: earlier, bytes };
  const [was, is] = [JSON.parse(before) as PartSummary[], (JSON.parse(later) as { parts: PartSummary[] }).parts];
  const sets = await readRows<{ id: number; version: number; file: string }>(
    database,
    'SELECT id, version, file FROM sets WHERE projectId = ? ORDER BY id',
    [project],
  );
  // Nothing follows where nobody names a part.
  const matches = sets.length > 0 ? matchParts(was, is) : [];
  return {
    bytes,
    sets: sets.map(({ id, version, file }) => {
      try {
        return { id, version, ...remapSet(file, was, is, matches) };
      } catch (e) {
        return { id, version, name: `set ${id}`, file: null, regrouped: [], problem: (e as Error).message };
      }
    }),
  };
}

serveTasks<MatchTask, MatchDone>((task) => (task.kind === 'match' ? match(task) : remap(task)));
