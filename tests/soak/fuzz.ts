/** Damaged input for every reader, every kind of image, and every body of the HTTP interface. */
import { existsSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { writeExr } from '../../src/formats/exr/write.js';
import { ImageReader } from '../../src/engine/node/imageReader.js';
import { TaskEndError, TaskFault, TaskProcess } from '../../src/engine/node/taskProcess.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { blockObj } from '../support/box.js';
import { dice, INSIDE, MODEL_SAMPLES } from '../support/modelSamples.js';
import { TestServer } from '../support/server.js';
import { leftovers } from './killing.js';
import { importObj, memoryOf, turntables } from './load.js';
import type { Report } from './report.js';

/** Words of libraries, languages and databases that no person should be told. */
export const RAW_WORDS =
  /Cannot read|is not a function|is not iterable|undefined|\bNaN\b|unreachable|SQLITE|Sequelize|E[A-Z]{4,}:|Unexpected token|JSON at position|RuntimeError|out of bounds|Invalid (array|typed array) length|\bat .*:\d+:\d+|THREE\.|\[object|memory access|abort\(/;

/** How the validation library would put it. */
const LIBRARY_WORDS = /Invalid (input|option|string)|Too (big|small): expected|expected \w+ to/;

const STALL_MS = 12_000;

/** Cut short, bits flipped, bytes put in, taken out, repeated, or numbers exchanged for absurd ones. */
function damage(whole: Uint8Array, roll: () => number): Uint8Array {
  const at = (): number => Math.floor(roll() * whole.length);
  const bytes = new Uint8Array(whole);
  switch (Math.floor(roll() * 6)) {
    case 0:
      return bytes.slice(0, at());
    case 1: {
      for (let k = 0; k < 1 + Math.floor(roll() * 12); k++) bytes[at()]! ^= 1 << Math.floor(roll() * 8);
      return bytes;
    }
    case 2: {
      const [from, size] = [at(), 1 + Math.floor(roll() * 64)];
      return Uint8Array.from([...bytes.subarray(0, from), ...bytes.subarray(from + size)]);
    }
    case 3: {
      const [from, size] = [at(), 1 + Math.floor(roll() * 64)];
      return Uint8Array.from([...bytes.subarray(0, from), ...bytes.subarray(from, from + size), ...bytes.subarray(from)]);
    }
    case 4: {
      // The first kilobyte describes most formats.
      const from = Math.floor(roll() * Math.min(1024, whole.length - 4));
      new DataView(bytes.buffer).setUint32(Math.max(0, from), [0, 0xffffffff, 0x7fffffff, 0x80000000][Math.floor(roll() * 4)]!, true);
      return bytes;
    }
    default: {
      const absurd = ['-1', '1e38', '99999999999', 'nan', '"', '\u0000', '((((', '<<', '../..'][Math.floor(roll() * 9)]!;
      const from = at();
      return Uint8Array.from([...bytes.subarray(0, from), ...new TextEncoder().encode(absurd), ...bytes.subarray(from + absurd.length)]);
    }
  }
}

const text = (t: string): Uint8Array => new TextEncoder().encode(t);

const models = (): Promise<[string, Uint8Array][]> =>
  Promise.all(MODEL_SAMPLES.map(async ([name, make]): Promise<[string, Uint8Array]> => [name, await make()]));

async function images(): Promise<[string, 'texture' | 'environment', Uint8Array][]> {
  const picture = sharp({ create: { width: 48, height: 24, channels: 3, background: '#a62c49' } });
  const channel = (name: string) => ({ name, type: 'half' as const, data: new Float32Array(48 * 24).fill(0.5) });
  const exr = writeExr({ width: 48, height: 24, pixelAspect: 1, channels: ['R', 'G', 'B'].map(channel), texts: {} });
  const hdr = [
    ...text('#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 24 +X 48\n'),
    ...Array.from({ length: 48 * 24 * 4 }, (_, i) => (i % 4 === 3 ? 128 : i % 251)),
  ];
  return [
    ['a.png', 'texture', new Uint8Array(await picture.png().toBuffer())],
    ['a.jpg', 'texture', new Uint8Array(await picture.jpeg().toBuffer())],
    ['a.webp', 'texture', new Uint8Array(await picture.webp().toBuffer())],
    ['a.exr', 'environment', new Uint8Array(exr)],
    ['a.hdr', 'environment', Uint8Array.from(hdr)],
  ];
}

interface Outcome {
  read: number;
  refused: number;
  /** Given up in time, with a sentence. */
  ended: number;
  crashed: number;
  raw: string[];
}
const none = (): Outcome => ({ read: 0, refused: 0, ended: 0, crashed: 0, raw: [] });

async function fuzzModels(count: number, folder: string): Promise<Outcome> {
  const out = none();
  const all = await models();
  const lane = async (which: number): Promise<void> => {
    const process = new TaskProcess<{ name: string; path: string }, { triangles: number }>('fuzz-worker.mjs', false);
    const roll = dice(77_000 + which);
    const file = path.join(folder, `model-${which}`);
    for (let i = which; i < count; i += 2) {
      const [name, whole] = all[i % all.length]!;
      writeFileSync(file, damage(whole, roll));
      try {
        await process.run({ name, path: file }, { stallMs: STALL_MS, bytes: 3 * 2 ** 30 });
        out.read++;
      } catch (e) {
        if (e instanceof TaskFault) {
          out.refused++;
          // Of an archive what is in it is named.
          if (RAW_WORDS.test(e.message) || ![name, INSIDE].some((told) => e.message.includes(told))) out.raw.push(e.message);
        } else if (e instanceof TaskEndError && (e.end === 'stalled' || e.end === 'memory')) out.ended++;
        // A reader that breaks down ends its process alone, and whoever sent the file is told so.
        else out.crashed++;
      }
    }
    process.close();
  };
  await Promise.all([lane(0), lane(1)]);
  return out;
}

async function fuzzImages(count: number, folder: string): Promise<Outcome> {
  const out = none();
  const all = await images();
  const reader = new ImageReader(STALL_MS);
  const roll = dice(88_000);
  const file = path.join(folder, 'image');
  for (let i = 0; i < count; i++) {
    const [name, kind, whole] = all[i % all.length]!;
    writeFileSync(file, damage(whole, roll));
    try {
      await reader.read({ kind, name, path: file });
      out.read++;
    } catch (e) {
      const { message, cause } = e as Error;
      if (cause === 'stalled' || cause === 'memory') out.ended++;
      else if (cause === 'crashed') out.crashed++;
      else out.refused++;
      if (RAW_WORDS.test(message) || !message.includes(name)) out.raw.push(message);
    }
  }
  reader.close();
  return out;
}

/** Damaged JSON, paths, queries and forms, against a running server. */
async function fuzzHttp(count: number, server: TestServer): Promise<{ statuses: Map<number, number>; raw: string[] }> {
  const project = await server.send<ProjectReply>('POST', '/projects', { name: 'Fuzz' });
  const { revisions } = await importObj(server, project.id, blockObj().obj);
  const set = await server.send<SetReply>('POST', `/projects/${project.id}/sets`, { file: turntables('Fuzz', 2, 4) });
  const [p, r, s] = [project.id, revisions[0]!.id, set.id];
  const bodies: [string, string, unknown][] = [
    ['PUT', `/sets/${s}`, { file: set.file, version: set.version }],
    ['POST', `/projects/${p}/sets`, { file: set.file }],
    ['POST', '/projects', { name: 'A project' }],
    ['POST', `/sets/${s}/batches`, { revision: r, select: 'none at all', shots: ['no such shot'] }],
    ['POST', '/presets', { kind: 'sheet', name: 'Mine', body: set.file.sheet }],
    ['POST', `/sets/${s}/clearance?revision=${r}`, { points: [[0, 1, 2]], stations: [[0, 1, 2]] }],
    ['POST', '/session', { passphrase: 'a passphrase' }],
    ['POST', '/tokens', { name: 'x', role: 'no such role' }],
    ['POST', '/batches/1/clips', { shot: 's0' }],
  ];
  const paths = [
    `/sets/${s}/thumbnail?revision=${r}&shot=s0&index=1`,
    `/sets/${s}/thumbnail?revision=${r}&view=v&width=96`,
    `/sets/${s}/reveal?revision=${r}&shot=s0`,
    `/sets/${s}/exposure?revision=${r}&view=v`,
    `/batches/1/frames?from=0&limit=10`,
    `/batches/1/frames/1/picture?file=0`,
    `/revisions/${r}/match?with=1`,
    `/revisions/${r}/parts`,
    '/textures/abc.png',
    '/models/abc/model.glb',
    '/places?q=abc',
    `/sets/${s}/sun-hours?revision=${r}&date=2026-06-21&step=30&minimum=3&cells=8`,
    `/projects/${p}/templates/eight-angles/thumbnail?revision=${r}`,
  ];
  const roll = dice(99_000);
  const statuses = new Map<number, number>();
  const raw: string[] = [];
  const ask = async (method: string, route: string, init: RequestInit): Promise<void> => {
    let reply: Response;
    try {
      reply = await fetch(`${server.url}/api${route}`, { method, ...init });
    } catch {
      // Refused by the client itself: no such address.
      return;
    }
    statuses.set(reply.status, (statuses.get(reply.status) ?? 0) + 1);
    const body = await reply.text();
    if (reply.status < 400) return;
    const problem = ((): { detail?: string; code?: string; remedy?: string } => {
      try {
        return JSON.parse(body) as { detail?: string };
      } catch {
        return {};
      }
    })();
    // What was sent may be in the sentence; what is looked for are words of ours.
    const said = (problem.detail ?? '').replace(/"[^"]*"|\/api\S*/g, '');
    if (!problem.code || !problem.remedy || !problem.detail || RAW_WORDS.test(said) || LIBRARY_WORDS.test(said) || reply.status === 500)
      raw.push(`${method} ${route} ${reply.status}: ${body.slice(0, 200)}`);
  };
  const strings = ['\u0000', '../../etc/passwd', '\u202egpj', 'x'.repeat(5000), '', '-1', '1e99', 'null', '{}', '%', 'NaN'];
  for (let i = 0; i < count; i++) {
    if (i % 3 === 0) {
      const [method, route, body] = bodies[Math.floor(roll() * bodies.length)]!;
      await ask(method, route, { headers: { 'content-type': 'application/json' }, body: Buffer.from(damage(text(JSON.stringify(body)), roll)) });
    } else if (i % 3 === 1) {
      const [method, route, body] = bodies[Math.floor(roll() * bodies.length)]!;
      // One value, anywhere in it, exchanged.
      const leaves = JSON.stringify(body).match(/:("[^"]*"|-?[\d.]+|true|false)/g) ?? [];
      const leaf = leaves[Math.floor(roll() * leaves.length)];
      const other = JSON.stringify(
        roll() < 0.5 ? strings[Math.floor(roll() * strings.length)] : [-1, 1e308, {}, [], null, true][Math.floor(roll() * 6)],
      );
      await ask(method, route, {
        headers: { 'content-type': 'application/json' },
        body: leaf ? JSON.stringify(body).replace(leaf, `:${other}`) : '[]',
      });
    } else {
      const route = paths[Math.floor(roll() * paths.length)]!;
      const pieces = route.split(/([/?&=])/);
      const at = 2 + Math.floor(roll() * (pieces.length - 2));
      pieces[at] = encodeURIComponent(strings[Math.floor(roll() * strings.length)]!);
      await ask('GET', pieces.join(''), {});
    }
  }
  return { statuses, raw };
}

/** At least 20 000 inputs where `scale` is 1. */
export async function fuzz(report: Report, scale = 1): Promise<void> {
  const times = (n: number): number => Math.max(1, Math.round(n * scale));
  const folder = mkdtempSync(path.join(tmpdir(), 'easel-fuzz-'));
  const tell = (what: string, { read, refused, ended, crashed, raw }: Outcome): void => {
    report.figure(`${what}: read, refused, given up in time`, `${read}, ${refused}, ${ended}`, read + refused > 0);
    report.figure(`${what}: readers that broke down, alone`, String(crashed), crashed === 0);
    report.figure(
      `${what}: sentences with raw words or without the file's name`,
      raw.length === 0 ? '0' : `${raw.length}, such as ${raw[0]}`,
      raw.length === 0,
    );
  };
  const modelCount = times(12_000);
  tell(`${modelCount} damaged models`, await fuzzModels(modelCount, folder));
  const imageCount = times(4000);
  tell(`${imageCount} damaged images`, await fuzzImages(imageCount, folder));
  const server = new TestServer(0, { COLD_EASEL_LOG: 'silent' });
  await server.start();
  const httpCount = times(4500);
  const { statuses, raw } = await fuzzHttp(httpCount, server);
  const all = [...statuses].sort(([a], [b]) => a - b).map(([status, n]) => `${status}: ${n}`);
  report.figure(`${httpCount} damaged requests, by status`, all.join(', '), !statuses.has(500));
  report.figure('refusals without code and remedy, or with raw words', raw.length === 0 ? '0' : `${raw.length}, such as ${raw[0]}`, raw.length === 0);
  report.figure('leftovers', String(leftovers(server.data).length), leftovers(server.data).length === 0);
  report.figure('memory of the server, MB at most', memoryOf(server.pid).peak.toFixed(0), memoryOf(server.pid).peak < 600);
  const alive = (await fetch(`${server.url}/api/health`)).status;
  report.figure('the server answers after it', String(alive), alive === 200);
  await server.end();
  const left = existsSync(folder) ? readdirSync(folder).length : 0;
  rmSync(folder, { recursive: true, force: true });
  report.figure('files of readers left', String(Math.max(0, left - 3)), left <= 3);
}
