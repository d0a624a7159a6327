/** What a crash, a full queue or a broken file may do to the server: nothing that is lost. */
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { formatSheetSchema } from '../../src/core/plan/formatSheet.js';
import { emptySet, type SetFile } from '../../src/core/plan/set.js';
import { openDatabase } from '../../src/server/db/connection.js';
import { Project } from '../../src/server/db/models.js';
import { readModel } from '../../src/formats/formats.js';
import { blockObj, ternGlb } from '../support/box.js';
import { TestServer } from '../support/server.js';
import { longTest } from '../support/long.js';
import { until } from '../support/until.js';

function spin(frames: number): SetFile {
  const set = emptySet('Recovery');
  return {
    ...set,
    sheet: formatSheetSchema.parse({ ...set.sheet, size: { width: 96, height: 54 }, quality: { samples: 8 } }),
    views: [{ id: 'v', name: 'View', kind: 'perspective', eye: [0.8, 0.4, 1], target: [0, 0.2, 0], focalLength: 50, keepVerticals: false }],
    shots: [
      {
        id: 'spin',
        kind: 'turntable',
        view: 'v',
        frames,
        degrees: 360,
        start: 0,
        direction: 'clockwise',
        turns: ['subject'],
        pivot: 'centre',
        thereAndBack: false,
        ease: false,
      },
    ],
  };
}

