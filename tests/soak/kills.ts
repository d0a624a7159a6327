/** Kills at random instants, as a power cut would: over first starts, migrations, batches, imports, movies and saves. */
import { copyFileSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { BatchReply, ClipReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { ternGlb } from '../support/box.js';
import { TestServer } from '../support/server.js';
import { isDone, leftovers, roll, startAndKill } from './killing.js';
import { developing, strips } from './killsOfLight.js';
import type { Report } from './report.js';
import { compare, filesOf, quiet, ready, rest, until } from './tinyBatch.js';

async function firstStarts(report: Report, count: number): Promise<void> {
  let [broken, killed] = [0, 0];
  for (let i = 0; i < count; i++) {
    const server = new TestServer(0, quiet);
    await startAndKill(server, 150 + roll() * 1300);
    killed++;
    try {
      await server.start();
      if ((await server.get<unknown[]>('/projects')).length !== 0) broken++;
    } catch {
      broken++;
    }
    await server.end();
  }
  report.figure(`${killed} first starts killed: folders that do not start again`, String(broken), broken === 0);
}

async function migrations(report: Report, count: number): Promise<void> {
  let [broken, lost] = [0, 0];
  for (let i = 0; i < count; i++) {
    const version = 1 + (i % 4);
    const data = mkdtempSync(path.join(tmpdir(), 'easel-kill-'));
    copyFileSync(`tests/support/databases/version-${version}.sqlite`, path.join(data, 'cold-easel.sqlite'));
    const server = new TestServer(0, { ...quiet, COLD_EASEL_DATA: data });
    await startAndKill(server, 350 + roll() * 700);
    try {
      await server.start();
      const [project] = await server.get<ProjectReply[]>('/projects');
      if (project?.name !== `Project of version ${version}` || project.sets.length !== 1 || project.revisions.length !== 1) lost++;
    } catch {
      broken++;
    }
    await server.end();
  }
  report.figure(`${count} migrations killed: databases that do not open, or lost rows`, `${broken}, ${lost}`, broken + lost === 0);
}

async function batches(report: Report, count: number): Promise<void> {
  const { server, start } = await ready(60);
  const plain = await start();
  await until(
    () => server.get<BatchReply>(`/batches/${plain.id}`),
    (b) => b.state === 'done',
  );
  const reference = await filesOf(server, plain.id);
  let [kills, wrong, doubled, parts] = [0, 0, 0, 0];
  while (kills < count) {
    const { id } = await start();
    for (let before = 0; ;) {
      // Some frames further on, at any instant of the next ones.
      const some = 1 + Math.floor(roll() * 12);
      const now = await until(
        () => server.get<BatchReply>(`/batches/${id}`),
        (b) => b.state === 'done' || b.done >= before + some,
      );
      if (now.state === 'done') break;
      before = now.done;
      await rest(roll() * 150);
      await server.kill();
      kills++;
      await server.start();
      parts += leftovers(server.data).length;
    }
    const found = await compare(server, id, reference);
    wrong += found.wrong;
    if (found.doubled) doubled++;
  }
  report.figure(
    `${kills} kills during batches: frames lost or torn, batches with doubled files, leftovers`,
    `${wrong}, ${doubled}, ${parts}`,
    wrong + doubled + parts === 0,
  );
  await server.end();
}

/** Files that are linked from an earlier batch: at any instant, several lanes at work. */
async function takeOvers(report: Report, count: number): Promise<void> {
  const { server, start } = await ready(60);
  const done = isDone(server);
  const reference = await filesOf(server, (await done((await start()).id)).id);
  let [wrong, doubled, parts, rendered] = [0, 0, 0, 0];
  for (let i = 0; i < count; i++) {
    const { id } = await start({ anew: false });
    await rest(roll() * 220);
    await server.kill();
    await server.start();
    parts += leftovers(server.data).length;
    const { total, takenOver } = await done(id);
    rendered += total - takenOver;
    const found = await compare(server, id, reference);
    wrong += found.wrong;
    if (found.doubled) doubled++;
  }
  report.figure(
    `${count} kills while frames were taken over: frames lost or torn, batches with doubled files, leftovers, frames rendered again`,
    `${wrong}, ${doubled}, ${parts}, ${rendered}`,
    wrong + doubled + parts + rendered === 0,
  );
  await server.end();
}

async function imports(report: Report, count: number): Promise<void> {
  const server = new TestServer(0, quiet);
  await server.start();
  const project = await server.send<ProjectReply>('POST', '/projects', { name: 'Imports' });
  const glb = new Uint8Array(await ternGlb());
  let [left, torn, lost] = [0, 0, 0];
  for (let i = 0; i < count; i++) {
    const before = (await server.get<ProjectReply>(`/projects/${project.id}`)).revisions.length;
    const form = new FormData();
    form.append('files', new Blob([glb]), 'tern.glb');
    const sent = fetch(`${server.url}/api/projects/${project.id}/model`, { method: 'POST', body: form }).then(
      (r) => r.status,
      () => 0,
    );
    await rest(30 + roll() * 1500);
    await server.kill();
    const status = await sent;
    await server.start();
    left += leftovers(server.data).length;
    const { revisions } = await server.get<ProjectReply>(`/projects/${project.id}`);
    if (status === 201 && revisions.length !== before + 1) lost++;
    for (const r of revisions.slice(-1)) {
      const model = await fetch(`${server.url}/api/models/${r.hash}/model.glb`);
      const scene = await fetch(`${server.url}/api/models/${r.hash}/scene`);
      if (model.status !== 200 || scene.status !== 200) torn++;
      await Promise.all([model.arrayBuffer(), scene.arrayBuffer()]);
    }
  }
  report.figure(`${count} kills during imports: answered and lost, torn, leftovers`, `${lost}, ${torn}, ${left}`, lost + torn + left === 0);
  await server.end();
}

async function movies(report: Report, count: number): Promise<void> {
  const { server, start } = await ready(60);
  const { id } = await start();
  const batch = (): Promise<BatchReply> => server.get<BatchReply>(`/batches/${id}`);
  await until(batch, (b) => b.state === 'done');
  let [left, wrong] = [0, 0];
  for (let i = 0; i < count; i++) {
    await server.send<ClipReply>('POST', `/batches/${id}/clips`, { shot: 's0' });
    await rest(roll() * 350);
    await server.kill();
    await server.start();
    left += leftovers(server.data).length;
    for (const clip of (await batch()).clips) {
      const movie = await fetch(`${server.url}/api/clips/${clip.id}/movie`);
      const bytes = Buffer.from(await movie.arrayBuffer());
      // What is ready is whole; what is not says so.
      if (clip.state === 'ready' ? movie.status !== 200 || bytes.length !== clip.bytes || !bytes.includes('moov') : clip.state !== 'failed') wrong++;
    }
  }
  report.figure(`${count} kills while movies were made: torn or stuck, leftovers`, `${wrong}, ${left}`, wrong + left === 0);
  await server.end();
}

async function saves(report: Report, count: number): Promise<void> {
  const { server, set } = await ready(4);
  let { version } = set;
  let lost = 0;
  let sent = 0;
  for (let i = 0; i < count; i++) {
    let going = true;
    let kept = version;
    const saving = (async () => {
      while (going) {
        try {
          const reply = await fetch(`${server.url}/api/sets/${set.id}`, {
            method: 'PUT',
            headers: { 'content-type': 'application/json' },
            body: JSON.stringify({ file: { ...set.file, name: `Save ${kept + 1}` }, version: kept }),
          });
          if (reply.status !== 200) return;
          kept = ((await reply.json()) as SetReply).version;
          sent++;
        } catch {
          return;
        }
      }
    })();
    await rest(80 + roll() * 400);
    await server.kill();
    going = false;
    await saving;
    await server.start();
    const now = await server.get<SetReply>(`/sets/${set.id}`);
    // One more may have been written whose answer did not arrive.
    if (now.version < kept || now.version > kept + 1 || now.file.name !== `Save ${now.version}`) lost++;
    ({ version } = now);
  }
  report.figure(`${count} kills during ${sent} saves: saves that were answered and lost, or torn`, String(lost), lost === 0);
  await server.end();
}

/** At least 200 kills where `scale` is 1. */
export async function kills(report: Report, scale = 1): Promise<void> {
  const times = (n: number): number => Math.max(1, Math.round(n * scale));
  await firstStarts(report, times(40));
  await migrations(report, times(40));
  await batches(report, times(60));
  await takeOvers(report, times(25));
  await developing(report, times(20));
  await developing(report, times(15), '0.0001');
  await strips(report, times(25));
  await imports(report, times(25));
  await movies(report, times(15));
  await saves(report, times(25));
}
