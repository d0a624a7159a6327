/** The demo as the screenshots show it: its first batches are done, and the lamp's are rendered of both revisions. */
import type { BatchReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { FIRST_LOOK } from '../../demo/sets.js';
import type { TestServer } from '../../tests/support/server.js';

/** Where things of the demo are. */
export interface Demo {
  server: TestServer;
  /** Address of a step of a project's set. */
  at: (project: 'landing' | 'lamp', set: string, step: string, query?: string) => string;
  /** Starts a batch of a set of the lamp. */
  begin: (set: string, choice: object) => Promise<BatchReply>;
  revision: (name: string) => number;
}

/** Waits until something is so. @throws after ten minutes. */
export async function until(so: () => Promise<boolean>): Promise<void> {
  const end = Date.now() + 600_000;
  while (!(await so())) {
    if (Date.now() > end) throw new Error('The demo did not become as the screenshots need it within ten minutes.');
    await new Promise((r) => setTimeout(r, 500));
  }
}

/** Waits until every batch is over. */
export const allOver = (server: TestServer): Promise<void> =>
  until(async () => {
    const batches = await server.get<BatchReply[]>('/batches');
    return batches.length >= 2 && batches.every(({ state }) => state === 'done');
  });

/** Prepares what is on the wall. */
export async function prepareDemo(server: TestServer): Promise<Demo> {
  await allOver(server);
  for (const template of ['daylight-four', 'entrance-walk']) await server.send<SetReply>('POST', '/projects/1/sets/from-template', { template });
  const projects = await server.get<ProjectReply[]>('/projects');
  const named = (name: RegExp): ProjectReply => projects.find((p) => name.test(p.name))!;
  const [landing, lamp] = [named(/Landing/), named(/desk lamp/)];
  const setOf = (project: ProjectReply, name: string): number => project.sets.find((s) => s.name === name)!.id;
  const demo: Demo = {
    server,
    at: (of, set, step, query = '') => {
      const project = of === 'lamp' ? lamp : landing;
      return `${server.url}/p/${project.id}/s/${setOf(project, set)}/${step}${query}`;
    },
    revision: (name) => lamp.revisions.find((r) => r.letter === name)!.id,
    begin: async (set, choice) => {
      const reply = await server.send<BatchReply>('POST', `/sets/${setOf(lamp, set)}/batches`, { firstFrames: 0, ...choice });
      if (!('id' in reply)) throw new Error(`A batch of ${set} was refused: ${JSON.stringify(reply)}`);
      return reply;
    },
  };
  const a = demo.revision('A');
  const b = demo.revision('B');
  await demo.begin(FIRST_LOOK, { revision: a });
  for (const revision of [a, b]) await demo.begin('Product review', { revision, shots: ['stills', 'turntable'], select: 'first every 9' });
  await allOver(server);
  return demo;
}
