/** Packages of batches on a server in the test's own process, and folders to unpack them into. */
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { unzipSync } from 'fflate';
import { afterAll, expect } from 'vitest';
import type { BatchReply } from '../../src/contract/batches.js';
import type { SetReply } from '../../src/contract/contract.js';
import type { PackageReply } from '../../src/contract/packages.js';
import type { SetFile } from '../../src/core/plan/set.js';
import { shotSchema } from '../../src/core/shots/kinds.js';
import { asBuffer } from './asBuffer.js';
import type { BatchesHere } from './batchesHere.js';
import { until } from './until.js';

/** Makes packages and opens them. */
export class PackagesHere {
  private readonly folders: string[] = [];

  /** To be made where tests are described: folders are removed after them. */
  constructor(private readonly here: BatchesHere) {
    afterAll(() => this.folders.forEach((f) => rmSync(f, { recursive: true, force: true })));
  }

  /** An empty folder. */
  folder(): string {
    const at = mkdtempSync(path.join(tmpdir(), 'easel-package-'));
    this.folders.push(at);
    return at;
  }

  /** A turntable of six frames and a still, as PNG of 16 bits and as JPEG. */
  deliverable(): SetFile {
    const plain = this.here.file(6);
    return {
      ...plain,
      sheet: {
        ...plain.sheet,
        rate: '25',
        files: [
          { type: 'png', bits: 16 },
          { type: 'jpeg', quality: 90 },
        ],
      },
      shots: [...plain.shots, shotSchema.parse({ id: 'stills', kind: 'still', views: [plain.views[0]!.id] })],
    };
  }

  /** A package of the runs of {@link deliverable}, made and audited. @param more further values of the request. */
  async made(set: SetReply, batch: BatchReply, more: object = {}): Promise<PackageReply> {
    const renders = ['spin', 'stills'].map((run) => ({ batch: batch.id, run }));
    const reply = await this.here.server
      .call()
      .post(`/api/sets/${set.id}/packages`)
      .send({ name: 'Round two', renders, ...more });
    expect([reply.status, reply.body]).toEqual([201, expect.anything()]);
    return this.ended((reply.body as PackageReply).id);
  }

  /** The package once it is no longer being made. */
  ended(id: number): Promise<PackageReply> {
    return until(
      async () => (await this.here.server.call().get(`/api/packages/${id}`)).body as PackageReply,
      ({ state }) => state !== 'making',
    );
  }

  /** The folder into which its archive was unpacked. */
  async unpacked(id: number): Promise<string> {
    const zip = await this.here.server.call().get(`/api/packages/${id}/download`).buffer(true).parse(asBuffer).expect(200);
    const at = this.folder();
    for (const [name, bytes] of Object.entries(unzipSync(zip.body as Buffer))) {
      mkdirSync(path.dirname(path.join(at, name)), { recursive: true });
      writeFileSync(path.join(at, name), bytes);
    }
    return at;
  }
}
