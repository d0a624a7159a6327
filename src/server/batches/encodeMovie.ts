/** Feeds the encoder of movies. */
import { spawn } from 'node:child_process';
import { createReadStream } from 'node:fs';
import { Readable, type Writable } from 'node:stream';
import { findFfmpeg } from '../../engine/node/ffmpeg.js';
import type { MovieFrame } from './movieFrames.js';

/** Arguments of the encoder, and what it is fed with. */
export interface ClipWork {
  args: string[];
  pictures: MovieFrame[];
}

/** Feeds the pictures one after another to ffmpeg. Rejects with what it said last. */
export async function encodeMovie({ args, pictures }: ClipWork, out: string, signal: AbortSignal, onShare: (share: number) => void): Promise<void> {
  signal.throwIfAborted();
  const child = spawn(findFfmpeg(), [...args, out], { stdio: ['pipe', 'ignore', 'pipe'], signal, killSignal: 'SIGKILL' });
  let said = '';
  child.stderr.on('data', (d: Buffer) => {
    said = (said + d.toString()).slice(-2000);
  });
  const ended = new Promise<void>((resolve, reject) => {
    child.on('error', reject);
    child.on('close', (code) =>
      code === 0 ? resolve() : reject(new Error(`The movie could not be made: ${said.trim().split('\n').at(-1) ?? `exit ${code}`}`)),
    );
  });
  // A child that ends early closes its end; the reason is in what it said.
  child.stdin.on('error', () => undefined);
  ended.catch(() => undefined);
  try {
    for (const [i, picture] of pictures.entries()) {
      if (child.exitCode !== null || signal.aborted) break;
      onShare(i / pictures.length);
      await feed(child.stdin, typeof picture === 'string' ? createReadStream(picture) : Readable.from([await picture()]));
    }
  } catch (e) {
    // A picture cannot be read: nothing more comes.
    child.kill('SIGKILL');
    throw e;
  }
  child.stdin.end();
  await ended;
}

/** Pours a picture into the encoder; ends too where nobody takes what is left of it. Rejects where it cannot be read. */
function feed(into: Writable, source: Readable): Promise<void> {
  return new Promise((resolve, reject) => {
    const onClose = (): void => resolve();
    into.once('close', onClose);
    const end = (act: () => void) => (): void => {
      into.off('close', onClose);
      act();
    };
    source
      .on('error', (e: Error) => end(() => reject(e))())
      .on('end', end(resolve))
      .pipe(into, { end: false });
  });
}
