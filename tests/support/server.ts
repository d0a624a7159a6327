/** A server of its own for a test: own data folder, own port, a process that can be killed. */
import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { ProjectReply } from '../../src/contract/contract.js';
import { SHARED_THUMBNAILS } from './sharedThumbnails.js';

/** A server of a test's own. */
export class TestServer {
  readonly data: string;
  url = '';
  private child: ChildProcess | null = null;

  /**
   * @param port 0 for any that is free; it keeps that when it is started again.
   * @param env further settings; COLD_EASEL_DATA for a folder that is there already.
   */
  constructor(
    private port = 0,
    private readonly env: Readonly<Record<string, string>> = {},
  ) {
    this.data = env.COLD_EASEL_DATA ?? mkdtempSync(path.join(tmpdir(), 'easel-test-'));
    const thumbnails = process.env[SHARED_THUMBNAILS];
    if (thumbnails && env.COLD_EASEL_DATA === undefined) symlinkSync(thumbnails, path.join(this.data, 'thumbnails'));
  }

  async start(): Promise<void> {
    const child = spawn(process.execPath, ['dist/server.mjs'], {
      env: {
        // As scripts/serve.mjs starts it.
        MALLOC_ARENA_MAX: '2',
        ...process.env,
        PORT: String(this.port),
        COLD_EASEL_DATA: this.data,
        COLD_EASEL_DEMO: '',
        COLD_EASEL_RESERVE_MB: '0',
        COLD_EASEL_THUMBNAIL_SAMPLES: '1',
        ...this.env,
      },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    this.child = child;
    this.url = await new Promise<string>((resolve, reject) => {
      let said = '';
      child.stdout!.on('data', (d: Buffer) => {
        said += d.toString();
        const address = /ready: (\S+)/.exec(said)?.[1];
        if (!address) return;
        this.port = Number(new URL(address).port);
        resolve(address);
      });
      child.on('exit', (code) => reject(new Error(`the server ended with ${code}: ${said}`)));
    });
  }

  /** Number of the server's process. */
  get pid(): number {
    return this.child!.pid!;
  }

  /** As a power cut would: nothing is told to the process. */
  async kill(): Promise<void> {
    const child = this.child!;
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGKILL');
    await gone;
  }

  async get<T>(route: string): Promise<T> {
    return (await (await fetch(`${this.url}/api${route}`)).json()) as T;
  }

  async send<T>(method: string, route: string, body: unknown = {}): Promise<T> {
    const response = await fetch(`${this.url}/api${route}`, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
    return (await response.json()) as T;
  }

  /** Brings a model into a project, as a drop on its page does. */
  async bring(project: number, bytes: Uint8Array, name = 'tern.glb'): Promise<ProjectReply> {
    const form = new FormData();
    form.append('files', new Blob([new Uint8Array(bytes)]), name);
    return (await (await fetch(`${this.url}/api/projects/${project}/model`, { method: 'POST', body: form })).json()) as ProjectReply;
  }

  async end(): Promise<void> {
    if (this.child && this.child.exitCode === null && this.child.signalCode === null) await this.kill();
    rmSync(this.data, { recursive: true, force: true });
  }
}
