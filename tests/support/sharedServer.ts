/**
 * One server for all files of browser tests that a process runs: what it has compiled and warmed for one is there for the next,
 * and so is what the browser keeps of its pages. Files that ask for the whole of a server, such as its list of projects, its
 * queue, its templates or the times that it learnt, have one of their own.
 */
import type { BatchReply } from '../../src/contract/batches.js';
import { TestServer } from './server.js';

class SharedServer extends TestServer {
  private running = false;

  /** Does nothing where it runs. */
  override async start(): Promise<void> {
    if (this.running) return;
    await super.start();
    this.running = true;
  }

  override async kill(): Promise<void> {
    this.running = false;
    await super.kill();
  }

  /** Ends what a file's tests have set going; the server goes on. */
  override async end(): Promise<void> {
    if (!this.running) return;
    for (const { id, state } of await this.get<BatchReply[]>('/batches'))
      if (['queued', 'running', 'held', 'paused'].includes(state)) await this.send('POST', `/batches/${id}/stop`);
  }

  /** Ends the server itself. */
  async close(): Promise<void> {
    this.running = false;
    await super.end();
  }
}

/** The server of this process. */
export const sharedServer = new SharedServer();
