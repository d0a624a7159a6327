/** One frame as a batch would render it, at full or reduced size, to be looked at and thrown away. */
import { type Frame, withFrame } from '../../core/frame/frame.js';
import type { ServerContext } from '../context.js';
import { PRIORITY } from '../priorities.js';

/** A test frame, and what it took. */
export interface TestFrame {
  /** PNG as it is displayed. */
  bytes: Buffer;
  width: number;
  height: number;
  /** Worker seconds divided by the number of workers. */
  seconds: number;
  samples: number;
}

/**
 * @param scale of its width and height. @param hash of the model's content.
 * Rejects with AbortedError where the signal stops it, and with InvalidRenderError where it is black, empty or not a number.
 */
export async function renderTestFrame(
  { executor, store }: ServerContext,
  frame: Frame,
  hash: string,
  scale: number,
  signal: AbortSignal,
  onProgress: (share: number) => void,
): Promise<TestFrame> {
  const size = { width: Math.max(16, Math.round(frame.size.width * scale)), height: Math.max(16, Math.round(frame.size.height * scale)) };
  // Only what a person sees of it: the file as a screen takes it, and no further passes.
  const shown = withFrame(frame, { size, passes: ['beauty'], passNames: [frame.name], files: [{ type: 'png', bits: 8, quality: 100 }] });
  const { files, seconds, samples } = await executor.render(shown, store.source(hash), { priority: PRIORITY.testFrame, signal, onProgress });
  return { bytes: files[0]!.bytes, ...size, seconds, samples };
}
