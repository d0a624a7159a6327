/** Kills while kept light is developed, while masters make way, and while frames are rendered in strips. */
import { readdirSync, statSync } from 'node:fs';
import path from 'node:path';
import type { BatchReply } from '../../src/contract/batches.js';
import type { SetReply } from '../../src/contract/contract.js';
import { isDone, leftovers, roll } from './killing.js';
import type { Report } from './report.js';
import { compare, filesOf, ready, rest } from './tinyBatch.js';

/** Files that are developed of masters, at any instant; then the same where there is room for few of them, so that others go all the time. */
export async function developing(report: Report, count: number, mastersGb?: string): Promise<void> {
  const { server, set, start } = await ready(60, { env: mastersGb === undefined ? {} : { COLD_EASEL_MASTERS_GB: mastersGb } });
  const done = isDone(server);
  await done((await start()).id);
  let { version } = set;
  let [wrong, doubled, parts, over, developed] = [0, 0, 0, 0, 0];
  for (let i = 0; i < count; i++) {
    const file = { ...set.file, grade: { ...set.file.grade, exposure: (i + 1) / 50 } };
    ({ version } = await server.send<SetReply>('PUT', `/sets/${set.id}`, { file, version }));
    const { id } = await start({ anew: false });
    await rest(roll() * 500);
    await server.kill();
    await server.start();
    parts += leftovers(server.data).length;
    const batch = await done(id);
    developed += batch.developed;
    const found = await compare(server, id, await filesOf(server, (await done((await start()).id)).id));
    wrong += found.wrong;
    if (found.doubled) doubled++;
    const { bytes, budget } = await server.get<{ bytes: number; budget: number }>('/masters');
    const there = readdirSync(path.join(server.data, 'masters'), { recursive: true, withFileTypes: true }).filter((f) => f.isFile());
    if (bytes > budget || there.reduce((n, f) => n + statSync(path.join(f.parentPath, f.name)).size, 0) !== bytes) over++;
  }
  const where = mastersGb === undefined ? 'while frames were developed' : `of it while masters of ${mastersGb} GB made way`;
  report.figure(
    `${count} kills ${where}: frames lost, torn or other than rendered ones, batches with doubled files, leftovers, masters that rows do not name or beyond the budget`,
    `${wrong}, ${doubled}, ${parts}, ${over} (${developed} developed)`,
    wrong + doubled + parts + over === 0 && developed > 0,
  );
  await server.end();
}

/** Frames that are too large for the memory that they may have. */
export async function strips(report: Report, count: number): Promise<void> {
  const { server, start } = await ready(2, { env: { COLD_EASEL_FRAMES_MB: '1' }, sheet: { size: { width: 96, height: 320 } } });
  const done = isDone(server);
  const reference = await filesOf(server, (await done((await start()).id)).id);
  let [wrong, doubled, parts, kills] = [0, 0, 0, 0];
  while (kills < count) {
    const { id } = await start();
    for (;;) {
      if ((await server.get<BatchReply>(`/batches/${id}`)).state === 'done') break;
      await rest(100 + roll() * 1500);
      if (kills >= count) continue;
      await server.kill();
      kills++;
      await server.start();
      parts += leftovers(server.data).length;
    }
    const found = await compare(server, id, reference);
    wrong += found.wrong;
    if (found.doubled) doubled++;
  }
  const films = readdirSync(path.join(server.data, 'checkpoints')).length;
  report.figure(
    `${kills} kills while frames were rendered in strips: frames lost or torn, batches with doubled files, leftovers, films left`,
    `${wrong}, ${doubled}, ${parts}, ${films}`,
    wrong + doubled + parts + films === 0,
  );
  await server.end();
}
