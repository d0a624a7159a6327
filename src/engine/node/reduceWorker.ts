/** Entry of a thread that makes the lighter form of one model while its scene is being built; bundled to dist/reduce-worker.mjs. */
import { parentPort, workerData } from 'node:worker_threads';
import type { Model } from '../../core/model/model.js';
import { viewportLod } from '../scene/prepare.js';

const reducedModel = await viewportLod(workerData as Model);
parentPort!.postMessage(reducedModel, reducedModel ? [reducedModel.glb.buffer as ArrayBuffer] : []);
