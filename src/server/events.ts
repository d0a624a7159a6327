/**
 * Server-sent events to every open page. Each has an id, so that a page that was away for a moment is told what it missed;
 * one that was away for longer is told to ask for everything anew. Who does not read holds up nobody.
 */
import { randomBytes } from 'node:crypto';
import { type Request, type Response } from 'express';
import { type ServerEvent } from '../contract/contract.js';
import { ServerError } from './errors.js';

const HEARTBEAT_MS = 20_000;
/** Events go out together so often: a write to each of very many pages takes longer than what is written. */
const FLUSH_MS = 80;
/** A client that has not read for so long is let go; it comes back and is told what it missed. */
const STALL_MS = 60_000;
/** Events that are kept for those who missed them. */
const MAX_KEPT = 1000;
const MAX_KEPT_BYTES = 4 * 2 ** 20;
const MAX_CLIENTS = 4000;

interface Kept {
  serial: number;
  text: string;
}

interface Client {
  response: Response;
  /** Last event that was written to it. */
  serial: number;
  /** Since when it has not read, in milliseconds; null while it reads. */
  stalledAt: number | null;
}

export class Events {
  private readonly clients = new Set<Client>();
  private readonly kept: Kept[] = [];
  private keptBytes = 0;
  private serial = 0;
  /** Ids of an earlier run of the server are none of this one's. */
  private readonly run = randomBytes(4).toString('hex');
  private readonly beat: NodeJS.Timeout;
  private flushing: NodeJS.Timeout | null = null;

  constructor(heartbeat = HEARTBEAT_MS) {
    this.beat = setInterval(() => this.heartbeat(), heartbeat);
    this.beat.unref();
  }

  /** How many pages listen. */
  get size(): number {
    return this.clients.size;
  }

  /** Answers with the stream. What was missed since Last-Event-ID comes first. Throws ServerError where too many listen. */
  attach(request: Request, response: Response): void {
    if (this.clients.size >= MAX_CLIENTS) throw new ServerError('overloaded', `${MAX_CLIENTS} pages listen already, which is the most.`, 5);
    response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' });
    response.write('retry: 1000\n\n');
    // Who is there gets what came before first.
    this.flush();
    const [run, last] = String(request.headers['last-event-id'] ?? '').split('-');
    const client: Client = { response, serial: this.serial, stalledAt: null };
    if (run) {
      client.serial = run === this.run && Number.isInteger(Number(last)) ? Number(last) : -1;
      this.catchUp(client);
    }
    this.clients.add(client);
    response.on('drain', () => {
      client.stalledAt = null;
      this.catchUp(client);
    });
    response.on('error', () => this.clients.delete(client));
    request.on('close', () => this.clients.delete(client));
  }

  send(event: ServerEvent): void {
    const serial = ++this.serial;
    const text = `id: ${this.run}-${serial}\ndata: ${JSON.stringify(event)}\n\n`;
    this.kept.push({ serial, text });
    this.keptBytes += text.length;
    while (this.kept.length > MAX_KEPT || (this.keptBytes > MAX_KEPT_BYTES && this.kept.length > 1)) this.keptBytes -= this.kept.shift()!.text.length;
    this.flushing ??= setTimeout(() => this.flush(), FLUSH_MS);
  }

  /** Sends what has come since the last time to everybody who reads. */
  flush(): void {
    if (this.flushing) clearTimeout(this.flushing);
    this.flushing = null;
    // Most have had the same, and get the same text.
    const texts = new Map<number, string>();
    for (const client of this.clients) if (client.stalledAt === null) this.catchUp(client, texts);
  }

  close(): void {
    clearInterval(this.beat);
    this.flush();
    for (const { response } of this.clients) response.end();
    this.clients.clear();
  }

  /** Writes what a client has not had; where that is not kept any more, it is told to ask anew. */
  private catchUp(client: Client, texts = new Map<number, string>()): void {
    const from = client.serial;
    if (from === this.serial) return;
    let text = texts.get(from);
    if (text === undefined) {
      const first = this.kept.findIndex((k) => k.serial === from + 1);
      text =
        first < 0
          ? `id: ${this.run}-${this.serial}\ndata: ${JSON.stringify({ type: 'resync' } satisfies ServerEvent)}\n\n`
          : this.kept
              .slice(first)
              .map((k) => k.text)
              .join('');
      texts.set(from, text);
    }
    client.serial = this.serial;
    if (!client.response.write(text)) client.stalledAt = performance.now();
  }

  /** Keeps connections open through what lies between, and lets go of those that do not read. */
  private heartbeat(): void {
    const now = performance.now();
    for (const client of this.clients) {
      if (client.stalledAt === null) client.response.write(': \n\n');
      else if (now - client.stalledAt > STALL_MS) {
        client.response.destroy();
        this.clients.delete(client);
      }
    }
  }
}
