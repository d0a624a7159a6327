/** Projects: what lists tell of them, and how one begins. */
import { Op } from 'sequelize';
import type { ProjectReply } from '../contract/contract.js';
import { parsePreset } from '../core/edit/presets.js';
import { emptySet, type SetFile } from '../core/plan/set.js';
import type { ServerContext } from './context.js';
import { Batch, PlanSet, Project, Revision } from './db/models.js';
import { PresetRow } from './db/presetModels.js';
import { notFound, ServerError } from './errors.js';
import { findRevision, toRevisionReply, SUMMARY_COLUMNS } from './revisions.js';
import { findSet, listedSet } from './sets.js';
import { setColumns } from './setText.js';

/** The project of that id. @throws 404 where there is none, or it was deleted. */
export async function findProject(id: number): Promise<Project> {
  const project = await Project.findByPk(id);
  if (!project) throw notFound(`Project ${id}`);
  if (project.deleted !== null) throw new ServerError('not-found', `The project "${project.name}" was deleted. Restore it on the projects page.`);
  return project;
}

/** The project as pages get it. */
export async function toProjectReply(project: Project): Promise<ProjectReply> {
  const [revisions, sets, batches] = await Promise.all([
    Revision.findAll({ where: { projectId: project.id }, attributes: SUMMARY_COLUMNS, order: ['id'] }),
    PlanSet.findAll({ where: { projectId: project.id, deleted: null }, order: ['id'] }),
    Batch.count({ where: { projectId: project.id } }),
  ]);
  const gone = revisions.filter((r) => r.deleted !== null);
  return {
    id: project.id,
    name: project.name,
    revisions: revisions.filter((r) => r.deleted === null).map(toRevisionReply),
    ...(gone.length > 0 && { deletedRevisions: gone.map(({ id, letter }) => ({ id, letter })) }),
    sets: sets.map(listedSet),
    batches,
  };
}

/** The set that a new project begins with: empty, on the default format sheet and stage. A default that cannot be read is passed over. */
async function firstSet(name: string): Promise<SetFile> {
  const set = emptySet(name);
  for (const row of await PresetRow.findAll({ where: { isDefault: 1 } })) {
    try {
      const body: unknown = JSON.parse(row.body);
      if (row.kind === 'sheet') set.sheet = parsePreset('sheet', body);
      if (row.kind === 'stage') set.stage = parsePreset('stage', body);
    } catch {
      // It is marked in the list of presets.
    }
  }
  return set;
}

/** A project with an empty set, so that planning can begin as soon as a model is there. */
export async function createProject({ database }: ServerContext, name: string): Promise<Project> {
  const columns = setColumns(await firstSet('Review set'));
  return database.write(async (transaction) => {
    const project = await Project.create({ name }, { transaction });
    await PlanSet.create({ projectId: project.id, ...columns }, { transaction });
    return project;
  });
}

/** Refuses what takes a batch's ground away while it is to be rendered. */
async function refuseWhileRendering(where: { projectId: number } | { setId: number } | { revisionId: number }, what: string): Promise<void> {
  const batch = await Batch.findOne({ where: { ...where, state: { [Op.in]: ['queued', 'running', 'paused', 'held'] } } });
  if (batch) throw new ServerError('conflict', `Batch ${batch.number} of ${what} is ${batch.state}. Stop it first.`);
}

/** Gives the project another name. */
export async function renameProject({ database }: ServerContext, id: number, name: string): Promise<Project> {
  const project = await findProject(id);
  return database.write((transaction) => project.set({ name }).save({ transaction }));
}

/** Takes a project out of sight; all of it stays, and can be restored. Throws a conflict while a batch of it waits or runs. */
export async function deleteProject({ database }: ServerContext, id: number): Promise<void> {
  const project = await findProject(id);
  await refuseWhileRendering({ projectId: id }, `"${project.name}"`);
  await database.write((transaction) => project.set({ deleted: new Date().toISOString() }).save({ transaction }));
}

/** Undoes a deletion. @throws 404 where the project is gone. */
export async function restoreProject({ database }: ServerContext, id: number): Promise<Project> {
  const project = await Project.findByPk(id);
  if (!project) throw notFound(`Project ${id}`);
  return database.write((transaction) => project.set({ deleted: null }).save({ transaction }));
}

/** A project with the same revisions and sets, and no batches. Models lie in the store once, however many projects have them. */
export async function duplicateProject({ database }: ServerContext, id: number): Promise<Project> {
  const project = await findProject(id);
  return database.write(async (transaction) => {
    const copy = await Project.create({ name: `${project.name} copy`.slice(0, 80) }, { transaction });
    // By the database itself: the summary of a large model has tens of megabytes.
    for (const [table, columns, where] of [
      ['revisions', Object.keys(Revision.getAttributes()), 'AND deleted IS NULL'],
      ['sets', Object.keys(PlanSet.getAttributes()), 'AND deleted IS NULL'],
    ] as const) {
      const own = columns.filter((c) => c !== 'id' && c !== 'projectId').join(', ');
      await database.sequelize.query(
        `INSERT INTO ${table} (projectId, ${own}) SELECT $1, ${own} FROM ${table} WHERE projectId = $2 ${where} ORDER BY id`,
        {
          bind: [copy.id, id],
          transaction,
        },
      );
    }
    return copy;
  });
}

/** Takes a set out of sight; it can be restored. Throws a conflict for the only one of a project, and while a batch of it waits or runs. */
export async function deleteSet({ database }: ServerContext, id: number): Promise<void> {
  const set = await findSet(id);
  const { name } = listedSet(set);
  await refuseWhileRendering({ setId: id }, `"${name}"`);
  if ((await PlanSet.count({ where: { projectId: set.projectId, deleted: null } })) < 2)
    throw new ServerError('conflict', `"${name}" is the only set of its project. Add another one first, or delete the project.`);
  await database.write((transaction) => set.set({ deleted: new Date().toISOString() }).save({ transaction }));
}

/** Undoes a deletion. @throws 404 where the set is gone. */
export async function restoreSet({ database }: ServerContext, id: number): Promise<PlanSet> {
  const set = await PlanSet.findByPk(id);
  if (!set) throw notFound(`Set ${id}`);
  return database.write((transaction) => set.set({ deleted: null }).save({ transaction }));
}

/**
 * Takes a revision out of sight; its model, and the batches that were rendered of it, stay, and it can be restored. Throws a
 * conflict for the only one of a project, and while a batch of it waits or runs.
 */
export async function deleteRevision({ database }: ServerContext, id: number): Promise<Revision> {
  const revision = await findRevision(id);
  const name = `Revision ${revision.letter}`;
  await refuseWhileRendering({ revisionId: id }, `revision ${revision.letter}`);
  if ((await Revision.count({ where: { projectId: revision.projectId, deleted: null, id: { [Op.ne]: id } } })) === 0)
    throw new ServerError('conflict', `${name} is the only one of its project. Import another one first, or delete the project.`);
  await database.write((transaction) => Revision.update({ deleted: new Date().toISOString() }, { where: { id }, transaction }));
  return revision;
}

/** Undoes a deletion. @throws 404 where the revision is gone. */
export async function restoreRevision({ database }: ServerContext, id: number): Promise<Revision> {
  const revision = await findRevision(id);
  await database.write((transaction) => Revision.update({ deleted: null }, { where: { id }, transaction }));
  return revision;
}
