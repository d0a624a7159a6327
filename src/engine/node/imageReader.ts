/** Reads images that people bring, in a process of its own that is kept: most are small. */
import { ModelError } from '../../formats/format.js';
import type { ImageDone, ImageTask } from './imageTask.js';
import { TaskEndError, TaskFault, TaskProcess } from './taskProcess.js';

/** Milliseconds for one image. */
const STALL_MS = 60_000;
/** An environment image of the largest size takes 1.2 GB while it is read. */
const MAX_BYTES = 3 * 2 ** 30;

/** Reads images in a process of its own, which ends where a file takes too long or too much memory. */
export class ImageReader {
  private readonly process = new TaskProcess<ImageTask, ImageDone>('image-worker.mjs', false);

  /** @param stallMs after which an image is given up. */
  constructor(private readonly stallMs = STALL_MS) {}

  /** Decodes an image whole; its size. Rejects with ModelError where it cannot be read in time and memory. */
  async read(task: ImageTask, signal?: AbortSignal): Promise<ImageDone> {
    try {
      return await this.process.run(task, { stallMs: this.stallMs, bytes: MAX_BYTES, ...(signal && { signal }) });
    } catch (e) {
      if (e instanceof TaskFault) throw new ModelError(e.message);
      if (!(e instanceof TaskEndError)) throw e;
      const why = {
        stopped: 'Nothing was changed.',
        stalled: `It took longer than ${this.stallMs / 1000} seconds. It is damaged; save it again.`,
        memory: 'It needs too much memory. Save it smaller.',
        crashed: 'It is damaged; save it again.',
      }[e.end];
      throw new ModelError(`Reading "${task.name}" was given up. ${why}`, { cause: e.end });
    }
  }

  close(): void {
    this.process.close();
  }
}
