/**
 * Server-sent events, each to the pages of its project. Each has an id, so that a page that was away for a moment is told
 * what it missed; one that was away for longer is told to ask for everything anew. Who does not read holds up nobody.
 */
import { randomBytes } from 'node:crypto';
import type { Request, Response } from 'express';
import type { ServerEvent } from '../contract/contract.js';
import { ServerError } from './errors.js';

const HEARTBEAT_MS = 20_000;
/** Events go out together so often, and less often the more pages listen: a write to each takes longer than what is written. */
const FLUSH_MS = 80;
const FLUSH_MS_PER_CLIENT = 1.5;
const MAX_FLUSH_MS = 1500;
/** A client that has not read for so long is let go; it comes back and is told what it missed. */
const STALL_MS = 60_000;
/** Events that are kept for those who missed them. */
const MAX_KEPT = 1000;
const MAX_KEPT_BYTES = 4 * 2 ** 20;
const MAX_CLIENTS = 4000;
/** Projects that one stream can follow. */
const MAX_PROJECTS = 100;

interface Kept {
  serial: number;
  project: number;
  /** What it tells of; a later event of the same makes this one pointless. */
  subject: string;
  text: string;
}

interface Client {
  response: Response;
  /** Numbers of the projects it follows, in order; null for all. */
  projects: ReadonlySet<number> | null;
  /** Last event that was looked at for it. */
  serial: number;
  /** Since when it has not read, in milliseconds; null while it reads. */
  stalledAt: number | null;
}

/** What an event tells of: the later one of a subject says all that the earlier one did. */
function subjectOf(event: ServerEvent): string {
  switch (event.type) {
    case 'frame':
      return `frame ${event.frame.id}`;
    case 'decided':
      return `decided ${event.batchId} ${event.run}`;
    case 'batch':
      return `batch ${event.batch.id}`;
    case 'clip':
      return `clip ${event.clipId}`;
    case 'batchDeleted':
      return `batch ${event.batchId}`;
    case 'import':
      return `import ${event.projectId}`;
    case 'set':
      return `set ${event.setId}`;
    case 'notes':
      return `notes ${event.setId}`;
    case 'packages':
      return `packages ${event.setId}`;
    case 'preflight':
      return `preflight ${event.setId}`;
    case 'testFrame':
      return `testFrame ${event.token}`;
    case 'forecast':
      return `forecast ${event.setId}`;
    case 'resync':
      return 'resync';
  }
}

/** Projects of `?projects=1,2`: none where it is empty, all (null) where it is absent. Throws ServerError. */
function projectsOf({ projects }: Request['query']): ReadonlySet<number> | null {
  if (projects === undefined) return null;
  const ids = String(projects)
    .split(',')
    .filter((t) => t !== '');
  if (ids.length > MAX_PROJECTS || !ids.every((t) => /^[1-9]\d{0,14}$/.test(t)))
    throw new ServerError('invalid-input', `projects: give up to ${MAX_PROJECTS} numbers of projects separated by commas, such as "1,2".`);
  return new Set(ids.map(Number).sort((a, b) => a - b));
}

/** Tells pages what changed: each project's changes go to its own pages, in order, and again to a page that was away. */
export class Events {
  private readonly clients = new Set<Client>();
  private readonly kept: Kept[] = [];
  private keptBytes = 0;
  private serial = 0;
  /** Serial up to which events are not kept any more. */
  private forgotten = 0;
  /** Serial up to which everybody who reads has been told. */
  private flushed = 0;
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

  /**
   * Answers with the stream, of the projects in the query `projects`, of all where there is none. What was missed since
   * Last-Event-ID, or since the id in the query `after`, comes first. Throws ServerError where too many listen.
   */
  attach(request: Request, response: Response): void {
    const projects = projectsOf(request.query);
    if (this.clients.size >= MAX_CLIENTS) throw new ServerError('overloaded', `${MAX_CLIENTS} pages listen already, which is the most.`, 5);
    response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' });
    response.write('retry: 1000\n\n');
    // Who is there gets what came before first.
    this.flush();
    const { after } = request.query;
    const [run, last] = String(request.headers['last-event-id'] ?? (typeof after === 'string' ? after : '')).split('-');
    const client: Client = { response, projects, serial: this.serial, stalledAt: null };
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

  /** Tells the pages of a project. Of what has not gone out yet, an earlier event of the same subject is dropped. */
  send(project: number, event: ServerEvent): void {
    const serial = ++this.serial;
    const subject = subjectOf(event);
    for (let i = this.kept.length - 1; i >= 0 && this.kept[i]!.serial > this.flushed; i--) {
      const { subject: other, project: of } = this.kept[i]!;
      if (other !== subject || of !== project) continue;
      this.keptBytes -= this.kept[i]!.text.length;
      this.kept.splice(i, 1);
      break;
    }
    const text = `id: ${this.run}-${serial}\ndata: ${JSON.stringify(event)}\n\n`;
    this.kept.push({ serial, project, subject, text });
    this.keptBytes += text.length;
    while (this.kept.length > MAX_KEPT || (this.keptBytes > MAX_KEPT_BYTES && this.kept.length > 1)) {
      const { serial: gone, text: bytes } = this.kept.shift()!;
      this.forgotten = gone;
      this.keptBytes -= bytes.length;
    }
    this.flushing ??= setTimeout(() => this.flush(), Math.min(MAX_FLUSH_MS, FLUSH_MS + FLUSH_MS_PER_CLIENT * this.clients.size));
  }

  /** Sends what has come since the last time to everybody who reads. */
  flush(): void {
    if (this.flushing) clearTimeout(this.flushing);
    this.flushing = null;
    this.flushed = this.serial;
    // Most have had the same and follow the same, and get the same bytes.
    const same = new Map<string, Buffer | null>();
    for (const client of this.clients) if (client.stalledAt === null) this.catchUp(client, same);
  }

  close(): void {
    clearInterval(this.beat);
    this.flush();
    for (const { response } of this.clients) response.end();
    this.clients.clear();
  }

  /** Writes what a client has not had; where that is not kept any more, it is told to ask anew. */
  private catchUp(client: Client, same = new Map<string, Buffer | null>()): void {
    const from = client.serial;
    if (from === this.serial) return;
    const key = `${from} ${client.projects ? [...client.projects].join(',') : 'all'}`;
    let bytes = same.get(key);
    if (bytes === undefined) {
      bytes = this.missed(from, client.projects);
      same.set(key, bytes);
    }
    client.serial = this.serial;
    if (bytes && !client.response.write(bytes)) client.stalledAt = performance.now();
  }

  /** What came after an event for those who follow these projects; null where there is nothing. */
  private missed(from: number, projects: ReadonlySet<number> | null): Buffer | null {
    if (from < this.forgotten)
      return Buffer.from(`id: ${this.run}-${this.serial}\ndata: ${JSON.stringify({ type: 'resync' } satisfies ServerEvent)}\n\n`);
    const texts = this.kept.filter((k) => k.serial > from && (projects === null || projects.has(k.project))).map((k) => k.text);
    return texts.length > 0 ? Buffer.from(texts.join('')) : null;
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
