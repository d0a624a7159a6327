/** Small frames of a plan, drawn by the kernel on demand and kept by frame identity. */
import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import { PIXEL_COVERAGE } from '../../../kernel/layout.js';
import { applyGrade, autoExposure, NEUTRAL_GRADE } from '../../core/image/grade.js';
import { withFrame, type Frame } from '../../core/frame/frame.js';
import { subjectBounds, planFrames } from '../../core/planning/planFrames.js';
import { hashOf } from '../../core/base/hash.js';
import type { SetFile } from '../../core/plan/set.js';
import type { StagePreset } from '../../core/stage/stage.js';
import { withPlinth } from '../../core/model/modelTransform.js';
import { defaultView } from '../../core/camera/defaultView.js';
import { type DrawingKind, orthographicView } from '../../core/camera/orthographic.js';
import { writeFileAtomic } from '../../engine/node/files.js';
import { resolveScene } from '../../engine/scene/resolveScene.js';
import type { ServerContext } from '../context.js';
import type { PlanSet, Project, Revision } from '../db/models.js';
import { ServerError } from '../errors.js';
import { digestOfRevision, planContext } from '../revisions.js';
import { setFileOf } from '../sets.js';
import { PRIORITY } from '../priorities.js';

/** Samples a pixel of the frame that exposure is measured on. */
const METERING_SAMPLES = 12;
/** Pixels across of thumbnails in a strip, and of what stands in for a larger one until that is drawn. */
export const STRIP_WIDTH = 96;
/** Pixels across that thumbnails can be asked for in. */
export const THUMBNAIL_WIDTHS = [STRIP_WIDTH, 320, 640];

/** The frame at reduced size and sampling, of the same proportions. */
function reducedTile(frame: Frame, width: number, samples: number): Frame {
  const aspect = (frame.size.width * frame.pixelAspect) / frame.size.height;
  const w = aspect >= 1 ? width : Math.max(16, Math.round(width * aspect));
  const size = { width: w, height: Math.max(16, Math.round(w / aspect)) };
  return withFrame(frame, {
    size,
    pixelAspect: 1,
    sampling: { ...frame.sampling, samples, bounces: 3, denoise: true },
  });
}

function viewInIsolation(file: SetFile, revision: Revision, { view: id, stage, further }: ViewWanted): SetFile {
  const { size, pixelAspect } = file.sheet;
  const view =
    id === '' ? defaultView(subjectBounds(file, digestOfRevision(revision).bounds), size, pixelAspect) : file.views.find((v) => v.id === id);
  if (!view) throw new ServerError('not-found', `There is no view "${id}" in this set.`);
  // A stage preset is shown by its own light.
  const stages = stage
    ? { ...file.stage, preset: stage, environment: undefined, daylight: undefined, backdrop: undefined, backdropImage: undefined }
    : file.stage;
  if (further !== undefined && !file.stages?.some((s) => s.id === further))
    throw new ServerError('not-found', `There is no stage "${further}" in this set.`);
  const seen = further === undefined ? view : { ...view, overrides: { ...view.overrides, stage: further } };
  return { ...file, stage: stages, views: [seen], shots: [{ id: 'view', kind: 'still', views: [view.id] }] };
}

interface ThumbnailJob {
  picture: Promise<Buffer>;
  /** How many wait for it; when the last goes away it is not drawn to its end. */
  wanted: number;
  stop: AbortController;
}

const pendingThumbnails = new Map<string, ThumbnailJob>();

interface ViewWanted {
  view: string;
  /** Shown by this stage preset's own light. */
  stage?: StagePreset;
  /** Id of one of the set's further stages. */
  further?: string;
}

type Wanted = { shot: string; index: number } | ViewWanted | Drawing;

/** A drawing to scale: the plan, cut at a height where that is wanted, or the elevation from the front. */
export interface Drawing {
  drawing: DrawingKind;
  cut?: number;
}

function drawingInIsolation(file: SetFile, revision: Revision, { drawing, cut }: Drawing): SetFile {
  const bounds = withPlinth(file.transform, subjectBounds(file, digestOfRevision(revision).bounds));
  const view = orthographicView(drawing, bounds);
  const sheet = { ...file.sheet, size: { width: 512, height: 512 }, pixelAspect: 1 };
  const section: SetFile['section'] = cut === undefined ? undefined : { planes: [{ normal: [0, 1, 0], offset: cut }], cap: '#15202a' };
  // Drawn in an even light of its own, whatever lights the set.
  const stage: SetFile['stage'] = { preset: 'overcast court', backdrop: '#ffffff', ground: { kind: 'none' }, modelLights: false };
  return { ...file, sheet, section, stage, grade: NEUTRAL_GRADE, views: [view], shots: [{ id: 'view', kind: 'still', views: [view.id] }] };
}

