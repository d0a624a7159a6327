/** Entry of a thread that writes one plan as GLB and ends; bundled to dist/plan-worker.mjs. */
import { readFileSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';
import { planFrames } from '../../core/planning/planFrames.js';
import { decodeTexture } from '../../formats/image/texture.js';
import { exportPlanGlb } from '../output/planGlb.js';
import type { PlanTask } from './writePlan.js';

const { set, context, model, pictures } = workerData as PlanTask;
const port = parentPort!;

try {
  const load = async (file: string) => {
    const at = pictures[file];
    if (at === undefined) throw new Error(`The texture "${file}" is not here; import it with its material in the Model step.`);
    return decodeTexture(file, new Uint8Array(readFileSync(at)));
  };
  const bytes = await exportPlanGlb(set, new Uint8Array(readFileSync(model)), planFrames(set, context), load);
  port.postMessage({ bytes });
} catch (e) {
  port.postMessage({ fault: (e as Error).message });
}
