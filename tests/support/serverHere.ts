/** A server in the test's own process, with a data folder of its own that goes with it. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import request from 'supertest';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import type { SetFile } from '../../src/core/plan/set.js';
import { type RunningServer, startServer } from '../../src/server/start.js';
import { blockObj } from './box.js';
import { importOnce } from './importOnce.js';
import { wrongReply } from './wrongReply.js';

/** One worker, and no room of the disk held back. One database a process, so one of these at a time. */
export class ServerHere {
  private server: RunningServer | null = null;
  private data = '';
  /** Replies that were not as described. */
  private readonly wrong: string[] = [];

  /** @throws where it is not started. */
  get running(): RunningServer {
    if (!this.server) throw new Error('The server of this test is not started.');
    return this.server;
  }

  async start(): Promise<void> {
    this.data = mkdtempSync(path.join(tmpdir(), 'easel-test-'));
    this.server = await startServer({ warm: false, data: this.data, port: 0, workers: 1, logLevel: 'silent', reserveBytes: 0 });
    this.server.context.importFiles = importOnce;
    this.server.context.onReply = (route, status, body) => this.wrong.push(...wrongReply(route, status, body));
  }

  async end(): Promise<void> {
    await this.server?.close();
    this.server = null;
    rmSync(this.data, { recursive: true, force: true });
    if (this.wrong.length > 0) throw new Error(`Replies are not as the interface is described:\n${[...new Set(this.wrong)].join('\n')}`);
  }

  call(): ReturnType<typeof request> {
    return request(this.running.url);
  }

  /** A project with a block of 400 × 300 × 200 units. @param query of the import, such as `?unit=mm&up=z`. */
  async blockProject(name = 'Block', query = ''): Promise<ProjectReply> {
    const made = (await this.call().post('/api/projects').send({ name })).body as ProjectReply;
    const reply = await this.call().post(`/api/projects/${made.id}/model${query}`).attach('files', Buffer.from(blockObj().obj), 'block.obj');
    return reply.body as ProjectReply;
  }

  async addSet(project: ProjectReply, file: SetFile): Promise<SetReply> {
    return (await this.call().post(`/api/projects/${project.id}/sets`).send({ file })).body as SetReply;
  }
}
