/** Loads the demo projects into an empty data folder: Northmere Ferry Landing and the Tern lamp. */
import type { Bounds } from '../src/core/math/bounds.js';
import { type Model, modelBounds } from '../src/core/model/model.js';
import { parseSet } from '../src/core/plan/set.js';
import { TEMPLATES } from '../src/core/edit/templates.js';
import { writeGlb } from '../src/formats/glb/write.js';
import type { ServerContext } from '../src/server/context.js';
import { PlanSet, Project } from '../src/server/db/models.js';
import { importSources } from '../src/server/imports.js';
import { createProject } from '../src/server/projects.js';
import { addSet } from '../src/server/sets.js';
import { setColumns } from '../src/server/setText.js';
import { northmere } from './northmere.js';
import { LAMP_LOOK, LAMP_SHOTS, LANDING, LANDING_LOOK } from './sets.js';
import { tern } from './tern.js';

/** Bounds of the parts below a path, or of the whole subject. */
function boundsBelow(model: Model, path?: string): Bounds {
  return modelBounds(path ? { ...model, parts: model.parts.filter((p) => p.path === path || p.path.startsWith(`${path}/`)) } : model);
}

interface Presets {
  ids: string[];
  /** Path of the part that they are made to measure for. */
  part?: string;
}

/** Gives a project the revisions of one design, the first of which its sets were planned on. */
async function load(context: ServerContext, project: Project, [first, ...later]: [Model, ...Model[]], set: unknown): Promise<void> {
  const options = { unit: 'm', up: 'y' } as const;
  const bring = async (model: Model): Promise<void> => {
    const fileName = `${model.name}.glb`;
    await importSources(context, project, [{ name: fileName, bytes: await writeGlb(model) }], options);
  };
  // The set comes first: a page that is opened meanwhile keeps the one that it has got.
  const columns = setColumns({ ...parseSet(set), reference: modelBounds(first) });
  await context.database.write((transaction) => PlanSet.update(columns, { where: { projectId: project.id }, transaction }));
  await bring(first);
  for (const model of later) await bring(model);
}

/** A set of each template, made to measure for the design. */
async function addPresets(context: ServerContext, project: Project, design: Model, set: unknown, { ids, part }: Presets): Promise<void> {
  const plan = parseSet(set);
  for (const template of TEMPLATES.filter((r) => ids.includes(r.id)))
    await addSet(
      context,
      project.id,
      setColumns(
        template.make(boundsBelow(design, part), {
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
  const [landing, light] = [northmere(), tern()];
  const [first, second] = [await createProject(context, 'Northmere Ferry Landing'), await createProject(context, 'Tern desk lamp')];
  await Promise.all([load(context, first, [landing], LANDING), load(context, second, [light, tern({ revision: 'B' })], LAMP_SHOTS)]);
  await addPresets(context, first, landing, LANDING, { ids: ['daylight-four', 'entrance-walk'], part: 'Pavilion' });
  await addPresets(context, second, light, LAMP_SHOTS, { ids: ['eight-angles', 'turntable-sizes', 'section-reveal', 'material-board'] });
  await addSet(context, first.id, setColumns({ ...parseSet(LANDING_LOOK), reference: modelBounds(landing) }));
  await addSet(context, second.id, setColumns({ ...parseSet(LAMP_LOOK), reference: modelBounds(light) }));
  // Pages that were opened meanwhile.
  for (const { id } of [first, second]) context.events.send(id, { type: 'resync' });
}
