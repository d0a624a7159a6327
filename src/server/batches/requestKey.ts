/**
 * Starts that are sent again under the same key, since their reply was lost, are one batch (the header Idempotency-Key of
 * the IETF's draft-ietf-httpapi-idempotency-key-header). The key stands in the batch's own row, so that no crash parts them.
 */
import { literal } from 'sequelize';
import { hashOf } from '../../core/base/hash.js';
import { Batch } from '../db/models.js';
import { ServerError } from '../errors.js';

/** Tells a request that is sent again from a new one. */
export interface RequestKey {
  key: string;
  /** Of the route and what was sent. */
  hash: string;
}

/** The draft takes any string; these are enough for identifiers of all kinds. */
const KEY = /^[\x21-\x7e]{1,200}$/;

/** The key of a request, or null where it has none. Throws ServerError 'invalid-input'. @param sent route and body. */
export function readRequestKey(header: string | undefined, sent: object): RequestKey | null {
  if (header === undefined) return null;
  if (!KEY.test(header)) throw new ServerError('invalid-input', 'Idempotency-Key: use 1 to 200 letters, digits and signs without spaces.');
  return { key: header, hash: hashOf(sent) };
}

/** The batch that was started under a key, or null. Throws ServerError 'unusable' where it was for something else. */
async function batchOfRequest({ key, hash }: RequestKey): Promise<Batch | null> {
  const batch = await Batch.findOne({ where: literal(`json_extract(request, '$.key') = ${Batch.sequelize!.escape(key)}`) });
  if (batch && (JSON.parse(batch.request!) as RequestKey).hash !== hash)
    throw new ServerError(
      'unusable',
      `Idempotency-Key "${key}" was sent with another request: batch ${batch.number}. Use a new key for a new batch.`,
    );
  return batch;
}

/** Keys whose batch is being started. */
const running = new Set<string>();

/** Runs a start, alone under its key. Throws ServerError 'conflict' where one is on its way already. */
export async function startOnce(request: RequestKey | null, start: () => Promise<Batch>): Promise<{ batch: Batch; isNew: boolean }> {
  if (!request) return { batch: await start(), isNew: true };
  if (running.has(request.key))
    throw new ServerError('conflict', `A start under the Idempotency-Key "${request.key}" is on its way. Ask again in a moment.`);
  running.add(request.key);
  try {
    const known = await batchOfRequest(request);
    return known ? { batch: known, isNew: false } : { batch: await start(), isNew: true };
  } finally {
    running.delete(request.key);
  }
}
