/** A server with batches of tiny frames of every kind, and what becomes of their files. */
import { readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { blockObj } from '../support/box.js';
import { TestServer } from '../support/server.js';
import { importObj, turntables } from './load.js';

export const rest = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));
export const quiet = { COLD_EASEL_LOG: 'silent' };

/** Asks until the answer is good, for a minute and a half. */
export async function until<T>(ask: () => Promise<T>, good: (now: T) => boolean): Promise<T> {
  for (let i = 0; i < 3000; i++) {
    const now = await ask();
    if (good(now)) return now;
    await rest(30);
  }
  throw new Error('it did not get there');
}

/** Turntables of so many frames together, and a few frames of every other kind of shot. */
function everyKind(name: string, frames: number): object {
  const set = turntables(name, 2, frames / 2);
  const site = { latitude: 59.9, longitude: 19.3, timeZone: 'Europe/Mariehamn' };
  return {
    ...set,
    stage: { site },
    // From outside: the block is 400 m wide.
    views: [{ id: 'v', name: 'V', eye: [700, 450, 900], target: [0, 100, 0] }],
    shots: [
      ...set.shots,
      { id: 'still', kind: 'still', views: ['v'] },
      { id: 'sun', kind: 'sunStudy', view: 'v', dates: ['2026-06-21'], from: '10:00', to: '12:00', stepMinutes: 60 },
      { id: 'walk', kind: 'walkthrough', stations: [{ eye: [700, 200, 900] }, { eye: [600, 200, 800], seconds: 0.2 }], look: 'ahead' },
      { id: 'rise', kind: 'sectionReveal', view: 'v', stations: [{ height: 60 }, { height: 140, seconds: 0.2 }] },
    ],
  };
}

/** A server with a model and a set of tiny frames. */
export async function ready(
  frames: number,
  { env = {}, sheet = {} }: { env?: Record<string, string>; sheet?: object } = {},
): Promise<{ server: TestServer; project: ProjectReply; set: SetReply; start: (choice?: object) => Promise<BatchReply> }> {
  const server = new TestServer(0, { ...quiet, ...env });
  await server.start();
  const made = await server.send<ProjectReply>('POST', '/projects', { name: 'Kills' });
  const project = await importObj(server, made.id, blockObj().obj);
  const set = await server.send<SetReply>('POST', `/projects/${made.id}/sets`, {
    file: { ...everyKind('Kills', frames), sheet: { size: { width: 64, height: 36 }, quality: { samples: 8 }, ...sheet } },
  });
  const start = (choice = {}): Promise<BatchReply> =>
    server.send<BatchReply>('POST', `/sets/${set.id}/batches`, { revision: project.revisions[0]!.id, anew: true, ...choice });
  return { server, project, set, start };
}

/** The files of a batch that its rows name, by name. */
export const filesOf = async (server: TestServer, id: number): Promise<{ files: Map<string, Buffer>; names: string[]; folder: string }> => {
  const { folder } = await server.get<BatchReply>(`/batches/${id}`);
  const frames = await server.get<FrameReply[]>(`/batches/${id}/frames?limit=5000`);
  const names = frames.flatMap((f) => f.files);
  return { folder, names, files: new Map(names.map((n) => [n, readFileSync(path.join(folder, n))])) };
};

/** Frames of a batch that are not those of an undisturbed run, and whether its folder has more or fewer files than its rows name. */
export async function compare(
  server: TestServer,
  id: number,
  reference: { files: Map<string, Buffer> },
): Promise<{ wrong: number; doubled: boolean }> {
  const { files, names, folder } = await filesOf(server, id);
  const wrong = [...reference.files].filter(([name, bytes]) => !files.get(name)?.equals(bytes)).length;
  const there = readdirSync(folder, { recursive: true })
    .map(String)
    .filter((f) => statSync(path.join(folder, f)).isFile());
  return { wrong, doubled: there.length !== names.length || new Set(names).size !== names.length };
}
