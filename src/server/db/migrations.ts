/** The tables, step by step. A step that has been released is never changed; a new one is added. */
import { type QueryInterface, QueryTypes, type Transaction } from 'sequelize';
import { presetBodyFrom, type PresetKind } from '../../core/edit/presets.js';

/** What a step works with: all of it in the transaction that also notes the step. */
export interface MigrationContext {
  query: QueryInterface;
  transaction: Transaction;
}

/** One step from a schema to the next; applied once, by its name. */
export interface Migration {
  name: string;
  up(context: MigrationContext): Promise<void>;
}

const FIRST = [
  `CREATE TABLE projects (id INTEGER PRIMARY KEY AUTOINCREMENT, name TEXT NOT NULL)`,
  `CREATE TABLE revisions (id INTEGER PRIMARY KEY AUTOINCREMENT, projectId INTEGER NOT NULL REFERENCES projects(id), letter TEXT NOT NULL,
     fileName TEXT NOT NULL, unit TEXT NOT NULL, up TEXT NOT NULL, hash TEXT NOT NULL, summary TEXT NOT NULL, UNIQUE (projectId, letter))`,
  `CREATE TABLE sets (id INTEGER PRIMARY KEY AUTOINCREMENT, projectId INTEGER NOT NULL REFERENCES projects(id), version INTEGER NOT NULL, file TEXT NOT NULL)`,
  `CREATE TABLE batches (id INTEGER PRIMARY KEY AUTOINCREMENT, projectId INTEGER NOT NULL REFERENCES projects(id), setId INTEGER NOT NULL REFERENCES sets(id),
     revisionId INTEGER NOT NULL REFERENCES revisions(id), number INTEGER NOT NULL, state TEXT NOT NULL, reason TEXT, folder TEXT NOT NULL UNIQUE, plan TEXT NOT NULL,
     total INTEGER NOT NULL, elapsed REAL, busy REAL, wall REAL, created TEXT NOT NULL)`,
  `CREATE TABLE frames (id INTEGER PRIMARY KEY AUTOINCREMENT, batchId INTEGER NOT NULL REFERENCES batches(id), position INTEGER NOT NULL, shot TEXT NOT NULL,
     number INTEGER NOT NULL, name TEXT NOT NULL, identity TEXT NOT NULL, state TEXT NOT NULL, attempts INTEGER NOT NULL, seconds REAL, samples INTEGER, message TEXT,
     files TEXT NOT NULL, UNIQUE (batchId, position), UNIQUE (batchId, name))`,
  `CREATE INDEX frames_by_state ON frames (batchId, state, position)`,
  `CREATE TABLE clips (id INTEGER PRIMARY KEY AUTOINCREMENT, batchId INTEGER NOT NULL REFERENCES batches(id), shot TEXT NOT NULL, state TEXT NOT NULL,
     fileName TEXT NOT NULL, message TEXT, bytes INTEGER NOT NULL)`,
];

async function runAll({ query, transaction }: MigrationContext, statements: string[]): Promise<void> {
  for (const statement of statements) await query.sequelize.query(statement, { transaction });
}

/** Adds a column. One that exists is left: before steps and their notes were one transaction, a kill between them left it so. */
async function addColumn({ query, transaction }: MigrationContext, table: string, column: string, type: string): Promise<void> {
  const [columns] = (await query.sequelize.query(`PRAGMA table_info(${table})`, { transaction })) as [{ name: string }[], unknown];
  if (!columns.some((c) => c.name === column)) await query.sequelize.query(`ALTER TABLE ${table} ADD COLUMN ${column} ${type}`, { transaction });
}

/** Rewrites a text column that holds JSON, row by row; what is no JSON stays as it is. `change` also gets the row. */
async function rewriteJson(
  { query, transaction }: MigrationContext,
  table: string,
  column: string,
  change: (value: Json, row: Json) => unknown,
): Promise<void> {
  const { sequelize } = query;
  const ids = await sequelize.query<{ id: number }>(`SELECT id FROM ${table}`, { transaction, type: QueryTypes.SELECT });
  // One at a time: a summary may be tens of megabytes.
  for (const { id } of ids) {
    const [row] = await sequelize.query<Json>(`SELECT * FROM ${table} WHERE id = ?`, { transaction, type: QueryTypes.SELECT, replacements: [id] });
    let value: unknown;
    try {
      value = JSON.parse(String(row![column]));
    } catch {
      continue;
    }
    if (typeof value !== 'object' || value === null) continue;
    await sequelize.query(`UPDATE ${table} SET ${column} = ? WHERE id = ?`, {
      transaction,
      replacements: [JSON.stringify(change(value as Json, row!)), id],
    });
  }
}