/** Throws 404 and 422. */
function thumbnailFrame(project: Project, set: PlanSet, revision: Revision, what: Wanted, width: number, samples: number): Frame {
  const file = setFileOf(set);
  const wanted =
    'drawing' in what
      ? drawingInIsolation(file, revision, what)
      : 'view' in what
        ? viewInIsolation(file, revision, what)
        : { ...file, shots: file.shots.filter((s) => s.id === what.shot) };
  let frame: Frame | undefined;
  try {
    frame = planFrames(wanted, planContext(project, revision))['index' in what ? what.index : 0];
  } catch (e) {
    throw new ServerError('unusable', (e as Error).message);
  }
  if (!frame) throw new ServerError('not-found', 'There is no such frame in this plan.');
  // One in a strip is shown at half its size, and a drawing has even light: half of the samples are enough for both.
  const half = width <= STRIP_WIDTH || 'drawing' in what;
  return reducedTile(frame, width, half ? Math.ceil(samples / 2) : samples);
}

/** Stops that suit a view of the set on its stage, or on one of the further ones, measured on a small frame. Throws 404 and 422. */
export async function autoExposeView(
  { pool, store }: ServerContext,
  project: Project,
  set: PlanSet,
  revision: Revision,
  view: string,
  further?: string,
): Promise<number> {
  const planned = thumbnailFrame(project, set, revision, { view, ...(further !== undefined && { further }) }, THUMBNAIL_WIDTHS[1]!, METERING_SAMPLES);
  // A backdrop that comes out as it is would follow the exposure that is to be judged.
  const frame = { ...planned, grade: NEUTRAL_GRADE };
  const { key, load } = resolveScene(frame, store.source(revision.hash));
  const picture = await pool.render(key, load, frame, { priority: PRIORITY.thumbnail });
  const { sums, stride } = picture;
  // What is judged is the subject; the backdrop counts where it is all there is.
  const covers = (i: number): boolean => sums[i * stride + PIXEL_COVERAGE]! > 0;
  const some = sums.some((_, i) => i % stride === PIXEL_COVERAGE && sums[i]! > 0);
  const exposure = autoExposure(picture.colour, some ? covers : undefined);
  picture.release();
  return exposure;
}

/** A thumbnail as it is to be drawn, the key that it is kept by, and its file. Throws 404 and 422. */
function thumbnailOf(
  { config, store }: ServerContext,
  project: Project,
  set: PlanSet,
  revision: Revision,
  what: Wanted,
  width: number,
): { frame: Frame; key: string; target: string } {
  const small = thumbnailFrame(project, set, revision, what, width, config.thumbnailSamples);
  // What makes these pixels is the reduced frame; name and number are not part of it.
  const key = hashOf({
    camera: small.camera,
    turn: small.turn,
    section: small.section,
    materials: small.materials?.id,
    place: small.transform,
    stage: small.stage,
    size: small.size,
    sampling: small.sampling,
    grade: small.grade,
    scene: revision.hash,
  });
  return { frame: { ...small, seed: parseInt(key.slice(0, 8), 16) }, key, target: store.thumbnail(key, width) };
}

/**
 * WebP of frame `index` of a shot; or of a view, in another stage preset where that is asked for. The
 * empty name is the view that a person starts from. Throws 404 and 422.
 */
export async function renderThumbnail(
  context: ServerContext,
  project: Project,
  set: PlanSet,
  revision: Revision,
  what: Wanted,
  width: number,
  gone?: AbortSignal,
): Promise<Buffer> {
  const { frame, key, target } = thumbnailOf(context, project, set, revision, what, width);
  if (await context.store.exists(target)) return readFile(target);
  let making = pendingThumbnails.get(key);
  if (!making) {
    const stop = new AbortController();
    const forget = (): void => void (pendingThumbnails.get(key)?.stop === stop && pendingThumbnails.delete(key));
    const priority = frame.size.width <= STRIP_WIDTH ? PRIORITY.strip : 'drawing' in what ? PRIORITY.drawing : PRIORITY.thumbnail;
    const picture = draw(context, revision.hash, frame, target, { priority, signal: stop.signal }).finally(forget);
    making = { picture, wanted: 0, stop };
    pendingThumbnails.set(key, making);
  }
  const { picture, stop } = making;
  making.wanted++;
  const leave = (): void => {
    if (--making.wanted > 0) return;
    // Whoever asks from now on begins anew.
    if (pendingThumbnails.get(key) === making) pendingThumbnails.delete(key);
    stop.abort();
  };
  gone?.addEventListener('abort', leave, { once: true });
  if (gone?.aborted) leave();
  return picture;
}

/** WebP of {@link renderThumbnail} where it has been drawn already. Throws 404 and 422. */
export async function keptThumbnail(...what: Parameters<typeof thumbnailOf>): Promise<Buffer | undefined> {
  const { target } = thumbnailOf(...what);
  return (await what[0].store.exists(target)) ? readFile(target) : undefined;
}

async function draw(
  { pool, store }: ServerContext,
  hash: string,
  frame: Frame,
  target: string,
  options: { priority: number; signal: AbortSignal },
): Promise<Buffer> {
  const { key, load } = resolveScene(frame, store.source(hash));
  const picture = await pool.render(key, load, frame, options);
  const display = new Float32Array(picture.colour.length);
  const { width, height } = picture;
  applyGrade(picture.colour, display, frame.grade, { width, height });
  picture.release();
  const bytes = await sharp(
    Uint8Array.from(display, (v) => Math.round(v * 255)),
    { raw: { width, height, channels: 3 } },
  )
    .webp({ quality: 86 })
    .toBuffer();
  await writeFileAtomic(target, bytes);
  return bytes;
}
