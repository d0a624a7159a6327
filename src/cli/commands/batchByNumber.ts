/** Finds the batch that a command names. */
import type { BatchReply } from '../../contract/batches.js';
import { type Command, InputError } from '../command.js';
import { callServer, type ServerOption } from '../serverCalls.js';

/** The argument of commands of one batch. */
export const BATCH_NUMBER: Command['argument'] = ['number', 'number of the batch'];

/** The batch of a number. Throws InputError where there is none. */
export async function batchByNumber(text: string, options: ServerOption): Promise<BatchReply> {
  const batches = await callServer(options, 'GET /batches');
  const batch = batches.find((b) => String(b.number) === text);
  if (!batch) throw new InputError(`There is no batch ${text}; "easel batch list" tells which there are.`);
  return batch;
}
