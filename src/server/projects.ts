/** Projects: what lists tell of them, and how one begins. */
import type { ProjectReply } from '../contract/contract.js';
import { parsePreset } from '../core/edit/presets.js';
import { emptySet, type SetFile } from '../core/plan/set.js';
import type { ServerContext } from './context.js';
import { Batch, PlanSet, Project, PresetRow, Revision } from './db/models.js';
import { notFound } from './errors.js';
import { toRevisionReply, SUMMARY_COLUMNS } from './revisions.js';
import { listedSet } from './sets.js';
import { setColumns } from './setText.js';

export async function findProject(id: number): Promise<Project> {
  const project = await Project.findByPk(id);
  if (!project) throw notFound(`Project ${id}`);
  return project;
}

export async function toProjectReply(project: Project): Promise<ProjectReply> {
  const [revisions, sets, batches] = await Promise.all([
    Revision.findAll({ where: { projectId: project.id }, attributes: SUMMARY_COLUMNS, order: ['id'] }),
    PlanSet.findAll({ where: { projectId: project.id }, order: ['id'] }),
    Batch.count({ where: { projectId: project.id } }),
  ]);
  return { id: project.id, name: project.name, revisions: revisions.map(toRevisionReply), sets: sets.map(listedSet), batches };
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
