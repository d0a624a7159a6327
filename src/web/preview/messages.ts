/** What the page and its studio worker say to each other. */
import type { Grade } from '../../core/image/grade.js';
import type { LightShare, PixelContent } from '../../core/image/pixelContent.js';
import type { Frame } from '../../core/frame/frame.js';

/** Pixels of a frame, from the top left. */
export interface Region {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** All that the page says. */
export type ToPreviewHost =
  | { type: 'show'; id: number; hash: string; frame: Frame; region: Region | null }
  | { type: 'grade'; grade: Grade }
  | { type: 'pause' }
  | { type: 'pick'; x: number; y: number };

/** What stands in the pixel that was clicked. */
export interface PickedPixel {
  /** Column and row, from the top left. */
  at: readonly [number, number];
  content: PixelContent;
  /** What lights it; absent in a first answer, while that is being found out. */
  lights?: LightShare[];
}

/** All that the worker says. */
export type FromPreviewHost =
  | {
      type: 'picture';
      id: number;
      width: number;
      height: number;
      pixels: Uint8ClampedArray<ArrayBuffer>;
      samples: number;
      seconds: number;
      whole: boolean;
    }
  | { type: 'picked'; pixel: PickedPixel }
  | { type: 'fault'; message: string };
