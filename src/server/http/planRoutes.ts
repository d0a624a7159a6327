/** Routes of what a set comes to on a revision: its frames, lists, checks, exposure and small frames. */
import type { Request, Router } from 'express';
import { type MeterReply, smallQuery } from '../../contract/contract.js';
import type { PreflightReply } from '../../contract/preflight.js';
import { toMaterial, textureFilesOf } from '../../core/materials/customMaterial.js';
import { PLAN_LISTS, type PlanList } from '../../core/movie/lists.js';
import { frameSummary } from '../../core/movie/planJson.js';
import { slugify } from '../../core/plan/fileNames.js';
import { writePlan } from '../../engine/node/writePlan.js';
import { inVariant } from '../batches/createBatch.js';
import { withoutWords } from '../batches/frameStates.js';
import { checkSet } from '../checkSet.js';
import type { ServerContext } from '../context.js';
import { ServerError } from '../errors.js';
import { CheckStopped } from '../planning/preflight.js';
import { type OpenPlan, PlanError } from '../planning/planner.js';
import type { PlanSnapshot } from '../planning/tasks.js';
import { findProject } from '../projects.js';
import { findRevision, planContext } from '../revisions.js';
import { findSet, setFileOf } from '../sets.js';
import { contentOf } from '../setText.js';
import { autoExposeView, keptThumbnail, renderThumbnail, STRIP_WIDTH, THUMBNAIL_WIDTHS } from '../previews/thumbnails.js';
import { isKnown } from './caching.js';
import { abortOnClose, idOf, parse } from './params.js';
import { sendPlan } from './sendPlan.js';

/** Content of a set on a model, as addresses of small frames carry it. */
const stampOf = (setText: string, hash: string): string => `${contentOf(setText)}-${hash.slice(0, 16)}`;

/** The set of an address, on the revision that its query names. */
async function plannedOn({ params, query }: Request<{ id: string }>) {
  const set = await findSet(idOf(params.id, 'set'));
  return { set, file: setFileOf(set), project: await findProject(set.projectId), revision: await findRevision(idOf(query.revision, 'revision')) };
}

/** Uses an opened plan. Throws ServerError 'unusable' where it cannot be planned. */
async function withPlan(context: ServerContext, snapshot: PlanSnapshot, use: (plan: OpenPlan) => Promise<void>): Promise<void> {
  try {
    await use(await context.planner.open(JSON.stringify(snapshot)));
  } catch (e) {
    throw e instanceof PlanError ? new ServerError('unusable', e.message) : e;
  }
}

/** Routes of plans and their checks. */
export function planRoutes(api: Router, context: ServerContext): void {
  const { store } = context;

  api.get('/sets/:id/exposure', async (request, response) => {
    const { set, project, revision } = await plannedOn(request);
    const text = (name: string): string | undefined => (typeof request.query[name] === 'string' ? request.query[name] : undefined);
    response.json({ exposure: await autoExposeView(context, project, set, revision, text('view') ?? '', text('stage')) } satisfies MeterReply);
  });
  /** The frames that the set would have on a revision now, as `easel plan --json` prints them. */
  api.get('/sets/:id/plan.json', async (request, response) => {
    const { file, project, revision } = await plannedOn(request);
    await withPlan(context, { set: file, context: planContext(project, revision) }, (plan) => sendPlan(response, plan, frameSummary));
  });
  /** The same plan as a list, timeline or cameras for other programs, as `easel export` writes them. */
  api.get('/sets/:id/lists/:list', async (request, response) => {
    const list = PLAN_LISTS[request.params.list as PlanList] as (typeof PLAN_LISTS)[PlanList] | undefined;
    if (!list || !Object.hasOwn(PLAN_LISTS, request.params.list))
      throw new ServerError('not-found', `There is no list "${request.params.list}"; there is ${Object.keys(PLAN_LISTS).join(', ')}.`);
    const { file, project, revision } = await plannedOn(request);
    await withPlan(context, { set: file, context: planContext(project, revision) }, async (plan) => {
      const text = list.make(file, await plan.frames(0, plan.total));
      response
        .attachment(`${slugify(file.name)}.${request.params.list}`)
        .type(list.type)
        .send(text);
    });
  });
  /** What is to be said of the set on a revision before it runs. */
  api.get('/sets/:id/preflight', async (request, response) => {
    const { set, project, revision, file: own } = await plannedOn(request);
    const asked = typeof request.query.select === 'string' ? request.query.select : undefined;
    const variant = typeof request.query.variant === 'string' ? request.query.variant : undefined;
    const file = inVariant(own, variant);
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
    const { file, project, revision } = await plannedOn(request);
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
