/** Words burnt into a picture: what its sun is. */
import * as z from 'zod';
import type { FrameSun } from '../stage/daylight.js';

/** Corners of a frame that words can stand in. */
export const CORNERS = ['top left', 'top right', 'bottom left', 'bottom right'] as const;
/** One of {@link CORNERS}. */
export type Corner = (typeof CORNERS)[number];
/** A corner of the frame. */
export const cornerSchema = z.enum(CORNERS);

/** Words in a corner of the frame. */
export interface Legend {
  corner: Corner;
  text: string;
}

/** Date, time and altitude of a sun; its place alone, where it was put by hand. */
export function formatSunLabel(sun: FrameSun): string {
  const up = `sun ${sun.altitude.toFixed(1)}°`;
  if (sun.date === undefined) return `${up} at ${sun.azimuth.toFixed(0)}°`;
  return `${sun.date}  ${sun.time}${sun.later ? ' (second)' : ''}  ${up}`;
}
