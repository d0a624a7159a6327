/** Routes of presets and set templates. */
import type { Router } from 'express';
import { changePreset, fromTemplate, newPreset, type TemplateReply } from '../../contract/presets.js';
import { slugify } from '../../core/plan/fileNames.js';
import { presetFile, type PresetKind } from '../../core/edit/presets.js';
import { TEMPLATES } from '../../core/edit/templates.js';
import type { Caller } from '../access/access.js';
import type { ServerContext } from '../context.js';
import { PlanSet } from '../db/models.js';
import { PresetRow } from '../db/presetModels.js';
import { findProject } from '../projects.js';
import { findRevision } from '../revisions.js';
import { addSet, setReplyText } from '../sets.js';
import { setColumns } from '../setText.js';
import { updatePreset, toPresetReply, findPreset, savePreset, instantiateTemplate, templateOf } from '../presets.js';
import { THUMBNAIL_WIDTHS, renderThumbnail } from '../previews/thumbnails.js';
import { idOf, parse } from './params.js';

/** Routes of presets and templates. */
export function presetRoutes(api: Router, context: ServerContext): void {
  api.get('/presets', async (request, response) => {
    const { kind } = request.query;
    const rows = await PresetRow.findAll({ ...(typeof kind === 'string' && { where: { kind } }), order: ['name'] });
    response.json(rows.map(toPresetReply));
  });
  api.post('/presets', async (request, response) => {
    const { kind, name, body } = parse(newPreset, request.body);
    response.status(201).json(toPresetReply(await savePreset(context, kind, name, body)));
  });
  api.put('/presets/:id', async (request, response) => {
    const row = await findPreset(idOf(request.params.id, 'preset'));
    response.json(toPresetReply(await updatePreset(context, row, parse(changePreset, request.body))));
  });
  api.delete('/presets/:id', async (request, response) => {
    const row = await findPreset(idOf(request.params.id, 'preset'));
    await context.database.write((transaction) => row.destroy({ transaction }));
    await context.access.audit((response.locals.caller as Caller).who, 'preset deleted', row.name);
    response.json({});
  });
  api.get('/presets/:id/export', async (request, response) => {
    const row = await findPreset(idOf(request.params.id, 'preset'));
    response
      .attachment(`${slugify(row.name)}.preset.json`)
      .type('application/json')
      .send(presetFile({ kind: row.kind as PresetKind, name: row.name, body: JSON.parse(row.body) as never }));
  });

  api.get('/templates', (_request, response) => {
    response.json(TEMPLATES.map(({ id, name, help, subject }): TemplateReply => ({ id, name, help, subject })));
  });
  api.post('/projects/:id/sets/from-template', async (request, response) => {
    const project = await findProject(idOf(request.params.id, 'project'));
    const { template, revision, part } = parse(fromTemplate, request.body);
    const file = await instantiateTemplate(context, templateOf(template), project, await findRevision(revision), {
      year: new Date().getUTCFullYear(),
      part,
    });
    const columns = setColumns(file);
    const set = await addSet(context, project.id, columns);
    response.status(201).type('application/json').send(setReplyText(set, columns.file));
  });
  api.get('/projects/:id/templates/:template/thumbnail', async (request, response) => {
    const project = await findProject(idOf(request.params.id, 'project'));
    const revision = await findRevision(idOf(request.query.revision, 'revision'));
    const template = templateOf(request.params.template);
    const part = typeof request.query.part === 'string' && request.query.part !== '' ? request.query.part : undefined;
    const file = await instantiateTemplate(context, template, project, revision, { year: new Date().getUTCFullYear(), part });
    const set = PlanSet.build({ projectId: project.id, file: JSON.stringify(file) });
    const bytes = await renderThumbnail(context, project, set, revision, template.cover, THUMBNAIL_WIDTHS[1]!);
    response.type('image/webp').send(bytes);
  });
}
