/** Entry of a thread that makes files of traced pictures; bundled to dist/output-worker.mjs. */
import { parentPort } from 'node:worker_threads';
import { decodeCheckpoint } from '../sampling/checkpoint.js';
import { encodeFrame, InvalidRenderError } from '../output/encodeFrame.js';
import { type DevelopTask, developFromFile } from './developFromFile.js';
import { type HashedFile, withChecksums } from './hashedFiles.js';
import type { EncodeReply, EncodeRequest } from './outputWorkers.js';

const port = parentPort!;
const buffersOf = (list: (Uint8Array | undefined)[]): ArrayBuffer[] => [...new Set(list.flatMap((b) => (b ? [b.buffer as ArrayBuffer] : [])))];

/** Copied out of what the encoders share among their results, so that they can be handed over. */
const ownBytes = (files: HashedFile[]) => files.map(({ name, bytes, sha256 }) => ({ name, sha256, bytes: new Uint8Array(bytes) }));

async function develop(id: number, task: DevelopTask): Promise<void> {
  const done = await developFromFile(task);
  if (done.kind === 'files') {
    const files = ownBytes(done.files);
    port.postMessage({ id, developed: { ...done, files } } satisfies EncodeReply, buffersOf(files.map((f) => f.bytes)));
  } else
    port.postMessage({ id, developed: done } satisfies EncodeReply, done.kind === 'film' ? buffersOf([new Uint8Array(done.film.sums.buffer)]) : []);
}

port.on('message', (request: EncodeRequest) => {
  const answer = async (): Promise<void> => {
    if ('film' in request) {
      const film = decodeCheckpoint(request.film);
      port.postMessage({ id: request.id, film } satisfies EncodeReply, film ? [film.sums.buffer as ArrayBuffer] : []);
      return;
    }
    if ('develop' in request) {
      await develop(request.id, request.develop);
      return;
    }
    const { files, film, master, noise } = withChecksums(await encodeFrame(request.task));
    const own = ownBytes(files);
    port.postMessage(
      {
        id: request.id,
        files: own,
        ...(film && { checkpoint: film }),
        ...(master && { master }),
        ...(noise !== undefined && { noise }),
      } satisfies EncodeReply,
      buffersOf([...own.map((f) => f.bytes), film, master]),
    );
  };
  answer().catch((e: unknown) => {
    port.postMessage({ id: request.id, fault: (e as Error).message, picture: e instanceof InvalidRenderError } satisfies EncodeReply);
  });
});