describe('a server that is killed again and again', () => {
  const server = new TestServer(4912);
  let set: SetReply;
  let revision = 0;
  beforeAll(async () => {
    await server.start();
    const project = await server.send<ProjectReply>('POST', '/projects', { name: 'Lamp' });
    const withModel = await server.bring(project.id, await ternGlb());
    revision = withModel.revisions[0]!.id;
    set = await server.send<SetReply>('POST', `/projects/${project.id}/sets`, { file: spin(24) });
  });
  afterAll(() => server.end());

  const batch = (id: number): Promise<BatchReply> => server.get<BatchReply>(`/batches/${id}`);
  const reach = (id: number, done: number): Promise<BatchReply> =>
    until(
      () => batch(id),
      (now) => now.done >= done || now.state === 'held',
    );

  it('goes on where it stopped, with every frame whole and none twice', async () => {
    const { id } = await server.send<BatchReply>('POST', `/sets/${set.id}/batches`, { revision, anew: true });
    const times = new Map<string, number>();
    for (const stop of [3, 9, 16]) {
      const { folder } = await reach(id, stop);
      await server.kill();
      for (const name of readdirSync(folder, { recursive: true }).map(String)) {
        if (!name.endsWith('.png')) continue;
        const changed = statSync(path.join(folder, name)).mtimeMs;
        // A file that a row calls done is not touched again; one whose row was not written may be.
        if (times.has(name) && times.get(name) !== changed) times.set(name, -1);
        else times.set(name, changed);
      }
      await server.start();
    }
    const end = await reach(id, 24);
    expect(end).toMatchObject({ done: 24, failed: 0 });
    const frames = await server.get<FrameReply[]>(`/batches/${id}/frames`);
    expect(frames.map((f) => f.number)).toEqual(Array.from({ length: 24 }, (_, i) => i + 1));
    const files = readdirSync(end.folder, { recursive: true })
      .map(String)
      .filter((f) => statSync(path.join(end.folder, f)).isFile());
    expect(files.sort()).toEqual(frames.flatMap((f) => f.files).sort());
    // Each PNG ends with its end mark: none is torn.
    for (const f of files) expect(readFileSync(path.join(end.folder, f)).subarray(-8, -4).toString('latin1')).toBe('IEND');
    // At most the frames that were in work at a kill were written a second time.
    expect([...times.values()].filter((t) => t === -1).length).toBeLessThanOrEqual(9);
  });

  longTest('renders a finished frame again whose file was lost, while its batch is open', async () => {
    const { id } = await server.send<BatchReply>('POST', `/sets/${set.id}/batches`, { revision, anew: true });
    const { folder } = await reach(id, 4);
    await server.send('POST', `/batches/${id}/pause`);
    const frames = await server.get<FrameReply[]>(`/batches/${id}/frames`);
    const lost = frames.find((f) => f.state === 'done')!;
    await server.kill();
    rmSync(path.join(folder, lost.files[0]!));
    writeFileSync(path.join(folder, 'Recovery', 'spin', 'half.png.part'), 'cut off');
    await server.start();
    const after = await server.get<FrameReply[]>(`/batches/${id}/frames`);
    expect(after.find((f) => f.id === lost.id)!.state).toBe('waiting');
    expect((await batch(id)).state).toBe('paused');
    await server.send('POST', `/batches/${id}/resume`);
    await reach(id, 24);
    expect(readdirSync(path.join(folder, 'Recovery', 'spin')).filter((f) => f.endsWith('.part'))).toEqual([]);
    expect(statSync(path.join(folder, lost.files[0]!)).size).toBeGreaterThan(500);
  });

  longTest('ends a still early by hand, goes on with it through pause and restart, and comes to the same picture', async () => {
    const own = spin(2);
    const stills = (samples: number): SetFile => ({
      ...own,
      name: `Still ${samples}`,
      sheet: formatSheetSchema.parse({ ...own.sheet, size: { width: 240, height: 135 }, quality: { samples, denoise: false } }),
      shots: [{ id: 'still', kind: 'still', views: ['v'] }],
    });
    const start = async (samples: number): Promise<BatchReply> => {
      const made = await server.send<SetReply>('POST', `/projects/${set.projectId}/sets`, { file: stills(samples) });
      return server.send<BatchReply>('POST', `/sets/${made.id}/batches`, { revision, anew: true });
    };
    const only = async (id: number): Promise<FrameReply> => (await server.get<FrameReply[]>(`/batches/${id}/frames`))[0]!;
    const films = (): string[] => readdirSync(path.join(server.data, 'checkpoints'));
    const whole = await start(64);
    await until(
      () => batch(whole.id),
      (b) => b.state === 'done',
    );
    expect(await only(whole.id)).toMatchObject({ samples: 64, ended: 'samples' });
    expect(films()).toEqual([]);

    const { id } = await start(64);
    const running = await until(
      () => batch(id),
      (b) => b.current !== null && b.current.share > 0.05,
    );
    expect(running.current).toMatchObject({ still: true });
    await server.send('POST', `/batches/${id}/frames/${running.current!.id}/finish`);
    await until(
      () => batch(id),
      (b) => b.state === 'done',
    );
    const early = await only(id);
    expect(early.ended).toBe('hand');
    expect(early.samples! % 8).toBe(0);
    expect(early.samples!).toBeLessThan(64);
    expect(films()).toHaveLength(1);
    const file = path.join(running.folder, early.files[0]!);
    const first = readFileSync(file);

    // On from there; paused on the way, and the server killed while it rests.
    await server.send('POST', `/batches/${id}/frames/${early.id}/resume`);
    await until(
      () => batch(id),
      (b) => b.current !== null && b.current.share > 0.05,
    );
    await server.send('POST', `/batches/${id}/pause`);
    // The answer does not wait for what is still summed up and kept.
    await until(
      () => only(id),
      (f) => f.state === 'waiting',
    );
    await server.kill();
    await server.start();
    await server.send('POST', `/batches/${id}/resume`);
    await until(
      () => batch(id),
      (b) => b.state === 'done',
    );
    expect(await only(id)).toMatchObject({ samples: 64, ended: 'samples', state: 'done' });
    expect(films()).toEqual([]);
    expect(readFileSync(file).equals(first)).toBe(false);
    expect(readFileSync(file).equals(readFileSync(path.join((await batch(whole.id)).folder, (await only(whole.id)).files[0]!)))).toBe(true);
    const again = await fetch(`${server.url}/api/batches/${id}/frames/${early.id}/resume`, { method: 'POST' });
    expect([again.status, await again.json()]).toMatchObject([409, { detail: expect.stringContaining('all its samples') as string }]);
  });

  longTest('is paused and resumed in one breath, whatever is still ending', async () => {
    const { id } = await server.send<BatchReply>('POST', `/sets/${set.id}/batches`, { revision, anew: true });
    await reach(id, 1);
    for (let i = 0; i < 4; i++) {
      // Not awaited: the second is asked while the first is still at work.
      const paused = server.send('POST', `/batches/${id}/pause`);
      await new Promise((r) => setTimeout(r, 15 * i));
      const resumed = server.send('POST', `/batches/${id}/resume`);
      await Promise.all([paused, resumed]);
      if ((await batch(id)).state === 'paused') await server.send('POST', `/batches/${id}/resume`);
    }
    expect(await reach(id, 24)).toMatchObject({ done: 24, failed: 0 });
  });

  it('runs batches in order and stops one that waits', async () => {
    const first = await server.send<BatchReply>('POST', `/sets/${set.id}/batches`, { revision, anew: true });
    const second = await server.send<BatchReply>('POST', `/sets/${set.id}/batches`, { revision, anew: true });
    expect(second.number).toBe(first.number + 1);
    expect((await batch(second.id)).state).toBe('queued');
    await server.send('POST', `/batches/${second.id}/stop`);
    expect((await batch(second.id)).state).toBe('stopped');
    await reach(first.id, 2);
    await server.send('POST', `/batches/${first.id}/stop`);
    const stopped = await batch(first.id);
    expect([stopped.state, stopped.remaining]).toEqual(['stopped', 0]);
    const kept = (await server.get<FrameReply[]>(`/batches/${first.id}/frames`)).filter((f) => f.state === 'done');
    expect(kept.length).toBeGreaterThanOrEqual(2);
  });

  it('sweeps away what an import left that was cut off', async () => {
    await server.kill();
    writeFileSync(path.join(server.data, 'models', `${'ab'.repeat(32)}.glb`), 'orphan');
    writeFileSync(path.join(server.data, 'uploads', 'half'), 'half');
    await server.start();
    expect(readdirSync(path.join(server.data, 'models')).some((f) => f.startsWith('abab'))).toBe(false);
    expect(readdirSync(path.join(server.data, 'uploads'))).toEqual([]);
  });
});

