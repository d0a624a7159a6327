/** Revisions: what is told of a model, its parts, and how it is compared with an earlier one. */
import { createReadStream } from 'node:fs';
import type { Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { QueryTypes } from 'sequelize';
import type { RevisionReply } from '../contract/contract.js';
import type { PlanContext } from '../core/planning/planFrames.js';
import type { ModelDigest, PartSummary } from '../engine/scene/prepare.js';
import type { ServerContext } from './context.js';
import { type Project, Revision } from './db/models.js';
import { notFound, ServerError } from './errors.js';

/** All columns but the summary, which is tens of megabytes for a model of very many parts. */
export const SUMMARY_COLUMNS = { exclude: ['summary'] };

/** The revision of that id, without its parts. @throws 404 where there is none, or it was deleted. */
export async function findRevision(id: number): Promise<Revision> {
  const revision = await Revision.findByPk(id, { attributes: SUMMARY_COLUMNS });
  if (!revision) throw notFound(`Revision ${id}`);
  return revision;
}

/** What is told of a revision without its parts. Throws ServerError where its row cannot be read. */
export function digestOfRevision({ digest, letter }: Revision): ModelDigest {
  try {
    const read = JSON.parse(digest ?? 'null') as ModelDigest | null;
    if (read) return read;
  } catch {
    // Told below.
  }
  throw new ServerError('unusable', `What was read of the model of revision ${letter} cannot be read any more. Import its file again.`);
}

/** The revision as pages get it. */
export function toRevisionReply(revision: Revision): RevisionReply {
  const { id, letter, fileName, unit, up, hash } = revision;
  const originals = JSON.parse(revision.originals) as { name: string; bytes: number }[];
  const base = { id, letter, fileName, unit, up, hash, originals: originals.map(({ name, bytes }) => ({ name, bytes })) };
  let digest: ModelDigest;
  try {
    digest = digestOfRevision(revision);
  } catch (e) {
    const none = { min: [0, 0, 0] as [number, number, number], max: [0, 0, 0] as [number, number, number] };
    return {
      ...base,
      triangles: 0,
      partCount: 0,
      materials: [],
      textures: 0,
      lights: 0,
      cameras: [],
      bounds: none,
      warnings: [],
      problem: (e as Error).message,
    };
  }
  const { triangles, reduced, facesApart, partCount, materials, textures, lights, lightPaths, cameras, bounds, warnings } = digest;
  return {
    ...base,
    triangles,
    ...(reduced !== undefined && { reduced }),
    ...(facesApart && { facesApart }),
    partCount,
    materials,
    textures,
    lights: lights ?? 0,
    ...(lightPaths && { lightPaths }),
    cameras: (cameras ?? []) as RevisionReply['cameras'],
    bounds,
    warnings,
  };
}

/** The parts of a revision as JSON, cut out by the database: it is not parsed on the way. */
export async function partsText({ database }: ServerContext, id: number): Promise<string> {
  const [row] = await database.sequelize.query<{ parts: string | null }>(
    "SELECT CASE WHEN json_valid(summary) THEN json_extract(summary, '$.parts') END AS parts FROM revisions WHERE id = ?",
    { replacements: [id], type: QueryTypes.SELECT },
  );
  if (!row) throw notFound(`Revision ${id}`);
  if (row.parts === null) throw new ServerError('unusable', 'The parts of this revision cannot be read any more. Import its file again.');
  return row.parts;
}

/** The parts below a path, with its own. */
export async function partsBelow(context: ServerContext, revision: Revision, path: string): Promise<PartSummary[]> {
  const rows = await context.database.sequelize.query<{ part: string }>(
    `SELECT value AS part FROM revisions, json_each(revisions.summary, '$.parts')
     WHERE revisions.id = ? AND (json_extract(value, '$.path') = ? OR substr(json_extract(value, '$.path'), 1, ?) = ?)`,
    { replacements: [revision.id, path, path.length + 1, `${path}/`], type: QueryTypes.SELECT },
  );
  return rows.map((r) => JSON.parse(r.part) as PartSummary);
}

/** The revision that a later one is compared with: the last before it where none is named. Throws ServerError where there is none. */
export async function earlierRevision(later: Revision, id?: number): Promise<Revision> {
  const where = { projectId: later.projectId, deleted: null };
  const all = await Revision.findAll({ where, attributes: SUMMARY_COLUMNS, order: ['id'] });
  const earlier = id === undefined ? all.filter((r) => r.id < later.id).at(-1) : all.find((r) => r.id === id);
  if (!earlier) throw new ServerError('not-found', `There is no revision before ${later.letter} to compare with.`);
  return earlier;
}

/** Writes MatchReply as JSON to `out`: the parts of a revision beside those of an earlier one. */
export async function writeMatch({ matcher }: ServerContext, earlier: Revision, later: Revision, out: Writable): Promise<void> {
  const outcome = await matcher.match(earlier.id, later.id, async (file) => {
    out.write(`{"with":${JSON.stringify(earlier.letter)},"matches":`);
    await pipeline(createReadStream(file), out, { end: false });
    out.end('}');
  });
  if (!outcome) return;
  const { letter } = outcome.unmeasured === later.id ? later : earlier;
  throw new ServerError('conflict', `Revision ${letter} was imported by an earlier version; import its file again to compare it.`);
}

/** What planFrames needs of a revision. */
export function planContext(project: Project, revision: Revision, batch = 'preview'): PlanContext {
  const { bounds, hash, name } = digestOfRevision(revision);
  return { bounds, scene: hash, project: project.name, model: name, revision: revision.letter, batch };
}
