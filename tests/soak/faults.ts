/** A disk that is full in truth, and a database that another program locks for forty seconds. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { connect, DATABASE_FILE } from '../../src/server/db/connection.js';
import { blockObj } from '../support/box.js';
import { TestServer } from '../support/server.js';
import { leftovers } from './killing.js';
import { importObj, turntables } from './load.js';
import type { Report } from './report.js';

async function until(ask: () => Promise<BatchReply>, good: (b: BatchReply) => boolean, seconds = 120): Promise<BatchReply> {
  for (let i = 0; i < seconds * 10; i++) {
    const now = await ask();
    if (good(now)) return now;
    await new Promise((r) => setTimeout(r, 100));
  }
  throw new Error('it did not get there');
}

async function ready(server: TestServer, frames: number): Promise<{ start: () => Promise<BatchReply>; set: SetReply }> {
  await server.start();
  const project = await server.send<ProjectReply>('POST', '/projects', { name: 'Faults' });
  // Metres: the file's numbers are millimetres, and a camera within the block would see nothing.
  const inMetres = blockObj().obj.replace(/^v .*$/gm, (line) => line.replace(/-?[\d.]+/g, (n) => String(Number(n) / 100)));
  const { revisions } = await importObj(server, project.id, inMetres);
  const file = {
    ...turntables('Faults', 1, frames),
    sheet: { size: { width: 320, height: 180 }, quality: { samples: 1 }, files: [{ type: 'png', bits: 16 }] },
  };
  const set = await server.send<SetReply>('POST', `/projects/${project.id}/sets`, { file });
  return { set, start: () => server.send<BatchReply>('POST', `/sets/${set.id}/batches`, { revision: revisions[0]!.id, anew: true }) };
}

/** A disk of 24 MB that fills up half way through a batch, with a server that dies on it and comes back. */
export async function fullDisk(report: Report): Promise<void> {
  const disk = mkdtempSync(path.join(tmpdir(), 'easel-disk-'));
  if (spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=24m', 'tmpfs', disk]).status !== 0) {
    report.figure('a disk that is full in truth', 'not run: this user may not mount one', true);
    return;
  }
  try {
    const data = path.join(disk, 'data');
    mkdirSync(data);
    const server = new TestServer(0, { COLD_EASEL_DATA: data, COLD_EASEL_LOG: 'silent', COLD_EASEL_RESERVE_MB: '0' });
    const { start, set } = await ready(server, 40);
    const { id } = await start();
    const batch = (): Promise<BatchReply> => server.get<BatchReply>(`/batches/${id}`);
    await until(batch, (b) => b.done >= 5);
    // All but the last kilobytes.
    let size = 20 * 2 ** 20;
    for (let n = 0; size > 2048; n++) {
      try {
        writeFileSync(path.join(disk, `ballast-${n}`), Buffer.alloc(size));
      } catch {
        size = Math.floor(size / 2);
      }
    }
    const held = await until(batch, (b) => b.state === 'held');
    report.figure(
      'on a full disk the batch is held, with no frame burnt',
      `${held.done} done, ${held.failed} failed`,
      held.failed === 0 && held.done < 40,
    );
    const refused = await fetch(`${server.url}/api/sets/${set.id}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({
        file: {
          ...set.file,
          views: [set.file.views[0]!, ...Array.from({ length: 300 }, (_, i) => ({ ...set.file.views[0]!, id: `more-${i}`, name: `View ${i}` }))],
        },
        version: set.version,
      }),
    });
    const { code, detail } = (await refused.json()) as { code?: string; detail?: string };
    report.figure('an edit on it is refused with', `${refused.status}: ${detail}`, refused.status === 507 && code === 'disk-full');
    await server.kill();
    let again = 'starts';
    try {
      await server.start();
    } catch {
      again = 'does not start, and says so';
    }
    report.figure('killed on it, the server', again, true);
    for (const f of readdirSync(disk)) if (f.startsWith('ballast')) rmSync(path.join(disk, f));
    if (again !== 'starts') await server.start();
    const end = await until(batch, (b) => b.state === 'done');
    const frames = await server.get<FrameReply[]>(`/batches/${id}/frames`);
    const torn = frames.flatMap((f) => f.files).filter((f) => readFileSync(path.join(end.folder, f)).subarray(-8, -4).toString('latin1') !== 'IEND');
    report.figure(
      'with room again it goes on by itself: done, torn, leftovers',
      `${end.done} of 40, ${torn.length}, ${leftovers(data).length}`,
      end.done === 40 && torn.length === 0 && leftovers(data).length === 0,
    );
    await server.kill();
  } finally {
    spawnSync('umount', [disk]);
    rmSync(disk, { recursive: true, force: true });
  }
}

/** Another program holds the database for forty seconds in the middle of a batch. */
export async function lockedDatabase(report: Report, seconds = 40): Promise<void> {
  const server = new TestServer(0, { COLD_EASEL_LOG: 'silent' });
  const { start } = await ready(server, 60);
  const { id } = await start();
  const batch = (): Promise<BatchReply> => server.get<BatchReply>(`/batches/${id}`);
  await until(batch, (b) => b.done >= 3);
  const other = connect(path.join(server.data, DATABASE_FILE));
  for (let i = 0; ; i++) {
    try {
      await other.query('BEGIN IMMEDIATE');
      break;
    } catch (e) {
      if (i > 200) throw e;
    }
  }
  await new Promise((r) => setTimeout(r, seconds * 1000));
  const held = await batch();
  await other.query('ROLLBACK');
  await other.close();
  report.figure(
    `with the database locked for ${seconds} s the batch is`,
    `${held.state}, ${held.failed} failed`,
    held.state === 'held' && held.failed === 0,
  );
  const end = await until(batch, (b) => b.state === 'done');
  report.figure('and goes on by itself', `${end.done} of 60, ${end.failed} failed`, end.done === 60 && end.failed === 0);
  await server.end();
}
