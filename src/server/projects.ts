/** Projects, revisions and sets: reading and writing rows as the contract has them. */
import { type MatchReply, type PartReply, type ProjectReply, type RevisionReply, type SetReply } from '../contract/contract.js';
import { matchParts } from '../core/model/match.js';
import { carryOver, regrouped } from '../core/plan/carry.js';
import { countFrames, type PlanContext } from '../core/plan/framesOf.js';
import { parseBody } from '../core/plan/recipes.js';
import { emptySet, parseSet, type SetFile } from '../core/plan/set.js';
import { importModel } from '../engine/node/importModel.js';
import { type ModelSummary, type PartSummary, type Prepared } from '../engine/prepare.js';
import { type ReadOptions, type SourceFile } from '../formats/format.js';
import { findModel } from '../formats/formats.js';
import { type ServerContext } from './context.js';
import { Batch, PlanSet, Project, RecipeRow, Revision } from './db/models.js';
import { notFound, ServerError } from './errors.js';

export async function findProject(id: number): Promise<Project> {
  const project = await Project.findByPk(id);
  if (!project) throw notFound(`Project ${id}`);
  return project;
}

export async function findRevision(id: number): Promise<Revision> {
  const revision = await Revision.findByPk(id);
  if (!revision) throw notFound(`Revision ${id}`);
  return revision;
}

export async function findSet(id: number): Promise<PlanSet> {
  const set = await PlanSet.findByPk(id);
  if (!set) throw notFound(`Set ${id}`);
  return set;
}

export function summaryOf(revision: Revision): ModelSummary {
  return JSON.parse(revision.summary) as ModelSummary;
}

export function setFileOf(set: PlanSet): SetFile {
  return parseSet(JSON.parse(set.file));
}

function describeRevision(revision: Revision): RevisionReply {
  const { id, letter, fileName, unit, up, hash } = revision;
  const { triangles, reduced, facesApart, parts, finishes, textures, lamps, cameras, bounds, warnings } = summaryOf(revision);
  return {
    id,
    letter,
    fileName,
    unit,
    up,
    hash,
    triangles,
    ...(reduced !== undefined && { reduced }),
    ...(facesApart && { facesApart }),
    // A solid's edges are not what a person counts.
    partCount: parts.filter((p) => p.lines === undefined).length,
    finishes,
    textures,
    lamps: lamps ?? 0,
    cameras: (cameras ?? []) as RevisionReply['cameras'],
    bounds,
    warnings,
  };
}

export async function describeProject(project: Project): Promise<ProjectReply> {
  const [revisions, sets, batches] = await Promise.all([
    Revision.findAll({ where: { projectId: project.id }, order: ['id'] }),
    PlanSet.findAll({ where: { projectId: project.id }, order: ['id'] }),
    Batch.count({ where: { projectId: project.id } }),
  ]);
  return {
    id: project.id,
    name: project.name,
    revisions: revisions.map(describeRevision),
    sets: sets.map((s) => {
      const file = setFileOf(s);
      return { id: s.id, name: file.name, frames: countFrames(file) };
    }),
    batches,
  };
}

/** Whether its parts were measured: revisions of earlier versions of the application were not. */
function hasShapes(revision: Revision): boolean {
  return summaryOf(revision).parts.every((p) => (p.area as number | undefined) !== undefined);
}

/** A solid's edges are made of it, so they are not compared as well. */
const solids = (revision: Revision): PartSummary[] => summaryOf(revision).parts.filter((p) => p.lines === undefined);

/** Parts of a revision beside those of an earlier one of the project, the last before it where none is named. Throws 404 and 409. */
export async function matchRevisions(later: Revision, earlierId?: number): Promise<MatchReply> {
  const all = await Revision.findAll({ where: { projectId: later.projectId }, order: ['id'] });
  const earlier = earlierId === undefined ? all.filter((r) => r.id < later.id).at(-1) : all.find((r) => r.id === earlierId);
  if (!earlier) throw new ServerError('not-found', `There is no revision before ${later.letter} to compare with.`);
  for (const r of [earlier, later])
    if (!hasShapes(r))
      throw new ServerError('conflict', `Revision ${r.letter} was brought in by an earlier version; bring its file in again to compare it.`);
  return { with: earlier.letter, matches: matchParts(solids(earlier), solids(later)) };
}

export function partsOf(revision: Revision): PartReply[] {
  return summaryOf(revision).parts;
}

