/** Entry of a thread that makes files of traced pictures; bundled to dist/output-worker.mjs. */
import { parentPort } from 'node:worker_threads';
import { decodeCheckpoint } from '../sampling/checkpoint.js';
import { encodeFrame, InvalidRenderError } from '../output/encodeFrame.js';
import { type EncodeReply, type EncodeRequest, withChecksums } from './outputWorkers.js';

const port = parentPort!;
const buffersOf = (list: (Uint8Array | undefined)[]): ArrayBuffer[] => [...new Set(list.flatMap((b) => (b ? [b.buffer as ArrayBuffer] : [])))];

port.on('message', (request: EncodeRequest) => {
  const answer = async (): Promise<void> => {
    if ('film' in request) {
      const film = decodeCheckpoint(request.film);
      port.postMessage({ id: request.id, film } satisfies EncodeReply, film ? [film.sums.buffer as ArrayBuffer] : []);
      return;
    }
    const { files, film, noise } = withChecksums(await encodeFrame(request.task));
    // Copied out of what the encoders share among their results, so that it can be handed over.
    const own = files.map(({ name, bytes, sha256 }) => ({ name, sha256, bytes: new Uint8Array(bytes) }));
    port.postMessage(
      { id: request.id, files: own, ...(film && { checkpoint: film }), ...(noise !== undefined && { noise }) } satisfies EncodeReply,
      buffersOf([...own.map((f) => f.bytes), film]),
    );
  };
  answer().catch((e: unknown) => {
    port.postMessage({ id: request.id, fault: (e as Error).message, picture: e instanceof InvalidRenderError } satisfies EncodeReply);
  });
});
