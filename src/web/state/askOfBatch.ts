import { send } from './api.js';
import { toastProblem } from './toastProblem.js';

/** Asks the server for something of a batch, by the last part of its address; a refusal is said. */
export function askOfBatch(batch: { id: number }, what: string): void {
  send('POST', `/batches/${batch.id}/${what}`).catch((e: Error) => toastProblem(e.message));
}
