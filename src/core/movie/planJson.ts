/** A plan as JSON for other programs: every frame with its camera, turn, sun and section. */
import type { Frame } from '../frame/frame.js';

/** What of a frame other programs need; lengths in metres, angles in degrees, matrices by columns. */
export function frameSummary({ shot, index, number, name, time, size, camera, turn, sun, section, identity }: Frame): object {
  const { eye, target, viewMatrix, projectionMatrix } = camera;
  return {
    shot,
    index,
    number,
    name,
    time,
    size,
    identity,
    camera: { eye, target, viewMatrix, projectionMatrix },
    ...(turn && { turn }),
    ...(sun && { sun }),
    ...(section && { section }),
  };
}

/** The frames of a plan as a JSON text. */
export const planJson = (frames: readonly Frame[]): string => `${JSON.stringify({ frames: frames.map(frameSummary) }, null, 1)}\n`;
