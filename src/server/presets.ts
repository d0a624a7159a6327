/** Presets and set templates: what is saved under a name to be used again. */
import type { PresetReply } from '../contract/presets.js';
import { type Bounds, emptyBounds, joinBounds } from '../core/math/bounds.js';
import { parsePreset, type PresetKind, WITH_DEFAULT } from '../core/edit/presets.js';
import { TEMPLATES, type Template } from '../core/edit/templates.js';
import type { SetFile } from '../core/plan/set.js';
import type { ServerContext } from './context.js';
import { PlanSet, type Project, type Revision } from './db/models.js';
import { PresetRow } from './db/presetModels.js';
import { notFound, ServerError } from './errors.js';
import { digestOfRevision, partsBelow } from './revisions.js';
import { setFileOf } from './sets.js';

const MAX_PRESETS = 500;

/** The preset as pages get it. */
export function toPresetReply(row: PresetRow): PresetReply {
  return { id: row.id, kind: row.kind as PresetKind, name: row.name, isDefault: row.isDefault === 1, body: JSON.parse(row.body) as unknown };
}

/** The preset of that id. @throws 404 where there is none. */
export async function findPreset(id: number): Promise<PresetRow> {
  const row = await PresetRow.findByPk(id);
  if (!row) throw notFound(`Preset ${id}`);
  return row;
}

/** Saves a preset; one of the same kind and name is replaced. Throws ServerError where the body is wrong. */
export async function savePreset({ database }: ServerContext, kind: PresetKind, name: string, body: unknown): Promise<PresetRow> {
  let text: string;
  try {
    text = JSON.stringify(parsePreset(kind, body));
  } catch (e) {
    throw new ServerError('unusable', (e as Error).message);
  }
  return database.write(async (transaction) => {
    const known = await PresetRow.findOne({ where: { kind, name }, transaction });
    if (known) return known.set({ body: text }).save({ transaction });
    if ((await PresetRow.count({ transaction })) >= MAX_PRESETS)
      throw new ServerError('unusable', `There are ${MAX_PRESETS} presets, which is the maximum; delete one first.`);
    return PresetRow.create({ kind, name, body: text, isDefault: 0 }, { transaction });
  });
}

/** Renames a preset, or makes it what a new project begins with. Throws 422 where its kind has no default. */
export async function updatePreset({ database }: ServerContext, row: PresetRow, change: { name?: string; isDefault?: boolean }): Promise<PresetRow> {
  if (change.isDefault && !WITH_DEFAULT.includes(row.kind as PresetKind))
    throw new ServerError('unusable', `A new project has no default ${row.kind}.`);
  return database.write(async (transaction) => {
    if (change.isDefault) await PresetRow.update({ isDefault: 0 }, { where: { kind: row.kind }, transaction });
    if (change.isDefault !== undefined) row.isDefault = change.isDefault ? 1 : 0;
    if (change.name !== undefined) row.name = change.name;
    return row.save({ transaction });
  });
}

/** The template of that id. @throws 404 where there is none. */
export function templateOf(id: string): Template {
  const template = TEMPLATES.find((r) => r.id === id);
  if (!template) throw notFound(`Set template "${id}"`);
  return template;
}

/** Bounds of a part with all below it. Throws 404 where there is none with faces. */
async function boundsOfPart(context: ServerContext, revision: Revision, path: string): Promise<Bounds> {
  const own = (await partsBelow(context, revision, path)).filter((p) => p.triangles > 0);
  if (own.length === 0) throw notFound(`Part "${path}"`);
  return own.reduce((all, p) => joinBounds(all, p.bounds), emptyBounds());
}

/** A set template fitted to a revision, or for one part of it; site, materials and variants are those of the project's first set. */
export async function instantiateTemplate(
  context: ServerContext,
  template: Template,
  project: Project,
  revision: Revision,
  { year, part }: { year: number; part?: string },
): Promise<SetFile> {
  const first = await PlanSet.findOne({ where: { projectId: project.id, deleted: null }, order: ['id'] });
  const file = first && setFileOf(first);
  return template.make(part ? await boundsOfPart(context, revision, part) : digestOfRevision(revision).bounds, {
    year,
    ...(file?.stage.site && { site: file.stage.site }),
    ...(file?.materials && { variants: file.materials }),
  });
}
