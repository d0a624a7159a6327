/** How the server bears many frames, parts and listeners: figures for docs/reliability.md, and limits that must hold. */
import { readFileSync } from 'node:fs';
import http from 'node:http';
import { performance } from 'node:perf_hooks';
import type { BatchReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { blockObj } from '../support/box.js';
import { TestServer } from '../support/server.js';
import type { Report } from './report.js';

const KB = 1024;

/** Resident memory of a process in MB, and the most that it was. */
export function memoryOf(pid: number): { now: number; peak: number } {
  const status = readFileSync(`/proc/${pid}/status`, 'utf8');
  const field = (name: string): number => Number(new RegExp(`${name}:\\s+(\\d+)`).exec(status)?.[1] ?? 0) / KB;
  return { now: field('VmRSS'), peak: field('VmHWM') };
}

export const percentile = (values: number[], share: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(share * values.length))] ?? 0;

export const turntables = (name: string, shots: number, frames: number) => ({
  format: 'cold-easel.set',
  version: 2,
  name,
  sheet: { size: { width: 16, height: 16 }, quality: 'quick' },
  views: [{ id: 'v', name: 'V', eye: [9, 6, 11], target: [0, 0.5, 0] }],
  shots: Array.from({ length: shots }, (_, i) => ({ id: `s${i}`, kind: 'turntable', view: 'v', frames, start: i / 1000 })),
});

export async function importObj(server: TestServer, project: number, text: string, name = 'block.obj'): Promise<ProjectReply> {
  const form = new FormData();
  form.append('files', new Blob([text]), name);
  const reply = await fetch(`${server.url}/api/projects/${project}/model`, { method: 'POST', body: form });
  if (reply.status !== 201) throw new Error(`import: ${await reply.text()}`);
  return (await reply.json()) as ProjectReply;
}

/** Listens to the events of a server until it is ended; one that is `stalled` does not read. */
function listener(url: string, stalled = false): http.ClientRequest {
  const request = http.get(`${url}/api/events`, (response) => {
    if (stalled) response.pause();
    else response.resume();
  });
  request.on('error', () => undefined);
  return request;
}

/** Asks again and again while `work` goes on; milliseconds of each answer. */
async function whileWorking(url: string, routes: string[], work: Promise<unknown>): Promise<number[]> {
  let over = false;
  void work.finally(() => (over = true));
  const times: number[] = [];
  for (let i = 0; !over; i++) {
    const started = performance.now();
    await (await fetch(`${url}/api${routes[i % routes.length]!}`)).arrayBuffer();
    times.push(performance.now() - started);
    await new Promise((r) => setTimeout(r, 20));
  }
  return times;
}

async function ended(server: TestServer, id: number): Promise<BatchReply> {
  for (;;) {
    const batch = await server.get<BatchReply>(`/batches/${id}`);
    if (!['queued', 'running'].includes(batch.state)) return batch;
    await new Promise((r) => setTimeout(r, 200));
  }
}

/** 3 200 tiny frames beside seven listeners, 500 that do not read, and whoever asks meanwhile. */
export async function tinyFrames(report: Report): Promise<void> {
  const server = new TestServer(0, { COLD_EASEL_LOG: 'warn' });
  await server.start();
  const project = await server.send<ProjectReply>('POST', '/projects', { name: 'Tiny' });
  const { revisions } = await importObj(server, project.id, blockObj().obj);
  const { id } = await server.send<SetReply>('POST', `/projects/${project.id}/sets`, { file: turntables('Tiny', 10, 320) });
  const run = async (stalled: number): Promise<{ perSecond: number; times: number[] }> => {
    const listeners = [
      ...Array.from({ length: 7 }, () => listener(server.url)),
      ...Array.from({ length: stalled }, () => listener(server.url, true)),
    ];
    await new Promise((r) => setTimeout(r, 500));
    const batch = await server.send<BatchReply>('POST', `/sets/${id}/batches`, { revision: revisions[0]!.id, anew: true });
    const over = ended(server, batch.id);
    const times = await whileWorking(server.url, ['/projects', `/batches/${batch.id}`, '/batches', `/projects/${project.id}`, `/sets/${id}`], over);
    const { elapsed, done } = await over;
    for (const l of listeners) l.destroy();
    if (done !== 3200) throw new Error(`${done} of 3200 frames were done`);
    return { perSecond: done / elapsed, times };
  };
  const plain = await run(0);
  report.figure('3 200 tiny frames, 7 listeners: frames a second', plain.perSecond.toFixed(1), plain.perSecond >= 44);
  report.figure('95th percentile of GETs meanwhile, ms', percentile(plain.times, 0.95).toFixed(1), percentile(plain.times, 0.95) < 50);
  const beside = await run(500);
  report.figure(
    'the same beside 500 listeners that do not read: frames a second',
    beside.perSecond.toFixed(1),
    beside.perSecond > 0.8 * plain.perSecond,
  );
  report.figure('memory of the server after both, MB at most', memoryOf(server.pid).peak.toFixed(0), memoryOf(server.pid).peak < 600);
  await server.end();
}