export function describeSet(set: PlanSet): SetReply {
  return { id: set.id, projectId: set.projectId, version: set.version, file: setFileOf(set) };
}

/** The set that a new project begins with: empty, on the default format sheet and stage. */
async function firstSet(name: string): Promise<SetFile> {
  const set = emptySet(name);
  for (const row of await RecipeRow.findAll({ where: { isDefault: 1 } })) {
    const body: unknown = JSON.parse(row.body);
    if (row.kind === 'sheet') set.sheet = parseBody('sheet', body);
    if (row.kind === 'stage') set.stage = parseBody('stage', body);
  }
  return set;
}

/** A project with an empty set, so that planning can begin as soon as a model is there. */
export async function createProject({ database }: ServerContext, name: string): Promise<Project> {
  const file = JSON.stringify(await firstSet('Review set'));
  return database.write(async (transaction) => {
    const project = await Project.create({ name }, { transaction });
    await PlanSet.create({ projectId: project.id, file }, { transaction });
    return project;
  });
}

function letterAfter(count: number): string {
  const last = String.fromCharCode(65 + (count % 26));
  return count < 26 ? last : letterAfter(Math.floor(count / 26) - 1) + last;
}

/** Keeps a prepared model as the project's next revision: files first, then the row. */
export async function addRevision(
  { database, store }: ServerContext,
  project: Project,
  prepared: Prepared,
  fileName: string,
  options: ReadOptions,
): Promise<Revision> {
  await store.keepModel(prepared);
  return database.write(async (transaction) => {
    const before = await Revision.findAll({ where: { projectId: project.id }, order: ['id'], transaction });
    const count = before.length;
    const last = before.at(-1);
    if (last && hasShapes(last)) {
      // Whatever plans name parts by path follow them to where they are now.
      const matches = matchParts(summaryOf(last).parts, prepared.summary.parts);
      for (const set of await PlanSet.findAll({ where: { projectId: project.id }, transaction })) {
        const file = setFileOf(set);
        for (const path of regrouped(file, summaryOf(last).parts, prepared.summary.parts))
          prepared.summary.warnings.push(
            `"${path}" is divided into other groups of faces than before. Look its finishes over: "${file.name}" puts some on single groups.`,
          );
        const carried = carryOver(file, matches);
        if (carried === file) continue;
        set.file = JSON.stringify(carried);
        set.version++;
        await set.save({ transaction });
      }
    }
    return Revision.create(
      {
        projectId: project.id,
        letter: letterAfter(count),
        fileName,
        unit: options.unit,
        up: options.up,
        hash: prepared.summary.hash,
        summary: JSON.stringify(prepared.summary),
      },
      { transaction },
    );
  });
}

/** Reads the files in a thread of their own and keeps them. Leaves nothing behind where it throws. */
export async function importRevision(
  context: ServerContext,
  project: Project,
  files: SourceFile[],
  options: ReadOptions,
  signal?: AbortSignal,
): Promise<Revision> {
  let told = 0;
  const tell = (share: number, what: string): void => {
    const now = Date.now();
    if (now - told < 150 && share < 1) return;
    told = now;
    context.events.send({ type: 'import', projectId: project.id, share, what });
  };
  const prepared = await importModel(files, options, tell, signal);
  return addRevision(context, project, prepared, findModel(files).file.name, options);
}

export async function addSet({ database }: ServerContext, project: Project, file: SetFile): Promise<PlanSet> {
  return database.write((transaction) => PlanSet.create({ projectId: project.id, file: JSON.stringify(file) }, { transaction }));
}

/** Saves a set over the version that the page had. Throws 409 where another page was faster. */
export async function saveSetFile({ database }: ServerContext, id: number, version: number, file: SetFile): Promise<PlanSet> {
  return database.write(async (transaction) => {
    const set = await PlanSet.findByPk(id, { transaction });
    if (!set) throw notFound(`Set ${id}`);
    if (set.version !== version)
      throw new ServerError('conflict', 'This set was changed in another window. Reload to go on from there; your last change was not saved.');
    set.version = version + 1;
    set.file = JSON.stringify(file);
    return set.save({ transaction });
  });
}

/** What framesOf needs of a revision. */
export function planContext(project: Project, revision: Revision, batch = 'preview'): PlanContext {
  const summary = summaryOf(revision);
  return { bounds: summary.bounds, scene: summary.hash, project: project.name, model: summary.name, revision: revision.letter, batch };
}
