/** What stands in a pixel of a render, and what lights it. */
import type { PassId } from './passes.js';

/** What stands in a pixel of a render, in the model's own units. */
export interface PixelContent {
  /** Path of the part that covers most of it, and the name of the material; null where nothing stands. */
  part: string | null;
  material: string | null;
  /** Metres from the eye, along the line of sight. */
  distance: number | null;
  /** Metres in the model. */
  place: [number, number, number] | null;
  /** Unit vector. */
  normal: [number, number, number] | null;
  /** Linear Rec. 709. */
  colour: [number, number, number];
  /** Values of passes, a channel each; of those that were gathered. */
  passes: Partial<Record<PassId, number[]>>;
}

/** What gives a pixel its light, and how much of it. */
export interface LightShare {
  /** Index in the frame's stage, or what it is besides: all around, or what of the model shines. */
  light: number | 'surroundings' | 'model';
  /** Of the light that reaches the eye from here, 0..1. */
  share: number;
}
