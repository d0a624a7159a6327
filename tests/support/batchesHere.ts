/** Batches of tiny turntables on a server in the test's own process: a project a test, whose pictures no other test has. */
import { executorLike } from './executors.js';
import { afterAll, afterEach, beforeAll, beforeEach, expect } from 'vitest';
import type { ChangesReply } from '../../src/contract/changes.js';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import type { Vec3 } from '../../src/core/math/bounds.js';
import { customQualitySchema } from '../../src/core/frame/settings.js';
import type { SetFile } from '../../src/core/plan/set.js';
import type { Executor } from '../../src/server/executor/executor.js';
import { ServerHere } from './serverHere.js';
import { spin } from './spin.js';
import { until } from './until.js';

/** A server in this process whose batches a test steers. */
export class BatchesHere {
  readonly server = new ServerHere();
  project!: ProjectReply;
  private executor!: Executor;
  private hook: string | null = null;
  private tests = 0;

  /** To be made where tests are described: it starts the server before them and ends it after. */
  constructor() {
    beforeAll(async () => {
      await this.server.start();
      ({ executor: this.executor } = this.server.running.context);
    });
    beforeEach(async () => {
      this.tests++;
      this.project = await this.server.blockProject(`Block ${this.tests}`, '?unit=mm&up=z');
    });
    afterEach(() => {
      this.server.running.context.executor = this.executor;
      this.server.running.context.config.hook = this.hook;
    });
    afterAll(() => this.server.end());
  }

  get revision(): number {
    return this.project.revisions[0]!.id;
  }

  /** The view of this test, which no other test has. */
  get view(): SetFile['views'][number] {
    const eye: Vec3 = [0.9 + this.tests / 100, 0.5, 1.2];
    return { ...spin(1).views[0]!, eye, target: [0, 0.1, 0] };
  }

  /** A set with a turntable of so many frames. */
  file(frames: number, samples = 4): SetFile {
    const plain = spin(frames);
    const quality = customQualitySchema.parse({ samples, denoise: false });
    return { ...plain, views: [this.view], sheet: { ...plain.sheet, size: { width: 64, height: 36 }, quality } };
  }

  addSet(file: SetFile): Promise<SetReply> {
    return this.server.addSet(this.project, file);
  }

  async save(set: SetReply, to: SetFile): Promise<void> {
    const { version } = (await this.server.call().get(`/api/sets/${set.id}`)).body as SetReply;
    const reply = await this.server.call().put(`/api/sets/${set.id}`).send({ file: to, version });
    expect(reply.status).toBe(200);
  }

  async start(set: SetReply, choice: object = {}): Promise<BatchReply> {
    const reply = await this.server
      .call()
      .post(`/api/sets/${set.id}/batches`)
      .send({ revision: this.revision, firstFrames: 0, ...choice });
    expect([reply.status, reply.body]).toEqual([201, expect.anything()]);
    return reply.body as BatchReply;
  }

  async batch(id: number): Promise<BatchReply> {
    return (await this.server.call().get(`/api/batches/${id}`)).body as BatchReply;
  }

  async frames(id: number): Promise<FrameReply[]> {
    return (await this.server.call().get(`/api/batches/${id}/frames`)).body as FrameReply[];
  }

  async changes(set: SetReply, more = '', revision = this.revision): Promise<ChangesReply> {
    return (await this.server.call().get(`/api/sets/${set.id}/changes?revision=${revision}${more}`)).body as ChangesReply;
  }

  until(id: number, is: (batch: BatchReply) => boolean): Promise<BatchReply> {
    return until(() => this.batch(id), is);
  }

  /** The batch of that id once it is done. */
  whole(id: number): Promise<BatchReply> {
    return this.until(id, (b) => b.state === 'done');
  }

  async rendered(set: SetReply, choice: object = {}): Promise<BatchReply> {
    return this.whole((await this.start(set, choice)).id);
  }

  /** Puts another executor in the place of the server's until the end of the test. */
  instead(render: (executor: Executor, ...asked: Parameters<Executor['render']>) => ReturnType<Executor['render']>): void {
    const { executor } = this;
    this.server.running.context.executor = executorLike(executor, { render: (...asked) => render(executor, ...asked) });
  }

  /** Does something before each frame is rendered. */
  before(act: (name: string) => Promise<void> | void): void {
    this.instead(async (executor, ...asked) => {
      await act(asked[0].name);
      return executor.render(...asked);
    });
  }

  async move(id: number, place: object): Promise<void> {
    const reply = await this.server.call().put(`/api/batches/${id}/place`).send(place);
    expect([reply.status, reply.body]).toEqual([200, expect.anything()]);
  }
}