/** 10 000 tiny frames in one batch: what they cost beside tracing, and whether memory grows. */
export async function longBatch(report: Report): Promise<void> {
  const server = new TestServer(0, { COLD_EASEL_LOG: 'warn' });
  await server.start();
  const project = await server.send<ProjectReply>('POST', '/projects', { name: 'Long' });
  const { revisions } = await importObj(server, project.id, blockObj().obj);
  const { id } = await server.send<SetReply>('POST', `/projects/${project.id}/sets`, { file: turntables('Long', 25, 400) });
  const batch = await server.send<BatchReply>('POST', `/sets/${id}/batches`, { revision: revisions[0]!.id });
  const reached = async (done: number): Promise<BatchReply> => {
    for (;;) {
      const now = await server.get<BatchReply>(`/batches/${batch.id}`);
      if (now.done >= done || !['queued', 'running'].includes(now.state)) return now;
      await new Promise((r) => setTimeout(r, 250));
    }
  };
  await reached(1000);
  const early = memoryOf(server.pid).now;
  const over = reached(10_000);
  const times = await whileWorking(server.url, ['/projects', `/batches/${batch.id}`, '/batches', `/sets/${id}`], over);
  const { done, elapsed, idle } = await over;
  const grown = memoryOf(server.pid).now - early;
  report.figure('10 000 frames of 16 × 16: frames a second', (done / elapsed).toFixed(1), done === 10_000);
  report.figure(
    'milliseconds a frame in which the workers did not trace',
    ((1000 * elapsed * (idle ?? 1)) / done).toFixed(2),
    elapsed * (idle ?? 1) < 0.004 * done,
  );
  report.figure('memory of the server, MB more at the 10 000th frame than at the 1 000th', grown.toFixed(0), grown < 50);
  report.figure('95th percentile of GETs meanwhile, ms', percentile(times, 0.95).toFixed(1), percentile(times, 0.95) < 50);
  await server.end();
}

/** Longest block of the server's event loop since this was asked last, in milliseconds. */
async function longestBlock(server: TestServer): Promise<number> {
  return (await server.get<{ longestBlockMs: number }>('/health')).longestBlockMs;
}

/** Full HD frames in every file type: grading and encoding them holds up nobody. */
export async function largeFrames(report: Report): Promise<void> {
  const server = new TestServer(0, { COLD_EASEL_LOG: 'warn' });
  await server.start();
  const project = await server.send<ProjectReply>('POST', '/projects', { name: 'Large' });
  const { revisions } = await importObj(server, project.id, blockObj().obj);
  const sheet = {
    size: { width: 1920, height: 1080 },
    quality: 'quick',
    files: [{ type: 'png', bits: 16 }, { type: 'jpeg' }, { type: 'exr', bits: 16 }],
    passes: ['beauty', 'depth', 'normal'],
  };
  const { id } = await server.send<SetReply>('POST', `/projects/${project.id}/sets`, { file: { ...turntables('Large', 1, 12), sheet } });
  const batch = await server.send<BatchReply>('POST', `/sets/${id}/batches`, { revision: revisions[0]!.id });
  await new Promise((r) => setTimeout(r, 2000));
  await longestBlock(server);
  const { done, elapsed } = await ended(server, batch.id);
  const block = await longestBlock(server);
  report.figure('12 full HD frames with three passes in three types: seconds', elapsed.toFixed(1), done === 12);
  report.figure('longest block of the event loop meanwhile, ms', String(block), block < 50);
  await server.end();
}

