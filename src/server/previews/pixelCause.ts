/** From a pixel of a frame back to its cause: traced again, small, with all that can be told of it. */
import type { PixelReply } from '../../contract/pixel.js';
import { type Frame, withFrame } from '../../core/frame/frame.js';
import { lookedAt } from '../../core/planning/previewFrame.js';
import { type SetFile, stageOf } from '../../core/plan/set.js';
import { shotIdOfOutput } from '../../core/frame/frame.js';
import { lightNames } from '../../core/stage/lightNames.js';
import { lightShares } from '../../engine/queries/lightShares.js';
import { pixelContent } from '../../engine/queries/pixelContent.js';
import { resolveScene } from '../../engine/scene/resolveScene.js';
import type { ServerContext } from '../context.js';
import { PRIORITY } from '../priorities.js';

/** Pixels across the longer side of what is traced: as fine as a person clicks. */
const LONG_SIDE = 640;
const SAMPLES = 64;

/** Names of what no light of the stage is. */
const OTHERS = { surroundings: 'Surroundings', model: "The model's own light" };

/**
 * @param set of which the frame was planned. @param hash of the model's content. @param at shares of the frame's width and height.
 * Rejects with AbortedError where the signal stops it.
 */
export async function pixelCause(
  { pool, store }: ServerContext,
  frame: Frame,
  set: SetFile,
  hash: string,
  at: { x: number; y: number },
  signal: AbortSignal,
): Promise<PixelReply> {
  const seen = lookedAt(frame, LONG_SIDE, SAMPLES);
  const small = withFrame(seen, { sampling: { ...seen.sampling, denoise: false } });
  const { width, height } = small.size;
  const [x, y] = [Math.min(width - 1, Math.floor(at.x * width)), Math.min(height - 1, Math.floor(at.y * height))];
  const { key, load } = resolveScene(small, store.source(hash));
  const scene = await load();
  const options = { priority: PRIORITY.pixel, signal };
  const picture = await pool.render(key, () => scene, small, { ...options, region: { x, y, width: 1, height: 1 } });
  const content = pixelContent(picture, scene, x, y);
  picture.release();
  const shares = content.part === null && content.material === null ? [] : await lightShares(pool, { key, load: () => scene }, small, x, y, options);
  const names = lightNames(small.stage, stageOf(set, set.shots.find((s) => s.id === shotIdOfOutput(frame.shot))?.stage));
  const view = set.views.find((v) => v.id === frame.view);
  return {
    ...content,
    view: { id: frame.view, name: view?.name ?? frame.view },
    lights: shares.map(({ light, share }) => ({ share, ...(typeof light === 'number' ? names[light]! : { name: OTHERS[light] }) })),
  };
}