type Json = Record<string, unknown>;

const renamed = (value: Json, names: Readonly<Record<string, string>>): Json =>
  Object.fromEntries(Object.entries(value).map(([key, v]) => [names[key] ?? key, v]));

/** What is kept of a model, in the words of version 7. */
function summaryFrom6(summary: Json): Json {
  const list = (value: unknown, names: Readonly<Record<string, string>>): unknown =>
    Array.isArray(value) ? value.map((item) => renamed(item as Json, names)) : value;
  const { parts, cameras } = summary;
  return renamed(
    {
      ...summary,
      ...(parts !== undefined && { parts: list(parts, { finishes: 'materials', inPicture: 'renderVisible', surroundings: 'isContext' }) }),
      ...(cameras !== undefined && { cameras: list(cameras, { uprights: 'keepVerticals' }) }),
    },
    { finishes: 'materials', lamps: 'lights' },
  );
}

/** All steps in their order; none is ever changed once it has landed. */
export const MIGRATIONS: Migration[] = [
  { name: '001-first-tables', up: (c) => runAll(c, FIRST) },
  { name: '002-end-of-batches', up: (c) => addColumn(c, 'batches', 'ended', 'TEXT') },
  { name: '003-what-ended-a-frame', up: (c) => addColumn(c, 'frames', 'ended', 'TEXT') },
  {
    name: '004-recipes',
    up: (c) =>
      runAll(c, [
        `CREATE TABLE IF NOT EXISTS recipes (id INTEGER PRIMARY KEY AUTOINCREMENT, kind TEXT NOT NULL, name TEXT NOT NULL, body TEXT NOT NULL,
           isDefault INTEGER NOT NULL, UNIQUE (kind, name))`,
      ]),
  },
  {
    // What lists and progress tell is kept beside the documents, so that none of them is parsed for it.
    name: '005-digests',
    async up(c) {
      await addColumn(c, 'revisions', 'digest', 'TEXT');
      await addColumn(c, 'revisions', 'originals', "TEXT NOT NULL DEFAULT '[]'");
      await addColumn(c, 'sets', 'digest', 'TEXT');
      await addColumn(c, 'batches', 'digest', 'TEXT');
      for (const [column, type] of [
        ['kind', 'TEXT'],
        ['view', 'TEXT'],
        ['time', 'REAL'],
        ['date', 'TEXT'],
        ['checksums', 'TEXT'],
        ['damage', 'TEXT'],
      ] as const)
        await addColumn(c, 'frames', column, type);
      await runAll(c, [
        `UPDATE revisions SET digest = json_set(json_remove(summary, '$.parts'), '$.partCount',
           (SELECT count(*) FROM json_each(revisions.summary, '$.parts') WHERE json_extract(value, '$.lines') IS NULL))
         WHERE json_valid(summary)`,
      ]);
    },
  },
  {
    name: '006-access',
    up: (c) =>
      runAll(c, [
        `CREATE TABLE settings (key TEXT PRIMARY KEY, value TEXT NOT NULL)`,
        `CREATE TABLE sessions (id TEXT PRIMARY KEY, csrf TEXT NOT NULL, created TEXT NOT NULL, lastUsed TEXT NOT NULL, expires TEXT NOT NULL)`,
        `CREATE TABLE tokens (id INTEGER PRIMARY KEY AUTOINCREMENT, name TEXT NOT NULL UNIQUE, role TEXT NOT NULL, hash TEXT NOT NULL UNIQUE,
           created TEXT NOT NULL, lastUsed TEXT, revoked TEXT)`,
        `CREATE TABLE audit (id INTEGER PRIMARY KEY AUTOINCREMENT, time TEXT NOT NULL, who TEXT NOT NULL, what TEXT NOT NULL, detail TEXT NOT NULL)`,
      ]),
  },
  {
    // Sets and frozen plans say their version themselves, and are brought up when they are read.
    name: '007-words',
    async up(c) {
      await runAll(c, [`ALTER TABLE recipes RENAME TO presets`]);
      await rewriteJson(c, 'presets', 'body', (body, row) => presetBodyFrom(1, row.kind as PresetKind, body));
      await rewriteJson(c, 'revisions', 'summary', summaryFrom6);
      await rewriteJson(c, 'revisions', 'digest', summaryFrom6);
    },
  },
  {
    // What a person deletes can be brought back: its row stays.
    name: '008-deleted',
    async up(c) {
      await addColumn(c, 'projects', 'deleted', 'TEXT');
      await addColumn(c, 'sets', 'deleted', 'TEXT');
    },
  },
  {
    // The first frames of each shot are rendered before the rest, and looked at before the rest begins.
    name: '009-first-frames',
    async up(c) {
      await addColumn(c, 'frames', 'first', 'INTEGER');
      await addColumn(c, 'batches', 'gate', 'TEXT');
      await runAll(c, [`CREATE INDEX IF NOT EXISTS first_frames ON frames (batchId, first, state, position)`]);
    },
  },
  {
    // What was foreseen of a batch and of each of its frames, beside what was measured; and how noisy frames are that promise a level.
    name: '010-forecast',
    async up(c) {
      await addColumn(c, 'batches', 'forecast', 'TEXT');
      await addColumn(c, 'frames', 'foreseen', 'REAL');
      await addColumn(c, 'frames', 'foreseenBytes', 'REAL');
      await addColumn(c, 'frames', 'traits', 'TEXT');
      await addColumn(c, 'frames', 'noise', 'REAL');
    },
  },
  {
    // Batches have a place in the queue, and may wait for an hour; frames an order of their own, and what a change of theirs is told by.
    name: '011-queue',
    async up(c) {
      await addColumn(c, 'batches', 'priority', 'INTEGER NOT NULL DEFAULT 1');
      await addColumn(c, 'batches', 'rank', 'REAL');
      await addColumn(c, 'batches', 'startAt', 'TEXT');
      await addColumn(c, 'batches', 'deleted', 'TEXT');
      await addColumn(c, 'frames', 'sequence', 'INTEGER');
      await addColumn(c, 'frames', 'filesKey', 'TEXT');
      await addColumn(c, 'frames', 'grounds', 'TEXT');
      await addColumn(c, 'frames', 'takenFrom', 'INTEGER');
      await addColumn(c, 'frames', 'decision', 'TEXT');
      await runAll(c, [
        `UPDATE batches SET rank = number`,
        `UPDATE frames SET sequence = position`,
        `CREATE INDEX IF NOT EXISTS frames_in_order ON frames (batchId, state, sequence)`,
        `CREATE INDEX IF NOT EXISTS frames_by_files ON frames (filesKey, state)`,
      ]);
    },
  },
  {
    // Linear light is kept, and files are developed of it.
    name: '012-masters',
    async up(c) {
      await addColumn(c, 'frames', 'masterKey', 'TEXT');
      await addColumn(c, 'frames', 'developed', 'TEXT');
      await addColumn(c, 'revisions', 'deleted', 'TEXT');
      await runAll(c, [
        `CREATE TABLE IF NOT EXISTS masters (id INTEGER PRIMARY KEY AUTOINCREMENT, key TEXT NOT NULL UNIQUE, identity TEXT NOT NULL, bytes INTEGER NOT NULL,
           sha256 TEXT NOT NULL, samples INTEGER NOT NULL, filtered INTEGER NOT NULL, singles INTEGER NOT NULL, created TEXT NOT NULL, used TEXT NOT NULL)`,
        `CREATE INDEX IF NOT EXISTS frames_by_master ON frames (masterKey, decision)`,
      ]);
    },
  },
  {
    // What people say of renders has reasons, and a log that outlives its batches.
    name: '013-decisions',
    async up(c) {
      await addColumn(c, 'frames', 'decisionReason', 'TEXT');
      await runAll(c, [
        `CREATE TABLE IF NOT EXISTS decisions (id INTEGER PRIMARY KEY AUTOINCREMENT, setId INTEGER NOT NULL, batch INTEGER NOT NULL, revision TEXT NOT NULL,
           frameId INTEGER NOT NULL, run TEXT NOT NULL, shot TEXT NOT NULL, number INTEGER NOT NULL, frame TEXT NOT NULL, identity TEXT NOT NULL,
           decision TEXT, reason TEXT, author TEXT, time TEXT NOT NULL)`,
        `CREATE INDEX IF NOT EXISTS decisions_of_set ON decisions (setId, id)`,
      ]);
    },
  },
  {
    // Notes are pinned to renders.
    name: '014-notes',
    async up(c) {
      await runAll(c, [
        `CREATE TABLE IF NOT EXISTS notes (id INTEGER PRIMARY KEY AUTOINCREMENT, setId INTEGER NOT NULL, batchId INTEGER NOT NULL, frameId INTEGER NOT NULL,
           run TEXT NOT NULL, view TEXT NOT NULL, number INTEGER NOT NULL, lastNumber INTEGER NOT NULL, shape TEXT NOT NULL, text TEXT NOT NULL,
           author TEXT NOT NULL, state TEXT NOT NULL, part TEXT, time TEXT NOT NULL, deleted TEXT)`,
        `CREATE TABLE IF NOT EXISTS noteAnswers (id INTEGER PRIMARY KEY AUTOINCREMENT, noteId INTEGER NOT NULL, text TEXT NOT NULL, author TEXT NOT NULL, time TEXT NOT NULL)`,
        `CREATE INDEX IF NOT EXISTS notes_of_run ON notes (setId, run)`,
        `CREATE INDEX IF NOT EXISTS answers_of_note ON noteAnswers (noteId)`,
      ]);
    },
  },
  {
    // Others look at renders by an address of their own, and write notes.
    name: '015-review-pages',
    async up(c) {
      await addColumn(c, 'notes', 'via', 'TEXT');
      await addColumn(c, 'notes', 'key', 'TEXT');
      await addColumn(c, 'noteAnswers', 'via', 'TEXT');
      await addColumn(c, 'noteAnswers', 'key', 'TEXT');
      await runAll(c, [
        `CREATE TABLE IF NOT EXISTS reviewPages (id INTEGER PRIMARY KEY AUTOINCREMENT, setId INTEGER NOT NULL, name TEXT NOT NULL, secret TEXT NOT NULL UNIQUE,
           shown TEXT NOT NULL, ends TEXT NOT NULL, passphrase TEXT, created TEXT NOT NULL, revoked TEXT, opened INTEGER NOT NULL DEFAULT 0, lastOpened TEXT)`,
        `CREATE INDEX IF NOT EXISTS review_pages_of_set ON reviewPages (setId, id)`,
        `CREATE UNIQUE INDEX IF NOT EXISTS notes_by_key ON notes (setId, key) WHERE key IS NOT NULL`,
        `CREATE UNIQUE INDEX IF NOT EXISTS answers_by_key ON noteAnswers (noteId, key) WHERE key IS NOT NULL`,
      ]);
    },
  },
  {
    // What was handed over is recorded.
    name: '016-packages',
    async up(c) {
      await runAll(c, [
        `CREATE TABLE IF NOT EXISTS packages (id INTEGER PRIMARY KEY AUTOINCREMENT, setId INTEGER NOT NULL, name TEXT NOT NULL, state TEXT NOT NULL,
           content TEXT NOT NULL, message TEXT, created TEXT NOT NULL, files INTEGER NOT NULL DEFAULT 0, bytes INTEGER NOT NULL DEFAULT 0,
           audited TEXT, faults TEXT NOT NULL DEFAULT '[]', deleted TEXT)`,
        `CREATE INDEX IF NOT EXISTS packages_of_set ON packages (setId, id)`,
      ]);
    },
  },
  {
    // Movies have codecs, rates and lengths of their own.
    name: '017-movies',
    async up(c) {
      await addColumn(c, 'clips', 'made', 'TEXT');
    },
  },
  {
    // Packages are sent, and it is recorded where to.
    name: '018-deliveries',
    async up(c) {
      await runAll(c, [
        `CREATE TABLE IF NOT EXISTS deliveries (id INTEGER PRIMARY KEY AUTOINCREMENT, packageId INTEGER NOT NULL, kind TEXT NOT NULL, target TEXT NOT NULL,
           state TEXT NOT NULL, total INTEGER NOT NULL, message TEXT, created TEXT NOT NULL)`,
        `CREATE INDEX IF NOT EXISTS deliveries_of_package ON deliveries (packageId, id)`,
      ]);
    },
  },
  {
    // A movie can be made again, also by the next start.
    name: '019-asked-movies',
    async up(c) {
      await addColumn(c, 'clips', 'asked', 'TEXT');
    },
  },
  {
    // A start that is sent twice under one key is one batch.
    name: '020-request-keys',
    async up(c) {
      await addColumn(c, 'batches', 'request', 'TEXT');
      await runAll(c, [`CREATE UNIQUE INDEX IF NOT EXISTS batches_by_request ON batches (json_extract(request, '$.key'))`]);
    },
  },
];
