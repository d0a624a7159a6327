/** Reads a model in a process of its own, so that a reader that crashes, hangs or grows takes nothing with it. */
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir, totalmem } from 'node:os';
import path from 'node:path';
import { ModelError, type AskedOptions, type SourceFile } from '../../formats/format.js';
import type { ModelDigest, ModelSummary, Prepared } from '../scene/prepare.js';
import { IMPORT_FILES, type ImportDone, type ImportTask } from './importTask.js';
import { TaskEndError, TaskFault, TaskProcess } from './taskProcess.js';

const GB = 2 ** 30;
/** Seconds without progress after which a reader is given up. */
export const STALL_SECONDS = 120;
/** Memory that a reader may take, and the share of this machine's that bounds it too. */
const MAX_BYTES = 6 * GB;
const MAX_SHARE = 0.75;

/** A process that waits for the next model: its libraries take longer to read than many a model. */
let idleReader: TaskProcess<ImportTask, ImportDone> | null = null;
let keepsReader = false;
const REFILL_MS = 5000;

const startReader = (): TaskProcess<ImportTask, ImportDone> => new TaskProcess('import-worker.mjs', true);

/** Keeps a process ready for the next model, as a server does. */
export function warmImportWorker(): void {
  keepsReader = true;
  idleReader ??= startReader();
  idleReader.warm();
}

/** Ends the process that waits, as the server does when it ends. */
export function endReader(): void {
  keepsReader = false;
  idleReader?.close();
  idleReader = null;
}

/** How an import is watched and limited. */
export interface ImportControl {
  onProgress?: (share: number, what: string) => void;
  signal?: AbortSignal;
  /** Seconds without progress after which it is given up. */
  stallSeconds?: number;
  /** Bytes of memory at which it is given up. */
  bytes?: number;
}

/** What the end of a reader means for the file. */
function endReason(name: string, { end }: TaskEndError, stallSeconds: number, bytes: number): ModelError {
  const told = {
    stopped: `Reading "${name}" was stopped. Nothing was changed.`,
    stalled: `"${name}" made no progress for ${stallSeconds < 60 ? `${stallSeconds} seconds` : `${stallSeconds / 60} minutes`} and was given up: it took longer to read than a sound file does. It is damaged, or must be reduced before exporting.`,
    memory: `"${name}" needs more than ${(bytes / GB).toFixed(bytes < GB ? 2 : 0)} GB of memory to read and was given up. Reduce it before exporting.`,
    crashed: `"${name}" could not be read: its reader broke down. It is damaged or too large; export it again.`,
  };
  return new ModelError(told[end], { cause: end });
}

/**
 * Reads the files that lie at the given paths; what is made of them is written into `out`, named by IMPORT_FILES.
 * Rejects with ModelError where the files are at fault, take too long or too much memory, or `signal` stops it.
 */
export async function importFiles(
  task: ImportTask,
  { onProgress, signal, stallSeconds = STALL_SECONDS, ...control }: ImportControl = {},
): Promise<ModelDigest> {
  const name = task.files[0]?.name ?? 'The file';
  const bytes = Math.min(control.bytes ?? MAX_BYTES, MAX_SHARE * totalmem());
  const reader = idleReader ?? startReader();
  idleReader = null;
  try {
    return await reader.run(task, { stallMs: stallSeconds * 1000, bytes, ...(onProgress && { onProgress }), ...(signal && { signal }) });
  } catch (e) {
    if (e instanceof TaskFault) throw new ModelError(e.message);
    if (e instanceof TaskEndError) throw endReason(name, e, stallSeconds, bytes);
    throw e;
  } finally {
    reader.close();
    // Not at once: whoever imported the model wants to see it first.
    if (keepsReader) setTimeout(() => keepsReader && warmImportWorker(), REFILL_MS).unref();
  }
}

/** The same for files in memory, by way of a temporary folder; what is made comes back whole. */
export async function importModel(files: SourceFile[], options: AskedOptions, control: ImportControl = {}): Promise<Prepared> {
  const folder = await mkdtemp(path.join(tmpdir(), 'easel-import-'));
  try {
    const given = await Promise.all(
      files.map(async ({ name, bytes }, i) => {
        const at = path.join(folder, `source-${i}`);
        await writeFile(at, bytes);
        return { name, path: at };
      }),
    );
    const digest = await importFiles({ files: given, options, out: folder }, control);
    const read = async (name: string): Promise<Uint8Array> => new Uint8Array(await readFile(path.join(folder, name)));
    return {
      summary: JSON.parse(new TextDecoder().decode(await read(IMPORT_FILES.summary))) as ModelSummary,
      glb: await read(IMPORT_FILES.glb),
      scene: await read(IMPORT_FILES.scene),
      viewport: digest.reduced === undefined ? null : await read(IMPORT_FILES.viewport),
    };
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
