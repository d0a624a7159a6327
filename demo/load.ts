/** Loads the demo projects into an empty data folder: Northmere Ferry Landing and the Tern lamp. */
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import type { Bounds } from '../src/core/math/bounds.js';
import { parseSet } from '../src/core/plan/set.js';
import { TEMPLATES } from '../src/core/edit/templates.js';
import { distFile } from '../src/engine/node/assets.js';
import type { ServerContext } from '../src/server/context.js';
import { PlanSet, Project } from '../src/server/db/models.js';
import { importSources } from '../src/server/imports.js';
import { renderThumbnail, STRIP_WIDTH } from '../src/server/previews/thumbnails.js';
import { createProject } from '../src/server/projects.js';
import { addSet } from '../src/server/sets.js';
import { setColumns } from '../src/server/setText.js';
import { shownFirst } from './firstLook.js';
import { MADE_FOLDER, MADE_LIST, type MadeModel, type MadeModels } from './madeModels.js';
import { LAMP_LOOK, LAMP_SHOTS, LANDING, LANDING_LOOK } from './sets.js';

/** A file that the build has made. */
const made = (name: string): Promise<Buffer> => readFile(distFile(path.join(MADE_FOLDER, name)));

/** Draws the first view of the set as the projects page asks for it first, coarse: it is the first thing that anybody sees. */
async function drawCover(context: ServerContext, project: Project): Promise<void> {
  const shown = await shownFirst(project);
  const [view] = shown?.views ?? [];
  if (shown && view !== undefined) await renderThumbnail(context, project, shown.set, shown.revision, { view }, STRIP_WIDTH);
}

/** Gives a project the revisions of one design, the first of which its sets were planned on. */
async function load(context: ServerContext, project: Project, revisions: [MadeModel, ...MadeModel[]], set: unknown): Promise<void> {
  // The set comes first: a page that is opened meanwhile keeps the one that it has got.
  const columns = setColumns({ ...parseSet(set), reference: revisions[0].bounds });
  await context.database.write((transaction) => PlanSet.update(columns, { where: { projectId: project.id }, transaction }));
  for (const { name } of revisions) await importSources(context, project, [{ name, bytes: await made(name) }], { unit: 'm', up: 'y' });
  await drawCover(context, project);
}

/** A set of each template, made to measure for what has these bounds. */
async function addPresets(context: ServerContext, project: Project, bounds: Bounds, set: unknown, ids: string[]): Promise<void> {
  const plan = parseSet(set);
  for (const template of TEMPLATES.filter((r) => ids.includes(r.id)))
    await addSet(
      context,
      project.id,
      setColumns(
        template.make(bounds, {
          year: 2026,
          ...(plan.stage.site && { site: plan.stage.site }),
          ...(plan.materials && { variants: plan.materials }),
        }),
      ),
    );
}

/** Does nothing where there are projects already. */
export async function loadDemo(context: ServerContext): Promise<void> {
  if ((await Project.count()) > 0) return;
  const { northmere, tern } = JSON.parse((await made(MADE_LIST)).toString()) as MadeModels;
  const [landing, lamp] = [northmere[0], tern[0]];
  const [first, second] = [await createProject(context, 'Northmere Ferry Landing'), await createProject(context, 'Tern desk lamp')];
  await Promise.all([load(context, first, northmere, LANDING), load(context, second, tern, LAMP_SHOTS)]);
  await addPresets(context, first, landing.measured ?? landing.bounds, LANDING, ['daylight-four', 'entrance-walk']);
  await addPresets(context, second, lamp.bounds, LAMP_SHOTS, ['eight-angles', 'turntable-sizes', 'section-reveal', 'material-board']);
  await addSet(context, first.id, setColumns({ ...parseSet(LANDING_LOOK), reference: landing.bounds }));
  await addSet(context, second.id, setColumns({ ...parseSet(LAMP_LOOK), reference: lamp.bounds }));
  // Pages that were opened meanwhile.
  for (const { id } of [first, second]) context.events.send(id, { type: 'resync' });
}
