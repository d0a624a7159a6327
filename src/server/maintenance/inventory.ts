/** What a data folder holds by the word of its database: the list that checks and backups go through. */
import { QueryTypes, type Sequelize } from 'sequelize';
import { ENVIRONMENT_ENDINGS } from '../../core/model/fileExtensions.js';
import type { Original } from '../assets/originals.js';
import type { Checksum } from '../batches/renderRow.js';

/** A file that the database names. */
export interface NamedFile {
  /** Path below the data folder, with "/". */
  path: string;
  /** What it belongs to, for messages. */
  of: string;
  kind: 'model' | 'original' | 'texture' | 'environment' | 'sound' | 'picture' | 'movie' | 'checkpoint';
  /** Where they are known: of what was rendered, and of what is named by its content. */
  bytes?: number;
  sha256?: string;
  /** May be missing: it is made anew where it is. */
  optional?: boolean;
}

const CONTENT_NAME = new RegExp(`\\b([0-9a-f]{64})\\.(${ENVIRONMENT_ENDINGS.join('|')}|png|jpe?g|webp)\\b`, 'g');
const ROWS_PER_QUERY = 2000;

async function rows<T extends object>(db: Sequelize, sql: string, bind: unknown[] = []): Promise<T[]> {
  return db.query<T>(sql, { bind, type: QueryTypes.SELECT });
}

/** Sounds of movies. */
async function* sounds(db: Sequelize): AsyncGenerator<NamedFile> {
  const seen = new Set<string>();
  // Movies of earlier versions do not say what they were made of.
  const [known] = await rows<{ name: string }>(db, `SELECT name FROM pragma_table_info('clips') WHERE name = 'made'`);
  if (!known) return;
  for (const { sound, of } of await rows<{ sound: string; of: string }>(
    db,
    `SELECT json_extract(made, '$.sound') AS sound, fileName AS of FROM clips WHERE json_extract(made, '$.sound') IS NOT NULL`,
  )) {
    if (seen.has(sound)) continue;
    seen.add(sound);
    yield { path: `sounds/${sound}`, of, kind: 'sound', sha256: sound.slice(0, 64) };
  }
}

/** Textures and environment images that sets, frozen plans and movies name. */
async function* images(db: Sequelize): AsyncGenerator<NamedFile> {
  const seen = new Set<string>();
  // Up to version 6 presets had another name.
  const [presets] = await rows<{ name: string }>(db, `SELECT name FROM sqlite_master WHERE type = 'table' AND name IN ('presets', 'recipes')`);
  const [asked] = await rows<{ name: string }>(db, `SELECT name FROM pragma_table_info('clips') WHERE name = 'asked'`);
  const texts = await rows<{ text: string; of: string }>(
    db,
    `SELECT file AS text, 'set ' || id AS of FROM sets UNION ALL SELECT plan, 'batch ' || number FROM batches ${presets ? `UNION ALL SELECT body, 'preset ' || name FROM ${presets.name}` : ''} ${asked ? `UNION ALL SELECT asked, fileName FROM clips WHERE asked IS NOT NULL` : ''}`,
  );
  for (const { text, of } of texts)
    for (const [name, sha256, ending] of text.matchAll(CONTENT_NAME)) {
      if (seen.has(name)) continue;
      seen.add(name);
      const environment = ENVIRONMENT_ENDINGS.includes(ending!);
      yield { path: `${environment ? 'environments' : 'textures'}/${name}`, of, kind: environment ? 'environment' : 'texture', sha256: sha256! };
    }
}

async function* models(db: Sequelize): AsyncGenerator<NamedFile> {
  const all = await rows<{ hash: string; letter: string; name: string; originals: string; reduced: number | null }>(
    db,
    `SELECT r.hash, r.letter, p.name, r.originals, CASE WHEN json_valid(r.digest) THEN json_extract(r.digest, '$.reduced') END AS reduced
     FROM revisions r JOIN projects p ON p.id = r.projectId ORDER BY r.id`,
  );
  const seen = new Set<string>();
  for (const { hash, letter, name, originals, reduced } of all) {
    const of = `${name}, revision ${letter}`;
    if (!seen.has(hash)) {
      seen.add(hash);
      yield { path: `models/${hash}.glb`, of, kind: 'model' };
      yield { path: `models/${hash}.scene`, of, kind: 'model', sha256: hash, optional: true };
      if (reduced !== null) yield { path: `models/${hash}.viewport.glb`, of, kind: 'model', optional: true };
    }
    for (const { sha256, bytes } of JSON.parse(originals) as Original[]) {
      if (seen.has(sha256)) continue;
      seen.add(sha256);
      yield { path: `originals/${sha256}`, of, kind: 'original', bytes, sha256 };
    }
  }
}

interface DoneFrame {
  id: number;
  name: string;
  number: number;
  folder: string;
  files: string;
  checksums: string | null;
}

async function* pictures(db: Sequelize): AsyncGenerator<NamedFile> {
  let after = 0;
  const page = (): Promise<DoneFrame[]> =>
    rows<DoneFrame>(
      db,
      `SELECT f.id, f.name, b.number, b.folder, f.files, f.checksums FROM frames f JOIN batches b ON b.id = f.batchId
       WHERE f.state = 'done' AND f.id > $1 ORDER BY f.id LIMIT ${ROWS_PER_QUERY}`,
      [after],
    );
  for (let list = await page(); list.length > 0; list = await page()) {
    after = list.at(-1)!.id;
    for (const { name, number, folder, files, checksums } of list) {
      const known = JSON.parse(checksums ?? '[]') as Checksum[];
      for (const [i, file] of (JSON.parse(files) as string[]).entries())
        yield { path: `${folder}/${file}`, of: `batch ${number}, ${name}`, kind: 'picture', ...known[i] };
    }
  }
  const clips = await rows<{ fileName: string; bytes: number; folder: string; number: number }>(
    db,
    `SELECT c.fileName, c.bytes, b.folder, b.number FROM clips c JOIN batches b ON b.id = c.batchId WHERE c.state = 'ready'`,
  );
  for (const { fileName, bytes, folder, number } of clips)
    yield { path: `${folder}/${fileName}`, of: `batch ${number}, movie`, kind: 'movie', bytes };
  const early = await rows<{ batchId: number; position: number; number: number }>(
    db,
    `SELECT f.batchId, f.position, b.number FROM frames f JOIN batches b ON b.id = f.batchId WHERE f.ended IN ('hand', 'time')`,
  );
  for (const { batchId, position, number } of early)
    yield { path: `checkpoints/${batchId}-${position}.film`, of: `batch ${number}, unfinished still`, kind: 'checkpoint', optional: true };
}

/** Parts of a data folder that may be left out of a backup. */
export const PARTS = ['models', 'pictures'] as const;
/** One of {@link PARTS}. */
export type FolderPart = (typeof PARTS)[number];

/** Every file that the database names, but those of the parts that are left out. */
export async function* inventory(db: Sequelize, without: readonly FolderPart[] = []): AsyncGenerator<NamedFile> {
  yield* images(db);
  yield* sounds(db);
  if (!without.includes('models')) yield* models(db);
  if (!without.includes('pictures')) yield* pictures(db);
}
