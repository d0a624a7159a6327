/** Reads a reply as bytes, whatever its type: for `.parse(asBuffer)` of a request. */
import type { Response } from 'supertest';

/** A parser of supertest. */
export function asBuffer(response: Response, done: (error: Error | null, body: Buffer) => void): void {
  const chunks: Buffer[] = [];
  const stream = response as unknown as NodeJS.ReadableStream;
  stream.on('data', (c: Buffer) => chunks.push(c));
  stream.on('end', () => done(null, Buffer.concat(chunks)));
}
