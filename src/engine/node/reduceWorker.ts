/** Entry of a thread that makes the lighter form of one model while its scene is being built; bundled to dist/reduce-worker.mjs. */
import { parentPort, workerData } from 'node:worker_threads';
import { type Model } from '../../core/model/model.js';
import { lighterGlb } from '../prepare.js';

const light = await lighterGlb(workerData as Model);
parentPort!.postMessage(light, light ? [light.glb.buffer as ArrayBuffer] : []);
