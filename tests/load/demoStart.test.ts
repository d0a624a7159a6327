/** The first start with the demo, from an empty data folder to the first thing that anybody sees. */
import { readdirSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { tern } from '../../demo/tern.js';
import { modelBounds } from '../../src/core/model/model.js';
import { TestServer } from '../support/server.js';

const server = new TestServer(0, { COLD_EASEL_DEMO: '1', COLD_EASEL_LOG: 'silent' });
let drawn: string[] = [];
beforeAll(async () => {
  await server.start();
  drawn = readdirSync(path.join(server.data, 'thumbnails'));
});
afterAll(() => server.end());

it('has both designs with their revisions and sets when it is ready', async () => {
  const projects = await server.get<ProjectReply[]>('/projects');
  expect(projects.map((p) => [p.name, p.revisions.map((r) => r.letter), p.sets.length])).toEqual([
    ['Northmere Ferry Landing', ['A'], 4],
    ['Tern desk lamp', ['A', 'B'], 6],
  ]);
  expect(projects.flatMap((p) => p.sets.filter((s) => s.problem))).toEqual([]);
  // The build writes what the code of the demo makes.
  const { file } = await server.get<SetReply>(`/sets/${projects[1]!.sets[0]!.id}`);
  expect(file.reference).toEqual(modelBounds(tern()));
});

it('has drawn the covers of the projects page by then, and lists what they are asked for by', async () => {
  expect(drawn.length).toBeGreaterThanOrEqual(2);
  for (const { sets, revisions } of await server.get<ProjectReply[]>('/projects')) {
    const [set] = sets;
    const { content, file } = await server.get<SetReply>(`/sets/${set!.id}`);
    expect(set).toMatchObject({ content, view: file.views[0]!.id });
    const reply = await fetch(
      `${server.url}/api/sets/${set!.id}/thumbnail?revision=${revisions.at(-1)!.id}&view=${set!.view}&width=320&v=${content}-${revisions.at(-1)!.hash.slice(0, 16)}&soon=1`,
    );
    const { width } = await sharp(Buffer.from(await reply.arrayBuffer())).metadata();
    expect([reply.status, [96, 320].includes(width)]).toEqual([200, true]);
  }
});
