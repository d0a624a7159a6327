/** Plans as JSON, for other programs. */
import type { Response } from 'express';
import type { Frame } from '../../core/frame/frame.js';
import type { OpenPlan } from '../planning/planner.js';

const FRAMES_PER_PAGE = 500;

/** Answers `{ frames: [...] }`, each frame as `show` has it; in pages, so that a hundred thousand frames do not hold up the rest. */
export async function sendPlan(response: Response, plan: OpenPlan, show: (frame: Frame) => object): Promise<void> {
  response.type('application/json').write('{"frames":[');
  for (let from = 0; from < plan.total && !response.destroyed; from += FRAMES_PER_PAGE) {
    const frames = await plan.frames(from, from + FRAMES_PER_PAGE);
    response.write(`${from === 0 ? '' : ','}${frames.map((f) => JSON.stringify(show(f))).join(',')}`);
  }
  response.end(']}');
}
