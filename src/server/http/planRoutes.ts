/** Routes of models and sets. */
import type { Router } from 'express';
import { importOptions, type MeterReply, smallQuery } from '../../contract/contract.js';
import type { PreflightReply } from '../../contract/preflight.js';
import { toMaterial, textureFilesOf } from '../../core/materials/customMaterial.js';
import { PLAN_LISTS, type PlanList } from '../../core/movie/lists.js';
import { frameSummary } from '../../core/movie/planJson.js';
import { slugify } from '../../core/plan/fileNames.js';
import type { LengthUnit } from '../../core/units/length.js';
import { writePlan } from '../../engine/node/writePlan.js';
import { inVariant } from '../batches/createBatch.js';
import { withoutWords } from '../batches/frameStates.js';
import { checkSet } from '../checkSet.js';
import type { ServerContext } from '../context.js';
import { ServerError } from '../errors.js';
import { importRevision } from '../imports.js';
import { CheckStopped } from '../planning/preflight.js';
import { PlanError } from '../planning/planner.js';
import type { PlanSnapshot } from '../planning/tasks.js';
import { findProject, toProjectReply } from '../projects.js';
import { earlierRevision, findRevision, partsText, planContext, writeMatch } from '../revisions.js';
import { addSet, findSet, readSetFrom, saveSetFile, setFileOf, setReplyText } from '../sets.js';
import { contentOf, readSetText } from '../setText.js';
import { autoExposeView, keptThumbnail, renderThumbnail, STRIP_WIDTH, THUMBNAIL_WIDTHS } from '../previews/thumbnails.js';
import { isKnown } from './caching.js';
import { abortOnClose, idOf, parse, textOf } from './params.js';
import { sendPlan } from './sendPlan.js';
import { receiveFiles, withFiles } from './uploads.js';

/** Content of a set on a model, as addresses of small frames carry it. */
const stampOf = (setText: string, hash: string): string => `${contentOf(setText)}-${hash.slice(0, 16)}`;

