/** The middle of a frame, pixel for pixel, as a choice of the forecast would render it. */
import sharp from 'sharp';
import type { PictureChange } from '../../core/forecast/choices.js';
import type { Camera } from '../../core/camera/view.js';
import { type Frame, withFrame } from '../../core/frame/frame.js';
import { applyGrade } from '../../core/image/grade.js';
import { resolveScene } from '../../engine/scene/resolveScene.js';
import type { ServerContext } from '../context.js';
import { PRIORITY } from '../priorities.js';

/** What is shown of a picture, in pixels of the plan's own size. */
const CROP = { width: 240, height: 135 };

/** The camera of the middle of its picture, so many times as narrow and as low. */
function middleOf(camera: Camera, across: number, down: number): Camera {
  const p = [...camera.projectionMatrix];
  // The picture's clip coordinates are (x + p8) / p0 and (y + p9) / p5 of the picture plane.
  for (const [i, times] of [
    [0, across],
    [8, across],
    [5, down],
    [9, down],
  ] as const)
    p[i]! *= times;
  return { ...camera, projectionMatrix: p };
}

/** The middle of a frame, at the scale of its size; of a panorama, which has no middle, all of it, smaller. */
function cropped(frame: Frame, scale: number): Frame {
  const { size, camera, shutter } = frame;
  const crop = { width: Math.min(CROP.width, size.width), height: Math.min(CROP.height, size.height) };
  const small = { width: Math.max(16, Math.round(crop.width * scale)), height: Math.max(16, Math.round(crop.height * scale)) };
  if (camera.kind === 'panorama') return withFrame(frame, { size: small });
  const [across, down] = [size.width / crop.width, size.height / crop.height];
  return withFrame(frame, {
    size: small,
    camera: middleOf(camera, across, down),
    ...(shutter && { shutter: { ...shutter, camera: middleOf(shutter.camera, across, down) } }),
  });
}

/** WebP. @param hash of the model's content. Rejects with AbortedError where the signal stops it. */
export async function choicePicture(
  { pool, store }: ServerContext,
  frame: Frame,
  hash: string,
  { samples, scale, denoise }: PictureChange,
  signal: AbortSignal,
): Promise<Buffer> {
  const middle = cropped(frame, scale);
  const { sampling } = frame;
  const changed = withFrame(middle, {
    passes: ['beauty'],
    lines: undefined,
    sampling: { ...sampling, samples: Math.max(1, Math.round(sampling.samples * samples)), denoise },
  });
  const { key, load } = resolveScene(changed, store.source(hash));
  const picture = await pool.render(key, load, changed, { priority: PRIORITY.choice, signal });
  try {
    const display = new Float32Array(picture.colour.length);
    applyGrade(picture.colour, display, frame.grade);
    const raw = Uint8Array.from(display, (v) => Math.round(Math.min(1, Math.max(0, v)) * 255));
    return await sharp(raw, { raw: { ...changed.size, channels: 3 } })
      .resize({ width: Math.round(changed.size.width / scale), kernel: 'cubic' })
      .webp({ quality: 92 })
      .toBuffer();
  } finally {
    picture.release();
  }
}
