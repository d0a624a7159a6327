/** The tables, step by step. A step that has been released is never changed; a new one is added. */
import { type QueryInterface } from 'sequelize';

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

async function runAll(context: QueryInterface, statements: string[]): Promise<void> {
  for (const statement of statements) await context.sequelize.query(statement);
}

export const MIGRATIONS = [
  {
    name: '001-first-tables',
    up: ({ context }: { context: QueryInterface }) => runAll(context, FIRST),
    down: ({ context }: { context: QueryInterface }) =>
      runAll(
        context,
        ['clips', 'frames', 'batches', 'sets', 'revisions', 'projects'].map((t) => `DROP TABLE ${t}`),
      ),
  },
  {
    name: '002-end-of-batches',
    up: ({ context }: { context: QueryInterface }) => runAll(context, ['ALTER TABLE batches ADD COLUMN ended TEXT']),
    down: ({ context }: { context: QueryInterface }) => runAll(context, ['ALTER TABLE batches DROP COLUMN ended']),
  },
  {
    name: '003-what-ended-a-frame',
    up: ({ context }: { context: QueryInterface }) => runAll(context, ['ALTER TABLE frames ADD COLUMN ended TEXT']),
    down: ({ context }: { context: QueryInterface }) => runAll(context, ['ALTER TABLE frames DROP COLUMN ended']),
  },
  {
    name: '004-recipes',
    up: ({ context }: { context: QueryInterface }) =>
      runAll(context, [
        `CREATE TABLE recipes (id INTEGER PRIMARY KEY AUTOINCREMENT, kind TEXT NOT NULL, name TEXT NOT NULL, body TEXT NOT NULL, isDefault INTEGER NOT NULL,
           UNIQUE (kind, name))`,
      ]),
    down: ({ context }: { context: QueryInterface }) => runAll(context, ['DROP TABLE recipes']),
  },
];
