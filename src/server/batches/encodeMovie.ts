/** Feeds the encoder of movies. */
import { spawn } from 'node:child_process';
import { createReadStream } from 'node:fs';
import { Readable, type Writable } from 'node:stream';
import { type Codec, codecName } from '../../core/movie/movieOptions.js';
import { encoderFacts, findFfmpeg } from '../../engine/node/ffmpeg.js';
import { ServerError } from '../errors.js';
import type { MovieFrame } from './movieFrames.js';
import { packSequence } from './packSequence.js';

/** Throws ServerError 'unusable' where the ffmpeg that is there cannot write a codec. */
export function refuseLacked(codec: Codec): void {
  const { lacks, version } = encoderFacts();
  if (codec === 'sequence' || !lacks.includes(codec)) return;
  throw new ServerError(
    'unusable',
    `ffmpeg ${version} cannot write ${codecName(codec)}. Choose another codec, or install a build of ffmpeg that can.`,
  );
}

/** Pictures of a movie with the arguments of its encoder, or with the name that those of a sequence bear. */
export type ClipWork = { pictures: MovieFrame[] } & ({ args: string[] } | { sequence: string });

/** Makes the file of a movie. Rejects with the reason where it cannot be made. */
export function encodeMovie(work: ClipWork, out: string, signal: AbortSignal, onShare: (share: number) => void): Promise<void> {
  return 'sequence' in work ? packSequence(work, out, signal, onShare) : feedEncoder(work, out, signal, onShare);
}

/** Feeds the pictures one after another to ffmpeg. Rejects with what it said last. */
async function feedEncoder(
  { args, pictures }: { args: string[]; pictures: MovieFrame[] },
  out: string,
  signal: AbortSignal,
  onShare: (share: number) => void,
): Promise<void> {
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
