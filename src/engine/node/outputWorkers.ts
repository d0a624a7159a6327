/** Makes files of traced pictures in threads of their own: grading and encoding one takes longer than anybody else should wait. */
import { Worker } from 'node:worker_threads';
import { withFrame } from '../../core/frame/frame.js';
import type { Checkpoint } from '../sampling/checkpoint.js';
import { encodeFrame, type EncodeTask, InvalidRenderError } from '../output/encodeFrame.js';
import { distFile } from './assets.js';
import type { DevelopTask, HashedDevelopment } from './developFromFile.js';
import { type HashedFile, type HashedFrame, withChecksums } from './hashedFiles.js';

/** A file on its way between threads. */
interface SentFile {
  name: string;
  bytes: Uint8Array;
  sha256: string;
}

/** What a thread is asked for: to encode a frame, to keep its film, or to develop one. */
export type EncodeRequest = { id: number; task: EncodeTask } | { id: number; film: Uint8Array } | { id: number; develop: DevelopTask };
/** What a thread answers. */
export type EncodeReply =
  | { id: number; files: SentFile[]; checkpoint?: Uint8Array; master?: Uint8Array; noise?: number }
  | { id: number; developed: HashedDevelopment<SentFile> }
  | { id: number; film: Checkpoint | null }
  | { id: number; fault: string; picture: boolean };

/** Back as buffers. */
const received = (files: readonly SentFile[]): HashedFile[] =>
  files.map(({ name, bytes, sha256 }) => ({ name, sha256, bytes: Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length) }));

interface PendingReply {
  resolve: (reply: EncodeReply) => void;
  reject: (error: Error) => void;
}

/** One thread, and what it was asked. */
class OutputThread {
  private readonly worker = new Worker(distFile('output-worker.mjs'));
  readonly waiting = new Map<number, PendingReply>();
  broken = false;

  constructor() {
    this.worker.unref();
    this.worker.on('message', (reply: EncodeReply) => {
      this.waiting.get(reply.id)?.resolve(reply);
      this.waiting.delete(reply.id);
      if (this.waiting.size === 0) this.worker.unref();
    });
    const broke = (): void => {
      this.broken = true;
      for (const { reject } of this.waiting.values()) reject(new Error('The thread that writes files broke down.'));
      this.waiting.clear();
    };
    this.worker.on('error', broke);
    this.worker.on('exit', broke);
  }

  ask(request: EncodeRequest): Promise<EncodeReply> {
    return new Promise((resolve, reject) => {
      this.waiting.set(request.id, { resolve, reject });
      this.worker.ref();
      this.worker.postMessage(request);
    });
  }

  async close(): Promise<void> {
    await this.worker.terminate();
  }
}

/** Up to so many pixels, handing a frame to a thread takes longer than making its files. */
const MAX_INLINE_PIXELS = 64 * 64;

/** Threads that encode finished frames, so that neither tracing nor the server waits for it. */
export class OutputWorkers {
  private threads: OutputThread[] = [];
  private serial = 0;

  /**
   * @param size threads: a second begins while the first still encodes.
   * @param inlinePixels frames of up to so many pixels are made into files here.
   */
  constructor(
    private readonly size = 2,
    private readonly inlinePixels = MAX_INLINE_PIXELS,
  ) {}

  /** The thread with the least to do. One that broke down is replaced. */
  private next(): OutputThread {
    this.threads = this.threads.filter((t) => !t.broken);
    const idle = this.threads.find((t) => t.waiting.size === 0);
    if (idle) return idle;
    if (this.threads.length < this.size) this.threads.push(new OutputThread());
    return this.threads.reduce((a, b) => (b.waiting.size < a.waiting.size ? b : a));
  }

  /** As encodeFrame, elsewhere, and with checksums. Planes that are shared are not copied. */
  readonly finish = async (task: EncodeTask): Promise<HashedFrame> => {
    if (task.frame.size.width * task.frame.size.height <= this.inlinePixels) return withChecksums(await encodeFrame(task));
    // A planned frame computes identity and seed when asked; a copy must be given them.
    const reply = await this.next().ask({ id: ++this.serial, task: { ...task, frame: withFrame(task.frame, {}) } });
    if ('fault' in reply) throw reply.picture ? new InvalidRenderError(reply.fault) : new Error(reply.fault);
    if (!('files' in reply)) throw new Error('The thread that writes files gave an unexpected answer.');
    const { files, checkpoint, master, noise } = reply;
    return { files: received(files), ...(checkpoint && { film: checkpoint }), ...(master && { master }), ...(noise !== undefined && { noise }) };
  };

  /** As developFromFile, elsewhere. Rejects where the master is gone or damaged. */
  async develop(task: DevelopTask): Promise<HashedDevelopment> {
    const reply = await this.next().ask({ id: ++this.serial, develop: { ...task, frame: withFrame(task.frame, {}) } });
    if ('fault' in reply) throw new Error(reply.fault);
    if (!('developed' in reply)) throw new Error('The thread that writes files gave an unexpected answer.');
    const { developed } = reply;
    return developed.kind === 'files' ? { ...developed, files: received(developed.files) } : developed;
  }

  /** What was summed up of an unfinished still; null where it is damaged. */
  async decodeFilm(film: Uint8Array): Promise<Checkpoint | null> {
    const reply = await this.next().ask({ id: ++this.serial, film });
    return 'film' in reply ? reply.film : null;
  }

  async close(): Promise<void> {
    await Promise.all(this.threads.splice(0).map((t) => t.close()));
  }
}
