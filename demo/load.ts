/** Loads the demo projects into an empty data folder: Northmere Ferry Landing and the Tern lamp. */
import { type Model } from '../src/core/model/model.js';
import { modelBounds } from '../src/core/model/model.js';
import { parseSet } from '../src/core/plan/set.js';
import { importModel } from '../src/engine/node/importModel.js';
import { writeGlb } from '../src/formats/glb/write.js';
import { type ServerContext } from '../src/server/context.js';
import { PlanSet, Project } from '../src/server/db/models.js';
import { addRevision, createProject } from '../src/server/projects.js';
import { northmere } from './northmere.js';
import { LAMP, LANDING } from './sets.js';
import { tern } from './tern.js';

/** A project with revisions of one design, the first of which its set was planned on. */
async function load(context: ServerContext, name: string, [first, ...later]: [Model, ...Model[]], set: unknown): Promise<void> {
  const options = { unit: 'm', up: 'y' } as const;
  const project = await createProject(context, name);
  const bring = async (model: Model): Promise<void> => {
    const fileName = `${model.name}.glb`;
    const prepared = await importModel([{ name: fileName, bytes: await writeGlb(model) }], options);
    await addRevision(context, project, prepared, fileName, options);
  };
  await bring(first);
  const file = JSON.stringify({ ...parseSet(set), reference: modelBounds(first) });
  await context.database.write((transaction) => PlanSet.update({ file }, { where: { projectId: project.id }, transaction }));
  for (const model of later) await bring(model);
}

/** Does nothing where there are projects already. */
export async function loadDemo(context: ServerContext): Promise<void> {
  if ((await Project.count()) > 0) return;
  await load(context, 'Northmere Ferry Landing', [northmere()], LANDING);
  await load(context, 'Tern desk lamp', [tern(), tern({ revision: 'B' })], LAMP);
}
