/** What a start does to a data folder: of every earlier version, cut off anywhere, of a later version, damaged, or in use. */
import { copyFileSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { connect, DATABASE_FILE, openDatabase } from './connection.js';
import { lockFolder } from './dataLock.js';
import { migrateDatabase } from './migrate.js';
import { MIGRATIONS } from './migrations.js';
import { setFileOf } from '../sets.js';
import { Batch, BatchFrame, PlanSet, Project, Revision } from './models.js';
import { PresetRow } from './presetModels.js';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'easel-database-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));
const file = (): string => path.join(folder, DATABASE_FILE);

async function columnsOf(table: string): Promise<string[]> {
  const sequelize = connect(file());
  const [rows] = (await sequelize.query(`PRAGMA table_info(${table})`)) as [{ name: string }[], unknown];
  await sequelize.close();
  return rows.map((r) => r.name).sort();
}

/** Runs statements on the file as it lies there. */
async function prepare(...statements: string[]): Promise<void> {
  const sequelize = connect(file());
  for (const s of statements) await sequelize.query(s);
  await sequelize.close();
}

const NOTES = 'CREATE TABLE SequelizeMeta (name VARCHAR(255) NOT NULL UNIQUE PRIMARY KEY)';

describe('a database of an earlier version', () => {
  it.each([1, 2, 3, 4])('%i is copied, brought up to date, and keeps all it holds', async (version) => {
    copyFileSync(`tests/support/databases/version-${version}.sqlite`, file());
    const said: string[] = [];
    const database = await openDatabase(folder, (line) => said.push(line));
    expect((await Project.findAll()).map((p) => p.name)).toEqual([`Project of version ${version}`]);
    const [revision] = await Revision.findAll();
    // Two solids and one part of lines, which is not counted.
    expect(JSON.parse(revision!.digest!)).toMatchObject({ partCount: 2, triangles: 36, warnings: ['a note'] });
    expect(JSON.parse(revision!.digest!)).not.toHaveProperty('parts');
    expect((JSON.parse(revision!.summary) as { parts: unknown[] }).parts).toHaveLength(3);
    expect((JSON.parse((await PlanSet.findOne())!.file) as { name: string }).name).toBe(`Set of version ${version}`);
    expect(await Batch.count({ where: { state: 'paused' } })).toBe(1);
    expect(await BatchFrame.count({ where: { state: 'waiting' } })).toBe(6);
    expect(await PresetRow.count()).toBe(version >= 4 ? 1 : 0);
    await database.close();
    const copies = readdirSync(path.join(folder, 'backups'));
    expect(copies).toHaveLength(1);
    expect(said.join()).toContain(path.join(folder, 'backups', copies[0]!));
    // The copy is what was there before.
    const before = connect(path.join(folder, 'backups', copies[0]!));
    const [notes] = (await before.query('SELECT name FROM SequelizeMeta')) as [unknown[], unknown];
    expect(notes).toHaveLength(version);
    await before.close();
    // Opened again, nothing is done twice.
    await (await openDatabase(folder)).close();
    expect(readdirSync(path.join(folder, 'backups'))).toHaveLength(1);
  });

  it('of version 6 has its presets and models told in the words of today', async () => {
    copyFileSync('tests/support/databases/version-6.sqlite', file());
    const database = await openDatabase(folder);
    const bodies = Object.fromEntries((await PresetRow.findAll()).map((p) => [p.name, JSON.parse(p.body) as unknown]));
    expect(bodies).toEqual({
      Court: { preset: 'overcast court', modelLights: true },
      Fine: expect.objectContaining({ samples: 200, fireflyClamp: 3 }) as object,
      Level: 'review',
    });
    const [revision] = await Revision.findAll();
    const summary = JSON.parse(revision!.summary) as { parts: object[] };
    expect(summary).toMatchObject({ materials: ['red', 'white'], lights: 0 });
    for (const part of summary.parts) {
      expect(part).toMatchObject({ materials: expect.any(Array) as string[], renderVisible: true, isContext: false });
      expect(part).not.toHaveProperty('finishes');
    }
    expect(JSON.parse(revision!.digest!)).toMatchObject({ materials: ['red', 'white'], lights: 0, partCount: 2 });
    const sets = await PlanSet.findAll();
    expect(setFileOf(sets.find((set) => set.file.includes('walnut'))!)).toMatchObject({
      version: 2,
      materials: { parts: [{ path: 'block/Body', material: 'walnut' }] },
      views: [{ keepVerticals: true }],
    });
    await database.close();
  });

  it('has the same tables as a new one', async () => {
    await (await openDatabase(folder)).close();
    const fresh = await Promise.all(['revisions', 'sets', 'batches', 'frames', 'tokens', 'presets'].map(columnsOf));
    rmSync(file());
    copyFileSync('tests/support/databases/version-1.sqlite', file());
    await (await openDatabase(folder)).close();
    expect(await Promise.all(['revisions', 'sets', 'batches', 'frames', 'tokens', 'presets'].map(columnsOf))).toEqual(fresh);
  });
});

describe('a start that was cut off', () => {
  const FIRST_TABLE = 'CREATE TABLE projects (id INTEGER PRIMARY KEY AUTOINCREMENT, name TEXT NOT NULL)';

  it.each([
    ['an empty file', []],
    ['notes and no table', [NOTES]],
    ['tables and no note', [FIRST_TABLE, 'CREATE TABLE revisions (id INTEGER PRIMARY KEY, projectId INTEGER REFERENCES projects(id))']],
    ['notes, a table and no note of it', [NOTES, FIRST_TABLE]],
  ])('and left %s starts', async (_, statements) => {
    writeFileSync(file(), '');
    await prepare(...statements);
    const database = await openDatabase(folder);
    await database.write((transaction) => Project.create({ name: 'after all' }, { transaction }));
    expect(await Project.count()).toBe(1);
    await database.close();
  });

  it('after a change and before its note (as steps were written once) starts', async () => {
    copyFileSync('tests/support/databases/version-1.sqlite', file());
    await prepare('ALTER TABLE batches ADD COLUMN ended TEXT');
    await (await openDatabase(folder)).close();
    expect((await columnsOf('batches')).filter((c) => c === 'ended')).toHaveLength(1);
  });

  it('does not take tables with rows and no note for what is left of a start', async () => {
    writeFileSync(file(), '');
    await prepare(FIRST_TABLE, "INSERT INTO projects (name) VALUES ('mine')");
    await expect(openDatabase(folder)).rejects.toThrow('"projects" with rows');
    await prepare("INSERT INTO projects (name) VALUES ('still there')");
  });

  it('makes a step and its note together: one that fails half way leaves neither', async () => {
    copyFileSync('tests/support/databases/version-4.sqlite', file());
    const broken = MIGRATIONS.map((m) =>
      m.name === '005-digests'
        ? {
            ...m,
            up: async (c: Parameters<typeof m.up>[0]) => {
              await m.up(c);
              throw new Error('the power went');
            },
          }
        : m,
    );
    const sequelize = connect(file());
    await expect(migrateDatabase(sequelize, folder, () => {}, broken)).rejects.toThrow('the power went');
    await sequelize.close();
    expect(await columnsOf('revisions')).not.toContain('digest');
    await (await openDatabase(folder)).close();
    expect(await columnsOf('revisions')).toContain('digest');
  });
});

describe('a database that cannot be used', () => {
  it('of a later version is refused with a sentence and left alone', async () => {
    await (await openDatabase(folder)).close();
    await prepare("INSERT INTO SequelizeMeta (name) VALUES ('999-later')");
    await expect(openDatabase(folder)).rejects.toThrow(/later version of Cold Easel \(999-later\)\. Update the application/);
    expect(readdirSync(folder)).not.toContain('backups');
  });

  it('that is damaged is told with its path and the remedy', async () => {
    writeFileSync(file(), Buffer.alloc(20_000, 'no database '));
    await expect(openDatabase(folder)).rejects.toThrow(`The database ${file()} is damaged. Check it with "easel check"`);
  });
});

describe('the lock of a data folder', () => {
  it('is one server’s alone, and free as soon as that ends', async () => {
    const lock = await lockFolder(folder);
    await expect(lockFolder(folder)).rejects.toThrow(new RegExp(`${folder} is in use by process ${process.pid}.*COLD_EASEL_DATA`));
    await lock.release();
    await (await lockFolder(folder)).release();
  });

  it('is not held by a file that a killed server left', async () => {
    writeFileSync(path.join(folder, 'server.lock'), '');
    writeFileSync(path.join(folder, 'server.owner'), 'process 1, started long ago');
    await (await lockFolder(folder)).release();
  });
});
