/** A build of ffmpeg that lacks an encoder: it is told, and what it cannot write is refused before a movie is begun. */
import { execFileSync, spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, expect, it } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import type { EncoderReply } from '../../contract/packages.js';
import { lackedCodecs } from '../../core/movie/clip.js';

const folder = mkdtempSync(path.join(tmpdir(), 'easel-encoder-'));
const before = process.env.PATH;
// Not by findFfmpeg, which remembers what it found.
const real =
  spawnSync('ffmpeg', ['-version']).status === 0 ? 'ffmpeg' : (createRequire(import.meta.url)('@ffmpeg-installer/ffmpeg') as { path: string }).path;
const wrapper = path.join(folder, 'ffmpeg');
// It is what its name leads to, but for two encoders that it does not tell of.
writeFileSync(
  wrapper,
  `#!/bin/sh\nPATH='${before}'\ncase "$*" in *-encoders*) '${real}' "$@" | grep -vE ' (libx265|libaom-av1) ';; *) exec '${real}' "$@";; esac\n`,
);
chmodSync(wrapper, 0o755);
process.env.PATH = `${folder}:${before}`;
afterAll(() => {
  process.env.PATH = before;
  rmSync(folder, { recursive: true, force: true });
});

const here = new BatchesHere();
const call = () => here.server.call();

it('is told, and refused by name before a movie is begun; others are made', async () => {
  const { lacks } = (await call().get('/api/encoder').expect(200)).body as EncoderReply;
  expect(lacks).toEqual(['h265', 'av1']);
  const { id } = await here.rendered(await here.addSet(here.file(2)));
  const ask = (codec: string) => call().post(`/api/batches/${id}/clips`).send({ shot: 'spin', options: { codec } });
  const refused = await ask('h265');
  expect([refused.status, (refused.body as { detail: string }).detail]).toEqual([
    422,
    expect.stringMatching(/^ffmpeg [\w.]+ cannot write H\.265\. /),
  ]);
  expect((await here.batch(id)).clips).toEqual([]);
  await ask('h264').expect(201);
  await expect.poll(async () => (await here.batch(id)).clips[0]?.state, { timeout: 30_000 }).toBe('ready');
});

it('of one that has all of them lacks nothing, and of none lacks everything', () => {
  expect(lackedCodecs(execFileSync(real, ['-hide_banner', '-encoders'], { encoding: 'utf8', env: { ...process.env, PATH: before } }))).toEqual([]);
  expect(lackedCodecs('Encoders:\n V..... = Video\n ------\n')).toHaveLength(9);
});