/** Routes of models, sets, their plans and their checks. */
export function planRoutes(api: Router, context: ServerContext): void {
  const { store } = context;

  api.post('/projects/:id/model', receiveFiles(store.uploads()), async (request, response) => {
    const gone = abortOnClose(response);
    const project = await withFiles(request, async (files) => {
      const { unit, up, faces } = parse(importOptions, { unit: request.query.unit, up: request.query.up, faces: request.query.faces });
      const found = await findProject(idOf(request.params.id, 'project'));
      const units = { ...(unit && { unit: unit as LengthUnit }), ...(up && { up }) };
      await importRevision(context, found, files, { ...units, facesApart: faces === 'apart' }, gone);
      return found;
    });
    response.status(201).json(await toProjectReply(project));
  });

  api.get('/revisions/:id/parts', async (request, response) => {
    const revision = await findRevision(idOf(request.params.id, 'revision'));
    if (isKnown(request, response, `parts-${revision.hash}`)) return;
    response.type('application/json').send(Buffer.from(await partsText(context, revision.id)));
  });
  api.get('/revisions/:id/match', async (request, response) => {
    const asked = request.query.with === undefined ? undefined : idOf(request.query.with, 'revision');
    const later = await findRevision(idOf(request.params.id, 'revision'));
    const earlier = await earlierRevision(later, asked);
    if (isKnown(request, response, `match-${earlier.letter}-${earlier.hash}-${later.hash}`)) return;
    await writeMatch(context, earlier, later, response.type('application/json'));
  });

  api.post('/projects/:id/sets', async (request, response) => {
    const project = await findProject(idOf(request.params.id, 'project'));
    const { columns } = await readSetFrom(context, 'new', textOf(request.body));
    const set = await addSet(context, project.id, columns);
    response.status(201).type('application/json').send(setReplyText(set, columns.file));
  });
  api.get('/sets/:id', async (request, response) => {
    const set = await findSet(idOf(request.params.id, 'set'));
    const { columns } = await readSetFrom(context, 'stored', set.file);
    response.type('application/json').send(setReplyText(set, columns.file));
  });
  api.put('/sets/:id', async (request, response) => {
    const id = idOf(request.params.id, 'set');
    const { columns, version } = await readSetFrom(context, 'save', textOf(request.body));
    const set = await saveSetFile(context, id, version!, columns);
    context.events.send(set.projectId, { type: 'set', setId: set.id, version: set.version });
    response.type('application/json').send(setReplyText(set, columns.file));
  });
  /** One that cannot be read is exported as it is, so that it can be corrected. */
  api.get('/sets/:id/export', async (request, response) => {
    const set = await findSet(idOf(request.params.id, 'set'));
    let [name, text] = [`set-${set.id}`, set.file];
    try {
      const file = readSetText(set.file);
      [name, text] = [slugify(file.name), `${JSON.stringify(file, null, 2)}\n`];
    } catch {
      // As it is.
    }
    response.attachment(`${name}.set.json`).type('application/json').send(text);
  });
  api.get('/sets/:id/exposure', async (request, response) => {
    const set = await findSet(idOf(request.params.id, 'set'));
    const project = await findProject(set.projectId);
    const revision = await findRevision(idOf(request.query.revision, 'revision'));
    const text = (name: string): string | undefined => (typeof request.query[name] === 'string' ? request.query[name] : undefined);
    response.json({ exposure: await autoExposeView(context, project, set, revision, text('view') ?? '', text('stage')) } satisfies MeterReply);
  });
  /** The frames that the set would have on a revision now, as `easel plan --json` prints them. */
  api.get('/sets/:id/plan.json', async (request, response) => {
    const set = await findSet(idOf(request.params.id, 'set'));
    const revision = await findRevision(idOf(request.query.revision, 'revision'));
    const snapshot: PlanSnapshot = { set: setFileOf(set), context: planContext(await findProject(set.projectId), revision) };
    try {
      await sendPlan(response, await context.planner.open(JSON.stringify(snapshot)), frameSummary);
    } catch (e) {
      throw e instanceof PlanError ? new ServerError('unusable', e.message) : e;
    }
  });
  /** The same plan as a list, timeline or cameras for other programs, as `easel export` writes them. */
  api.get('/sets/:id/lists/:list', async (request, response) => {
    const list = PLAN_LISTS[request.params.list as PlanList] as (typeof PLAN_LISTS)[PlanList] | undefined;
    if (!list || !Object.hasOwn(PLAN_LISTS, request.params.list))
      throw new ServerError('not-found', `There is no list "${request.params.list}"; there is ${Object.keys(PLAN_LISTS).join(', ')}.`);
    const set = await findSet(idOf(request.params.id, 'set'));
    const revision = await findRevision(idOf(request.query.revision, 'revision'));
    const file = setFileOf(set);
    const snapshot: PlanSnapshot = { set: file, context: planContext(await findProject(set.projectId), revision) };
    try {
      const plan = await context.planner.open(JSON.stringify(snapshot));
      const text = list.make(file, await plan.frames(0, plan.total));
      response
        .attachment(`${slugify(file.name)}.${request.params.list}`)
        .type(list.type)
        .send(text);
    } catch (e) {
      throw e instanceof PlanError ? new ServerError('unusable', e.message) : e;
    }
  });
  /** What is to be said of the set on a revision before it runs. */
  api.get('/sets/:id/preflight', async (request, response) => {
    const set = await findSet(idOf(request.params.id, 'set'));
    const project = await findProject(set.projectId);
    const revision = await findRevision(idOf(request.query.revision, 'revision'));
    const asked = typeof request.query.select === 'string' ? request.query.select : undefined;
    const variant = typeof request.query.variant === 'string' ? request.query.variant : undefined;
    const file = inVariant(setFileOf(set), variant);
    const choice = { ...(variant !== undefined && { variant }) };
    const select = asked && (await withoutWords(context, { project, row: set, revision, set: file, choice }, asked));
    const plan = { set: file, context: planContext(project, revision), ...(select !== undefined && { select }) };
    const gone = abortOnClose(response);
    try {
      const started = performance.now();
      const report = await checkSet(context, revision, plan, gone, (done, total) =>
        context.events.send(project.id, { type: 'preflight', setId: set.id, done, total }),
      );
      const seconds = (performance.now() - started) / 1000;
      response.json({ ...report, content: contentOf(set.file), seconds } satisfies PreflightReply);
    } catch (e) {
      // Whoever asked has gone.
      if (!(e instanceof CheckStopped)) throw e;
    }
  });
  api.get('/sets/:id/plan.glb', async (request, response) => {
    const set = await findSet(idOf(request.params.id, 'set'));
    const project = await findProject(set.projectId);
    const revision = await findRevision(idOf(request.query.revision, 'revision'));
    const file = setFileOf(set);
    let bytes: Uint8Array;
    try {
      const pictures: Record<string, string> = {};
      for (const name of textureFilesOf((file.materials?.materials ?? []).map(toMaterial)))
        if (await store.hasTexture(name)) pictures[name] = store.texture(name);
      bytes = await writePlan({ set: file, context: planContext(project, revision), model: store.glb(revision.hash), pictures });
    } catch (e) {
      throw e instanceof ServerError ? e : new ServerError('unusable', (e as Error).message);
    }
    response
      .attachment(`${slugify(file.name)}.glb`)
      .type('model/gltf-binary')
      .send(Buffer.from(bytes));
  });
  api.get('/sets/:id/thumbnail', async (request, response) => {
    const { revision: asked, width, v, soon, ...wanted } = request.query;
    const set = await findSet(idOf(request.params.id, 'set'));
    const project = await findProject(set.projectId);
    const size = Number(width ?? THUMBNAIL_WIDTHS[0]);
    if (!THUMBNAIL_WIDTHS.includes(size)) throw new ServerError('invalid-input', `width: there is ${THUMBNAIL_WIDTHS.join(', ')}.`);
    const what = parse(smallQuery, wanted);
    const revision = await findRevision(idOf(asked, 'revision'));
    const stamp = stampOf(set.file, revision.hash);
    response.type('image/webp');
    if (soon !== undefined && !(await keptThumbnail(context, project, set, revision, what, size))) {
      // What stands in for it is not to be kept under its name.
      response.set('cache-control', 'no-store');
      response.send(await renderThumbnail(context, project, set, revision, what, STRIP_WIDTH, abortOnClose(response)));
      return;
    }
    if (isKnown(request, response, `${stamp}-${contentOf(JSON.stringify(what))}-${size}`, v === stamp)) return;
    response.send(await renderThumbnail(context, project, set, revision, what, size, abortOnClose(response)));
  });
}
