/**
 * A stand-in for a client's upload, which ships with the application: it takes files by HTTP PUT, piece by piece where the
 * line breaks (Content-Range in requests, RFC 9110, 14.4 and 14.5), and keeps a file once its digest is right (Repr-Digest,
 * RFC 9530). What it has of one is told by HEAD, as `x-received`.
 */
import { createWriteStream } from 'node:fs';
import { mkdir, rename, rm, stat } from 'node:fs/promises';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { TEMPORARY_SUFFIX } from './files.js';
import { hashFile } from './hashFile.js';

/** A stand-in of a receiving server, for tests and for trying it out. */
export interface DropOffStand {
  url: string;
  close(): Promise<void>;
}

const sizeOf = (file: string): Promise<number | null> =>
  stat(file).then(
    (s) => s.size,
    () => null,
  );

/** Path below the folder that an address names; null where it leads out of it. */
function fileOf(folder: string, address: string): string | null {
  const name = decodeURIComponent(new URL(address, 'http://stand').pathname).slice(1);
  const file = path.resolve(folder, name);
  return name !== '' && !name.includes('\0') && file.startsWith(path.resolve(folder) + path.sep) ? file : null;
}

async function take(file: string, request: IncomingMessage, response: ServerResponse): Promise<void> {
  const range = /^bytes (\d+)-(\d+)\/(\d+)$/.exec(request.headers['content-range'] ?? '');
  const digest = /^sha-256=:([A-Za-z0-9+/=]+):$/.exec(String(request.headers['repr-digest'] ?? ''));
  if (!range || !digest) {
    response.writeHead(400).end('Send Content-Range: bytes FIRST-LAST/TOTAL and Repr-Digest: sha-256=:BASE64:.');
    return;
  }
  const [first, total] = [Number(range[1]), Number(range[3])];
  const partial = `${file}${TEMPORARY_SUFFIX}`;
  const has = (await sizeOf(partial)) ?? 0;
  if (first !== has) {
    response.writeHead(409, { 'x-received': String(has) }).end('That is not the next piece.');
    return;
  }
  await mkdir(path.dirname(file), { recursive: true });
  await pipeline(request, createWriteStream(partial, { flags: 'a' }));
  const received = (await sizeOf(partial))!;
  if (received < total) {
    response.writeHead(202, { 'x-received': String(received) }).end();
    return;
  }
  if (Buffer.from(await hashFile(partial), 'hex').toString('base64') !== digest[1]) {
    await rm(partial, { force: true });
    response.writeHead(422).end('The digest is another one: the file was thrown away.');
    return;
  }
  await rename(partial, file);
  response.writeHead(201).end();
}

/** @param port 0 for any that is free. It listens to this machine alone. */
export async function startDropOff(folder: string, port: number): Promise<DropOffStand> {
  await mkdir(folder, { recursive: true });
  const answer = async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    const file = fileOf(folder, request.url ?? '/');
    if (!file) response.writeHead(400).end('That name leads out of the folder.');
    else if (request.method === 'HEAD') {
      const whole = await sizeOf(file);
      const received = whole ?? (await sizeOf(`${file}${TEMPORARY_SUFFIX}`)) ?? 0;
      response.writeHead(200, { 'x-received': String(received), 'x-whole': String(whole !== null) }).end();
    } else if (request.method === 'PUT') await take(file, request, response);
    else response.writeHead(405, { allow: 'HEAD, PUT' }).end();
  };
  const server = createServer((request, response) => {
    answer(request, response).catch(() => {
      // The line broke: what came is kept, and asked for by HEAD.
      if (!response.headersSent && !response.destroyed) response.writeHead(500).end();
    });
  });
  await new Promise<void>((resolve, reject) => server.once('error', reject).listen(port, '127.0.0.1', resolve));
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    close: () =>
      new Promise((resolve) => {
        server.close(() => resolve());
        server.closeAllConnections();
      }),
  };
}
