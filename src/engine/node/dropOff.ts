/** Sends files to a drop-off as dropOffStand.ts describes it: in pieces, again where the line breaks, checked by digest. */
import { createReadStream } from 'node:fs';
import { setTimeout as wait } from 'node:timers/promises';

/** A file to be sent. */
export interface SentFile {
  /** Where it lies, and what it is called over there. */
  from: string;
  path: string;
  bytes: number;
  sha256: string;
}

interface SendOptions {
  signal: AbortSignal;
  /** Bytes that arrived since it was called last. */
  onBytes?: (bytes: number) => void;
  pieceBytes?: number;
  /** How often a piece is tried, and the first wait in milliseconds, which doubles. */
  tries?: number;
  waitMs?: number;
}

const PIECE_BYTES = 8 * 2 ** 20;
const TRIES = 6;
const WAIT_MS = 1000;

/** A reply that will not be another one however often it is asked for. */
class Refused extends Error {}

const addressOf = (base: string, name: string): string => `${base.replace(/\/+$/, '')}/${name.split('/').map(encodeURIComponent).join('/')}`;

async function received(address: string, signal: AbortSignal): Promise<{ bytes: number; whole: boolean }> {
  const response = await fetch(address, { method: 'HEAD', signal, redirect: 'error' });
  if (!response.ok) throw new (response.status < 500 ? Refused : Error)(`The drop-off answers ${response.status}.`);
  return { bytes: Number(response.headers.get('x-received') ?? 0), whole: response.headers.get('x-whole') === 'true' };
}

async function putPiece(address: string, { from, bytes, sha256 }: SentFile, first: number, size: number, signal: AbortSignal): Promise<void> {
  const last = Math.max(first, Math.min(bytes, first + size) - 1);
  const body: Buffer[] = [];
  if (bytes > 0) for await (const chunk of createReadStream(from, { start: first, end: last })) body.push(chunk as Buffer);
  const response = await fetch(address, {
    method: 'PUT',
    headers: {
      'content-range': `bytes ${first}-${last}/${bytes}`,
      'repr-digest': `sha-256=:${Buffer.from(sha256, 'hex').toString('base64')}:`,
      'content-type': 'application/octet-stream',
    },
    body: Buffer.concat(body),
    signal,
    redirect: 'error',
  });
  if (response.ok || response.status === 409) return;
  throw new (response.status < 500 && response.status !== 422 ? Refused : Error)(`The drop-off answers ${response.status}: ${await response.text()}`);
}

/** Sends one file, going on where an earlier try stopped. Rejects with the reason where it cannot be sent. */
export async function sendFile(base: string, file: SentFile, options: SendOptions): Promise<void> {
  const { signal, onBytes, pieceBytes = PIECE_BYTES, tries = TRIES, waitMs = WAIT_MS } = options;
  const address = addressOf(base, file.path);
  let told = 0;
  for (let failed = 0; ;) {
    try {
      const has = await received(address, signal);
      const now = has.whole ? file.bytes : Math.min(has.bytes, file.bytes);
      if (now > told) onBytes?.(now - told);
      if (now > told) failed = 0;
      told = Math.max(told, now);
      if (has.whole) return;
      await putPiece(address, file, has.bytes, pieceBytes, signal);
    } catch (e) {
      if (signal.aborted || e instanceof Refused || ++failed >= tries) throw e;
      await wait(waitMs * 2 ** (failed - 1), undefined, { signal });
    }
  }
}