/** A batch of 100 000 frames is started; nobody else waits for it. */
export async function hugeBatch(report: Report): Promise<void> {
  const server = new TestServer(0, { COLD_EASEL_LOG: 'warn' });
  await server.start();
  const project = await server.send<ProjectReply>('POST', '/projects', { name: 'Huge' });
  const { revisions } = await importObj(server, project.id, blockObj().obj);
  const { id } = await server.send<SetReply>('POST', `/projects/${project.id}/sets`, { file: turntables('Huge', 250, 400) });
  await longestBlock(server);
  const started = performance.now();
  let seconds = 0;
  const work = server.send<BatchReply>('POST', `/sets/${id}/batches`, { revision: revisions[0]!.id }).then((batch) => {
    seconds = (performance.now() - started) / 1000;
    return batch;
  });
  const times = await whileWorking(server.url, ['/projects'], work);
  const block = await longestBlock(server);
  const batch = await work;
  report.figure('batch of 100 000 frames: seconds to start', seconds.toFixed(2), batch.total === 100_000 && seconds < 4);
  report.figure('longest block of the event loop meanwhile, ms', String(block), block < 50);
  report.figure('longest wait of a GET meanwhile, ms', Math.max(...times).toFixed(0), Math.max(...times) < 250);
  const pages = performance.now();
  const page = await server.get<unknown[]>(`/batches/${batch.id}/frames?from=50000&limit=2000`);
  report.figure('a page of 2 000 of its frames, ms', (performance.now() - pages).toFixed(0), page.length === 2000);
  const list: number[] = [];
  for (let i = 0; i < 40; i++) {
    const at = performance.now();
    await server.get('/projects');
    list.push(performance.now() - at);
  }
  report.figure('list of projects beside it, ms (95th percentile)', percentile(list, 0.95).toFixed(1), percentile(list, 0.95) < 50);
  await server.send('POST', `/batches/${batch.id}/stop`);
  await server.end();
}

/** A model of 100 000 parts and its next revision, with every part renamed. */
export async function manyParts(report: Report): Promise<void> {
  const server = new TestServer(0, { COLD_EASEL_LOG: 'warn' });
  await server.start();
  const project = await server.send<ProjectReply>('POST', '/projects', { name: 'Parts' });
  const obj = (prefix: string): string => {
    const lines: string[] = [];
    for (let i = 0; i < 100_000; i++) {
      const [x, z] = [(i % 400) * 2, Math.floor(i / 400) * 2];
      lines.push(`o ${prefix}${i}`, `v ${x} 0 ${z}`, `v ${x + 1} 0 ${z}`, `v ${x} 1 ${z}`, `f ${3 * i + 1} ${3 * i + 2} ${3 * i + 3}`);
    }
    return lines.join('\n');
  };
  await importObj(server, project.id, obj('a'));
  const started = performance.now();
  const work = importObj(server, project.id, obj('b'), 'next.obj');
  const times = await whileWorking(server.url, ['/projects', `/projects/${project.id}`, '/health'], work);
  const after = await work;
  report.figure('next revision of 100 000 parts: seconds', ((performance.now() - started) / 1000).toFixed(1), after.revisions.length === 2);
  report.figure('GETs meanwhile, ms: 95th percentile', percentile(times, 0.95).toFixed(1), percentile(times, 0.95) < 50);
  report.figure('GETs meanwhile, ms: longest', Math.max(...times).toFixed(0), Math.max(...times) < 250);
  const matching = performance.now();
  const match = server.get<{ matches: unknown[] }>(`/revisions/${after.revisions[1]!.id}/match`);
  const beside = await whileWorking(server.url, ['/projects', '/health'], match);
  report.figure(
    'matching them: seconds',
    ((performance.now() - matching) / 1000).toFixed(2),
    (await match).matches.length === 100_001 || (await match).matches.length >= 100_000,
  );
  report.figure('GETs meanwhile, ms: longest', Math.max(...beside).toFixed(0), Math.max(...beside) < 250);
  report.figure('memory of the server, MB at most', memoryOf(server.pid).peak.toFixed(0), memoryOf(server.pid).peak < 600);
  await server.end();
}
