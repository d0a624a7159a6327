/** A build of ffmpeg that lacks an encoder: it is told, and what it cannot write is refused before a movie is begun. */
import { execFileSync } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { blockObj } from '../../../tests/support/box.js';
import { TestServer } from '../../../tests/support/server.js';
import { spin } from '../../../tests/support/spin.js';
import { until } from '../../../tests/support/until.js';
import type { BatchReply } from '../../contract/batches.js';
import type { ProjectReply, SetReply } from '../../contract/contract.js';
import type { EncoderReply } from '../../contract/packages.js';
import { lackedCodecs } from '../../core/movie/clip.js';
import { findFfmpeg } from '../../engine/node/ffmpeg.js';

const folder = mkdtempSync(path.join(tmpdir(), 'easel-encoder-'));
const wrapper = path.join(folder, 'ffmpeg');
// It is what is there, but for two encoders that it does not tell of.
const real = `PATH='${process.env.PATH}' '${findFfmpeg()}' "$@"`;
writeFileSync(wrapper, `#!/bin/sh\ncase "$*" in *-encoders*) ${real} | grep -vE ' (libx265|libaom-av1) ';; *) ${real};; esac\n`);
chmodSync(wrapper, 0o755);
// In a process of its own: what was found is remembered.
const server = new TestServer(0, { PATH: `${folder}:${process.env.PATH}` });
beforeAll(() => server.start());
afterAll(async () => {
  await server.end();
  rmSync(folder, { recursive: true, force: true });
});

it('is told, and refused by name before a movie is begun; others are made', async () => {
  expect((await server.get<EncoderReply>('/encoder')).lacks).toEqual(['h265', 'av1']);
  const { id: project } = await server.send<ProjectReply>('POST', '/projects', { name: 'Block' });
  const { revisions } = await server.bring(project, Buffer.from(blockObj().obj), 'block.obj');
  const set = await server.send<SetReply>('POST', `/projects/${project}/sets`, { file: spin(2) });
  const { id } = await server.send<BatchReply>('POST', `/sets/${set.id}/batches`, { revision: revisions[0]!.id });
  const batch = (): Promise<BatchReply> => server.get<BatchReply>(`/batches/${id}`);
  await until(batch, ({ state }) => state === 'done');
  const ask = (codec: string) => server.send<{ detail?: string }>('POST', `/batches/${id}/clips`, { shot: 'spin', options: { codec } });
  expect((await ask('h265')).detail).toMatch(/^ffmpeg [\w.-]+ cannot write H\.265\. Choose another codec/);
  const before = (await batch()).clips.length;
  expect((await ask('vp9')).detail).toBeUndefined();
  const { clips } = await until(batch, (b) => b.clips.length > before && b.clips.every((c) => c.state !== 'making'));
  expect(clips.map((c) => [c.codec, c.state])).toContainEqual(['vp9', 'ready']);
});

it('of one that has all of them lacks nothing, and of none lacks everything', () => {
  expect(lackedCodecs(execFileSync(findFfmpeg(), ['-hide_banner', '-encoders'], { encoding: 'utf8' }))).toEqual([]);
  expect(lackedCodecs('Encoders:\n V..... = Video\n ------\n')).toHaveLength(9);
});
