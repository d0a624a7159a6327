/** How a picture that is too large for memory is cut into strips of rows. */
import * as L from '../../../kernel/layout.js';
import type { Frame } from '../../core/frame/frame.js';
import { MAX_WHOLE_PIXELS } from '../../core/frame/settings.js';
import { filmLayout } from '../upload/filmLayout.js';
import { MAX_TILE } from '../upload/tileMemory.js';

/** Pixels of a strip, where there is memory for it. */
const STRIP_PIXELS = 2 ** 21;
/** Share of the memory that strips in work may have; the rest is for the picture. */
const STRIPS_SHARE = 0.25;
/** Bytes a pixel beside the film: the picture, the denoiser's planes, and what makes the files. */
const OTHER_BYTES = 12 + 96 + 40;
/** Strips that are in work at a time, so that no worker waits at the end of one. */
export const STRIPS_AT_ONCE = 2;
/** What makes files of a picture in strips holds its linear planes, and the values of one file. */
const FILE_BYTES = 12;

/** Rows of a frame: the first one, and how many. */
export interface Strip {
  top: number;
  height: number;
}

/** Rows above and below a strip that what the denoiser makes of it depends on: the reach of its levels, of smoothing and of mending. */
export const DEVELOP_MARGIN = Math.ceil((2 ** Math.max(L.DENOISE_LEVELS, L.DENOISE_LEVELS_QUICK) + 2) / MAX_TILE) * MAX_TILE;

/** Pixels of a strip of a frame. @param budget bytes that frames in work may have. */
export function stripPixels({ passes }: Pick<Frame, 'passes'>, budget: number): number {
  return Math.min(STRIP_PIXELS, Math.floor((STRIPS_SHARE * budget) / STRIPS_AT_ONCE / (4 * filmLayout({ passes }).stride + OTHER_BYTES)));
}

/** The strips of a picture, from the top. @param pixels of a strip, about; rows are whole tiles. */
export function stripsOf({ width, height }: Frame['size'], pixels = STRIP_PIXELS): Strip[] {
  const rows = Math.max(1, Math.floor(pixels / width / MAX_TILE)) * MAX_TILE;
  return Array.from({ length: Math.ceil(height / rows) }, (_, i) => ({ top: i * rows, height: Math.min(rows, height - i * rows) }));
}

/** Floats a pixel of all passes that are kept of a picture in strips. */
export function planeFloats({ passes }: Pick<Frame, 'passes'>): number {
  return passes.reduce((n, id) => n + PASS_FLOATS(id), 0);
}
const PASS_FLOATS = (id: Frame['passes'][number]): number =>
  id === 'parts' || id === 'materials' ? L.MATTE_PAIRS * 2 : ['depth', 'occlusion', 'shadow', 'alpha', 'lines'].includes(id) ? 1 : 3;

/** Bytes that a frame holds while it is traced, denoised and written in one piece. */
export function bytesInOnePiece({ size, passes }: Pick<Frame, 'size' | 'passes'>): number {
  return size.width * size.height * (4 * filmLayout({ passes }).stride + OTHER_BYTES);
}

/** Bytes that it holds in strips. */
export function bytesInStrips(frame: Pick<Frame, 'size' | 'passes'>): number {
  const strip = Math.min(frame.size.width * frame.size.height, STRIP_PIXELS * 1.25);
  return (
    STRIPS_AT_ONCE * strip * (4 * filmLayout(frame).stride + OTHER_BYTES) +
    frame.size.width * frame.size.height * (4 * planeFloats(frame) + FILE_BYTES)
  );
}

/** Whether a frame is rendered in strips. @param budget bytes that frames in work may have. */
export function needsStrips(frame: Pick<Frame, 'size' | 'passes'>, budget: number): boolean {
  return frame.size.width * frame.size.height > MAX_WHOLE_PIXELS || bytesInOnePiece(frame) > budget;
}

/** Bytes of the film that such a frame has on the disk while it is rendered. */
export function filmBytes({ size, passes }: Pick<Frame, 'size' | 'passes'>): number {
  return size.width * size.height * 4 * filmLayout({ passes }).stride;
}
