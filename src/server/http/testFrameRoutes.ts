/** Route of a test frame: one frame of the set as it is now, rendered at once. */
import type { Router } from 'express';
import { testFrameQuery } from '../../contract/testFrame.js';
import { InvalidRenderError } from '../../engine/output/renderFrame.js';
import { AbortedError } from '../../engine/scheduler/job.js';
import type { ServerContext } from '../context.js';
import { ServerError } from '../errors.js';
import { plannedFrame } from '../previews/plannedFrame.js';
import { renderTestFrame } from '../previews/testFrame.js';
import { findProject } from '../projects.js';
import { findRevision } from '../revisions.js';
import { findSet, setFileOf } from '../sets.js';
import { abortOnClose, idOf, parse } from './params.js';

/** Routes of test frames. */
export function testFrameRoutes(api: Router, context: ServerContext): void {
  api.get('/sets/:id/test-frame.png', async (request, response) => {
    const { revision: id, run, number, scale, token } = parse(testFrameQuery, request.query);
    const set = await findSet(idOf(request.params.id, 'set'));
    const project = await findProject(set.projectId);
    const revision = await findRevision(id);
    const frame = plannedFrame(setFileOf(set), project, revision, run, number);
    const gone = abortOnClose(response);
    try {
      const { bytes, seconds, samples } = await renderTestFrame(context, frame, revision.hash, scale, gone, (share) =>
        context.events.send(project.id, { type: 'testFrame', token, share }),
      );
      response.type('image/png').set({ 'cache-control': 'no-store', 'x-render-seconds': seconds.toFixed(2), 'x-render-samples': String(samples) });
      response.send(bytes);
    } catch (e) {
      if (e instanceof AbortedError && gone.aborted) return;
      throw e instanceof InvalidRenderError ? new ServerError('unusable', e.message) : e;
    }
  });
}
