/** What the page and its studio worker say to each other. */
import type { Grade } from '../../core/image/grade.js';
import type { Frame } from '../../core/frame/frame.js';

export interface Region {
  x: number;
  y: number;
  width: number;
  height: number;
}

export type ToPreviewHost =
  | { type: 'show'; id: number; hash: string; frame: Frame; region: Region | null }
  | { type: 'grade'; grade: Grade }
  | { type: 'pause' }
  | { type: 'pick'; x: number; y: number };

export interface Picked {
  part: string | null;
  material: string | null;
  /** Metres from the eye, along the line of sight. */
  distance: number | null;
  /** Metres in the model. */
  place: [number, number, number] | null;
  /** Linear Rec. 709. */
  colour: [number, number, number];
}

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
  | { type: 'picked'; picked: Picked }
  | { type: 'fault'; message: string };
