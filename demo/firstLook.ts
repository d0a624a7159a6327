/** What each demo project has to show from the beginning: a small batch with stills and a movie, rendered behind the first page. */
import type { ServerContext } from '../src/server/context.js';
import { createBatch } from '../src/server/batches/createBatch.js';
import { startClip } from '../src/server/batches/clips.js';
import { toBatchReply } from '../src/server/batches/repository.js';
import type { Runner } from '../src/server/batches/runner.js';
import { Batch, Clip, PlanSet, Project, Revision } from '../src/server/db/models.js';
import { swatchSheet } from '../src/server/previews/swatches.js';
import { renderThumbnail } from '../src/server/previews/thumbnails.js';
import { setFileOf } from '../src/server/sets.js';
import { kindOf } from '../src/core/shots/kinds.js';
import { FIRST_LOOK } from './sets.js';

const LOOK_MS = 500;
/** Pixels, as pages ask for them. */
const VIEW_WIDTH = 320;

const rest = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, LOOK_MS).unref());

/** Makes the movie of each moving shot that has none yet. */
async function makeMovies(context: ServerContext, runner: Runner, batch: Batch, set: PlanSet): Promise<void> {
  const tell = async (): Promise<void> =>
    context.events.send(batch.projectId, { type: 'batch', batch: await toBatchReply(context, batch, runner.live(batch)) });
  for (const shot of setFileOf(set).shots.filter((s) => kindOf(s).moving)) {
    if (await Clip.findOne({ where: { batchId: batch.id, shot: shot.id } })) continue;
    await startClip(context, batch, { shot: shot.id }, tell);
    await tell();
  }
}

/** What a project shows first: its first set, the latest revision, and the set's views. Null where there is nothing to show. */
export async function shownFirst({ id }: Project): Promise<{ set: PlanSet; revision: Revision; views: string[] } | null> {
  const set = await PlanSet.findOne({ where: { projectId: id, deleted: null }, order: ['id'] });
  const revision = await Revision.findOne({ where: { projectId: id, deleted: null }, order: [['id', 'DESC']] });
  return set && revision && { set, revision, views: setFileOf(set).views.map((v) => v.id) };
}

/** Draws the views of each project's first set, first those of the projects page, and the swatches, before anything takes the workers for long. */
async function drawViews(context: ServerContext): Promise<void> {
  const rest: (() => Promise<unknown>)[] = [];
  for (const project of await Project.findAll({ where: { deleted: null }, order: ['id'] })) {
    const shown = await shownFirst(project);
    if (!shown) continue;
    const { set, revision, views } = shown;
    const [cover, ...others] = views.map((view) => () => renderThumbnail(context, project, set, revision, { view }, VIEW_WIDTH));
    await cover?.();
    rest.push(...others);
  }
  for (const view of rest) await view();
  await swatchSheet(context);
}

/**
 * Renders the sets named "First look" that have no batch yet, and makes their movies. What a stop cuts off is done at the
 * next start. Ends without a word where the server closes meanwhile: nobody waits for it.
 */
export async function renderFirstLook(context: ServerContext, runner: Runner): Promise<void> {
  const sets = (await PlanSet.findAll({ where: { deleted: null }, order: ['id'] })).filter(
    (s) => (JSON.parse(s.file) as { name: string }).name === FIRST_LOOK,
  );
  if (sets.length > 0) await drawViews(context);
  const batches: { batch: Batch; set: PlanSet }[] = [];
  for (const set of sets) {
    const project = await Project.findByPk(set.projectId);
    const revision = await Revision.findOne({ where: { projectId: set.projectId }, order: [['id', 'DESC']] });
    if (!project || !revision) continue;
    const batch = (await Batch.findOne({ where: { setId: set.id } })) ?? (await createBatch(context, project, set, revision));
    runner.wake();
    batches.push({ batch, set });
  }
  for (const { batch, set } of batches) {
    while (['queued', 'running'].includes(batch.state)) {
      await rest();
      await batch.reload();
    }
    if (batch.state === 'done') await makeMovies(context, runner, batch, set);
  }
}