describe('the database', () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'easel-db-'));
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  it('takes fifty writes at once, one after another, and rolls one back that fails', async () => {
    const database = await openDatabase(folder);
    await Promise.all(
      Array.from({ length: 50 }, (_, i) => database.write((transaction) => Project.create({ name: `project ${i}` }, { transaction }))),
    );
    await expect(
      database.write(async (transaction) => {
        await Project.create({ name: 'half' }, { transaction });
        throw new Error('stop');
      }),
    ).rejects.toThrow('stop');
    expect(await Project.count()).toBe(50);
    const [[mode]] = (await database.sequelize.query('PRAGMA journal_mode')) as [{ journal_mode: string }[], unknown];
    expect(mode!.journal_mode).toBe('wal');
    await database.close();
    // Opened again, nothing is migrated twice.
    const again = await openDatabase(folder);
    expect(await Project.count()).toBe(50);
    await again.close();
  });
});

describe('damaged models', () => {
  const METRES = { unit: 'm', up: 'y' } as const;

  it('a GLB cut at every twenty kilobytes or with bytes flipped is refused or read, never a crash of another kind', async () => {
    const whole = new Uint8Array(await ternGlb());
    let refused = 0;
    for (let length = 1024; length < whole.length; length += 20_480) {
      await expect(readModel([{ name: 'cut.glb', bytes: whole.slice(0, length) }], METRES)).rejects.toMatchObject({ name: 'ModelError' });
      refused++;
    }
    expect(refused).toBeGreaterThan(40);
    let outcomes = 0;
    for (let k = 0; k < 60; k++) {
      const broken = whole.slice();
      // The description lies first; there every flip may change the meaning.
      broken[20 + ((k * 977) % 12_000)]! ^= 1 << (k % 7);
      await readModel([{ name: 'flip.glb', bytes: broken }], METRES).catch((e: Error) => expect(e.name).toBe('ModelError'));
      outcomes++;
    }
    expect(outcomes).toBe(60);
  });

  it('an OBJ cut anywhere is refused or read', async () => {
    const text = blockObj().obj;
    let tried = 0;
    for (let length = 1; length < text.length; length += 37) {
      tried++;
      await readModel([{ name: 'cut.obj', bytes: new TextEncoder().encode(text.slice(0, length)) }], METRES).catch((e: Error) => {
        expect(e.name).toBe('ModelError');
        expect(e.message).toContain('cut.obj');
      });
    }
    expect(tried).toBeGreaterThan(20);
    expect((await readModel([{ name: 'whole.obj', bytes: new TextEncoder().encode(text) }], METRES)).parts).toHaveLength(2);
  });
});
