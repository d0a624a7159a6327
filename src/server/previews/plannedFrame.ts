/** One frame of a set as it is planned now. */
import type { Frame } from '../../core/frame/frame.js';
import type { SetFile } from '../../core/plan/set.js';
import { planFrames } from '../../core/planning/planFrames.js';
import type { Project, Revision } from '../db/models.js';
import { notFound, ServerError } from '../errors.js';
import { planContext } from '../revisions.js';

/** By its run (Frame.shot) and number. Throws ServerError where the set cannot be planned, or has no such frame. */
export function plannedFrame(set: SetFile, project: Project, revision: Revision, run: string, number: number): Frame {
  let frames: Frame[];
  try {
    frames = planFrames(set, planContext(project, revision));
  } catch (e) {
    throw new ServerError('unusable', (e as Error).message);
  }
  const frame = frames.find((f) => f.shot === run && f.number === number);
  if (!frame) throw notFound(`Frame ${number} of "${run}"`);
  return frame;
}
