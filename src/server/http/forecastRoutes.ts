/** Routes of what sets and batches are foreseen to cost. */
import type { Router } from 'express';
import { choicePictureQuery, forecastQuery, type ForecastReply } from '../../contract/forecast.js';
import { forecastPlan } from '../../core/forecast/forecast.js';
import { choicesFor } from '../../core/forecast/choices.js';
import { AbortedError } from '../../engine/scheduler/job.js';
import { type FrameState, frameStates, withoutWords } from '../batches/frameStates.js';
import { freeBytes } from '../batches/diskRoom.js';
import { findBatch } from '../batches/repository.js';
import type { Foreseen } from '../forecast/forecastCache.js';
import { foresee } from '../forecast/foresee.js';
import type { ServerContext } from '../context.js';
import { CheckStopped } from '../planning/preflight.js';
import { choicePicture } from '../previews/choicePicture.js';
import { plannedFrame } from '../previews/plannedFrame.js';
import { findProject } from '../projects.js';
import { findRevision, planContext } from '../revisions.js';
import { findSet, setFileOf } from '../sets.js';
import { contentOf } from '../setText.js';
import { abortOnClose, idOf, parse } from './params.js';

/** What of the plan is rendered in truth, where some of its frames are there already. */
function toRender({ plan, tried, learnt }: Foreseen, states: readonly FrameState[], workers: number): Pick<ForecastReply, 'toRender'> {
  const frames = plan.frames.filter((_, i) => states[i] && !states[i].equal && !states[i].developable);
  if (frames.length === plan.frames.length) return {};
  const { seconds } =
    frames.length === 0 ? { seconds: { low: 0, likely: 0, high: 0 } } : forecastPlan({ ...plan, frames }, tried, workers, learnt).forecast;
  return { toRender: { frames: frames.length, seconds } };
}

/** Routes of what a plan takes, and of ways to be done sooner. */
export function forecastRoutes(api: Router, context: ServerContext): void {
  api.get('/sets/:id/forecast', async (request, response) => {
    const { revision: id, select: asked, within } = parse(forecastQuery, request.query);
    const set = await findSet(idOf(request.params.id, 'set'));
    const project = await findProject(set.projectId);
    const revision = await findRevision(id);
    const file = setFileOf(set);
    const select = asked && (await withoutWords(context, { project, row: set, revision, set: file, choice: {} }, asked));
    const plan = { set: file, context: planContext(project, revision), ...(select !== undefined && { select }) };
    const gone = abortOnClose(response);
    try {
      const foreseen = await foresee(context, revision, plan, gone, (done, total) =>
        context.events.send(project.id, { type: 'forecast', setId: set.id, done, total }),
      );
      const states = await frameStates(context, { project, row: set, revision, set: file, choice: {}, ...(select !== undefined && { select }) });
      response.json({
        ...foreseen.forecast,
        ...toRender(foreseen, states, context.pool.workers),
        content: contentOf(set.file),
        free: await freeBytes(context.store.root),
        learntFrom: foreseen.learnt.batches,
        ...(within !== undefined && { choices: choicesFor({ set: file, workers: context.pool.workers, ...foreseen }, within) }),
      } satisfies ForecastReply);
    } catch (e) {
      // Whoever asked has gone.
      if (!(e instanceof CheckStopped || (e instanceof AbortedError && gone.aborted))) throw e;
    }
  });
  api.get('/sets/:id/choice.webp', async (request, response) => {
    const { revision: id, run, number, samples, scale, denoise } = parse(choicePictureQuery, request.query);
    const set = await findSet(idOf(request.params.id, 'set'));
    const revision = await findRevision(id);
    const frame = plannedFrame(setFileOf(set), await findProject(set.projectId), revision, run, number);
    const gone = abortOnClose(response);
    let bytes: Buffer;
    try {
      bytes = await choicePicture(context, frame, revision.hash, { samples, scale, denoise: denoise === 'true' }, gone);
    } catch (e) {
      // Whoever asked has gone.
      if (e instanceof AbortedError && gone.aborted) return;
      throw e;
    }
    response.type('image/webp').set('cache-control', 'private, max-age=600').send(bytes);
  });
  /** Worker seconds of each frame of a batch as foreseen, in its order; null where nobody foresaw them. */
  api.get('/batches/:id/forecast', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    response.json({ seconds: await context.counts.timings.foreseen(batch.id) });
  });
}
