/** Reads a model in a thread of its own, so that a reader that crashes or hangs takes nothing with it. */
import { Worker } from 'node:worker_threads';
import { ModelError, type ReadOptions, type SourceFile } from '../../formats/format.js';
import { type Prepared } from '../prepare.js';
import { type ImportTask } from './importTask.js';
import { distFile, loadKernelModule } from './assets.js';

const MOST_SECONDS = 600;
/** Of the reader's own objects; what it holds in buffers is bounded by the upload and by the triangles. */
const MOST_HEAP_MB = 6144;

type Reply =
  { type: 'progress'; share: number; what: string } | { type: 'done'; prepared: Prepared } | { type: 'fault'; model: boolean; message: string };

let spare: Worker | null = null;
let keeping = false;

function startReader(): Worker {
  return new Worker(distFile('import-worker.mjs'), { resourceLimits: { maxOldGenerationSizeMb: MOST_HEAP_MB } });
}

/** Starts a thread that waits for the next model, as a server does: its libraries take longer to read than many a model. */
export function keepReader(): void {
  keeping = true;
  if (spare) return;
  spare = startReader();
  // It holds up no process that is otherwise done, and one that dies is replaced when it is needed.
  spare.unref();
  spare.once('error', () => (spare = null));
}

/** Ends the thread that waits, as the server does when it ends. */
export async function endReader(): Promise<void> {
  keeping = false;
  await spare?.terminate();
  spare = null;
}

/** Rejects with ModelError where the files are at fault, where they take more than `most` seconds or more memory than a model may, or where `signal` stops it. */
export function importModel(
  files: SourceFile[],
  options: ReadOptions,
  onProgress: (share: number, what: string) => void = () => {},
  signal?: AbortSignal,
  most = MOST_SECONDS,
): Promise<Prepared> {
  const name = files[0]?.name ?? 'The file';
  return new Promise((resolve, reject) => {
    const worker = spare ?? startReader();
    spare = null;
    worker.ref();
    worker.postMessage({ module: loadKernelModule(), files, options } satisfies ImportTask);
    const finish = (act: () => void): void => {
      clearTimeout(timer);
      signal?.removeEventListener('abort', stop);
      void worker.terminate();
      // Not at once: whoever brought the model in wants to see it first.
      if (keeping) setTimeout(() => keeping && keepReader(), 5000).unref();
      act();
    };
    const stop = (): void => finish(() => reject(new ModelError(`Reading "${name}" was stopped. Nothing was changed.`)));
    signal?.addEventListener('abort', stop, { once: true });
    const timer = setTimeout(
      () =>
        finish(() =>
          reject(
            new ModelError(
              `"${name}" took longer than ${most < 60 ? `${most} seconds` : `${most / 60} minutes`} to read and was given up. It is damaged, or has to be reduced before exporting.`,
            ),
          ),
        ),
      most * 1000,
    );
    worker.on('message', (reply: Reply) => {
      if (reply.type === 'progress') onProgress(reply.share, reply.what);
      else if (reply.type === 'done') finish(() => resolve(reply.prepared));
      else finish(() => reject(reply.model ? new ModelError(reply.message) : new Error(reply.message)));
    });
    worker.on('error', (e: Error & { code?: string }) =>
      finish(() => {
        if (e.code === 'ERR_WORKER_OUT_OF_MEMORY')
          reject(new ModelError(`"${name}" needs more than ${MOST_HEAP_MB / 1024} GB to read and was given up. Reduce it before exporting.`));
        else
          reject(new ModelError(`"${name}" could not be read: ${e.message.replace(/\.?$/, '.')} The file is damaged or too large; export it again.`));
      }),
    );
  });
}
