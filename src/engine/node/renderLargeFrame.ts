/** A frame that is too large for memory, from trace to encoded files. */
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Frame } from '../../core/frame/frame.js';
import { type EncodedFrame, encodeFrame, type EncodeTask } from '../output/encodeFrame.js';
import { namesFor, type RenderedFrame } from '../output/renderFrame.js';
import type { AssetProvider } from '../scene/resolveScene.js';
import type { Pool } from '../scheduler/pool.js';
import { stripPixels } from '../sampling/strips.js';
import { framesBudget } from './memoryBudget.js';
import { renderInStrips, type StripControl } from './renderInStrips.js';

/** As renderFrame, in strips. @param control where its film lies meanwhile: in a temporary folder where none is named. */
export async function renderLargeFrame<Encoded extends EncodedFrame = EncodedFrame>(
  pool: Pool,
  from: AssetProvider,
  frame: Frame,
  { folder, ...control }: Omit<StripControl, 'folder'> & { folder?: string },
  finish: (task: EncodeTask) => Promise<Encoded> = encodeFrame as (task: EncodeTask) => Promise<Encoded>,
): Promise<RenderedFrame<Encoded>> {
  const temporary = folder === undefined ? await mkdtemp(path.join(tmpdir(), 'easel-strips-')) : null;
  const { seconds, planes, met, errors } = await renderInStrips(pool, from, frame, {
    pixels: stripPixels(frame, framesBudget()),
    ...control,
    folder: folder ?? temporary!,
  }).finally(() => temporary && rm(temporary, { recursive: true, force: true }));
  const finished = await finish({ frame, traced: { ...frame.size, planes, met, errors }, names: await namesFor(frame, from) });
  return { ...finished, seconds, samples: frame.sampling.samples, ended: 'samples' };
}
