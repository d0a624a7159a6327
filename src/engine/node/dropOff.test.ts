/** Files sent to the stand-in of a drop-off: over a line that breaks, to one that ends and comes back, and never torn. */
import { createHash, randomBytes } from 'node:crypto';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { sendFile, type SentFile } from './dropOff.js';
import { type DropOffStand, startDropOff } from './dropOffStand.js';

let folder: string;
let stand: DropOffStand;
const never = new AbortController().signal;
const quick = { signal: never, pieceBytes: 10_000, waitMs: 5 };
const there = (name: string): string => path.join(folder, 'client', name);

function file(bytes: number, name = 'set/spin 0001.png'): SentFile & { content: Buffer } {
  const content = randomBytes(bytes);
  const from = path.join(folder, 'own.bin');
  writeFileSync(from, content);
  return { from, path: name, bytes, sha256: createHash('sha256').update(content).digest('hex'), content };
}

beforeEach(async () => {
  folder = mkdtempSync(path.join(tmpdir(), 'easel-drop-'));
  stand = await startDropOff(path.join(folder, 'client'), 0);
});
afterEach(async () => {
  await stand.close();
  rmSync(folder, { recursive: true, force: true });
});

describe('a drop-off', () => {
  it('has the file with every byte, and tells of each piece', async () => {
    const sent = file(35_000);
    const told: number[] = [];
    await sendFile(stand.url, sent, { ...quick, onBytes: (n) => told.push(n) });
    expect(readFileSync(there(sent.path)).equals(sent.content)).toBe(true);
    expect(told.reduce((a, b) => a + b)).toBe(35_000);
    expect(told.length).toBe(4);
    // Once more: it is there already.
    await sendFile(stand.url, sent, quick);
    const empty = file(0, 'empty.txt');
    await sendFile(stand.url, empty, quick);
    expect(readFileSync(there('empty.txt'))).toHaveLength(0);
  });

  it('goes on where it stopped, when the other side ends and comes back', async () => {
    const sent = file(60_000);
    const port = Number(new URL(stand.url).port);
    let pieces = 0;
    const again: Promise<void>[] = [];
    const onBytes = (): void => {
      if (++pieces !== 3) return;
      again.push(
        stand.close().then(async () => {
          await new Promise((r) => setTimeout(r, 40));
          stand = await startDropOff(path.join(folder, 'client'), port);
        }),
      );
    };
    await sendFile(stand.url, sent, { ...quick, waitMs: 20, onBytes });
    await Promise.all(again);
    expect(readFileSync(there(sent.path)).equals(sent.content)).toBe(true);
    expect(pieces).toBe(6);
  });

  it('over a line that breaks in the middle of pieces has the same bytes', async () => {
    // Lets every second PUT through only in part, then breaks.
    let count = 0;
    const target = new URL(stand.url);
    const line: Server = createServer((request, response) => {
      const chunks: Buffer[] = [];
      request.on('data', (c: Buffer) => chunks.push(c));
      request.on('end', () => {
        if (request.method === 'PUT' && ++count % 2 === 1) {
          response.destroy();
          return;
        }
        const headers = { ...request.headers, host: target.host } as unknown as Record<string, string>;
        delete headers['content-length'];
        void fetch(`${stand.url}${request.url}`, {
          method: request.method!,
          headers: new Headers(headers),
          ...(request.method === 'PUT' && { body: Buffer.concat(chunks) }),
        }).then(
          async (r) =>
            response
              .writeHead(r.status, { 'x-received': r.headers.get('x-received') ?? '', 'x-whole': r.headers.get('x-whole') ?? '' })
              .end(await r.text()),
          () => response.destroy(),
        );
      });
    });
    await new Promise<void>((r) => line.listen(0, '127.0.0.1', r));
    const sent = file(45_000);
    await sendFile(`http://127.0.0.1:${(line.address() as AddressInfo).port}`, sent, quick);
    expect(readFileSync(there(sent.path)).equals(sent.content)).toBe(true);
    line.closeAllConnections();
    line.close();
  });

  it('keeps no file whose digest is another one', async () => {
    const sent = { ...file(20_000), sha256: '00'.repeat(32) };
    await expect(sendFile(stand.url, sent, { ...quick, tries: 2 })).rejects.toThrow('answers 422');
    expect(existsSync(there(sent.path))).toBe(false);
  });

  it('is left out of names that lead out of its folder, and is given up where it stays away', async () => {
    expect((await fetch(`${stand.url}/%2e%2e%2fout.txt`, { method: 'PUT', body: 'x' })).status).toBe(400);
    await stand.close();
    await expect(sendFile(stand.url, file(10), { ...quick, tries: 3 })).rejects.toThrow();
    stand = await startDropOff(path.join(folder, 'client'), 0);
  });
});
