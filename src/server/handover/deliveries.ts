/** Deliveries of packages: sent, stopped, gone on with after a restart, and recorded. */
import path from 'node:path';
import type * as z from 'zod';
import type { DeliveryReply, newDelivery } from '../../contract/packages.js';
import { CHECKSUMS_FILE, MANIFEST_FILE } from '../../core/handover/manifest.js';
import { slugify } from '../../core/plan/fileNames.js';
import type { SentFile } from '../../engine/node/dropOff.js';
import { hashFile } from '../../engine/node/hashFile.js';
import { stat } from 'node:fs/promises';
import type { ServerContext } from '../context.js';
import { DeliveryRow, type PackageRow } from '../db/reviewModels.js';
import { notFound, ServerError } from '../errors.js';
import { findSet } from '../sets.js';
import { DELIVERY_KINDS } from './kinds/kinds.js';
import type { Packages } from './packages.js';

/** Milliseconds from one sign of progress to the next. */
const TELL_MS = 500;

const isKind = (kind: string): kind is keyof typeof DELIVERY_KINDS => kind in DELIVERY_KINDS;

/** Sends packages away, and keeps a log of it. */
export class Deliveries {
  private readonly running = new Map<number, { stop: AbortController; done: number }>();
  private toldAt = 0;

  constructor(
    private readonly context: ServerContext,
    private readonly packages: Packages,
  ) {}

  reply = (row: DeliveryRow): DeliveryReply => ({
    id: row.id,
    packageId: row.packageId,
    kind: row.kind as DeliveryReply['kind'],
    target: row.target,
    state: row.state as DeliveryReply['state'],
    done: Math.min(row.total, this.running.get(row.id)?.done ?? (row.state === 'done' ? row.total : 0)),
    total: row.total,
    message: row.message,
    created: row.created,
  });

  /** Deliveries of a package, the newest first. */
  async list(packageId: number): Promise<DeliveryReply[]> {
    return (await DeliveryRow.findAll({ where: { packageId }, order: [['id', 'DESC']] })).map(this.reply);
  }

  /** Starts sending a package that is ready. Throws ServerError where it is not, or nothing may be sent there. */
  async create(packageId: number, { kind, target }: z.infer<typeof newDelivery>): Promise<DeliveryReply> {
    const pack = await this.packages.find(packageId);
    if (pack.state !== 'ready') throw new ServerError('conflict', 'The package is not ready. Mend or waive its faults first.');
    const refusal = DELIVERY_KINDS[kind].refusal(target, this.context.config);
    if (refusal) throw new ServerError('unusable', refusal);
    const total = (await this.filesOf(pack)).reduce((n, f) => n + f.bytes, 0);
    const values = { packageId, kind, target, state: 'sending', total, created: new Date().toISOString() };
    const row = await this.context.database.write((transaction) => DeliveryRow.create(values, { transaction }));
    await row.reload();
    void this.send(row, pack);
    return this.reply(row);
  }

  /** Goes on with what a server that ended was sending. */
  async recover(): Promise<void> {
    for (const row of await DeliveryRow.findAll({ where: { state: 'sending' } })) {
      const pack = await this.packages.find(row.packageId).catch(() => null);
      if (pack) void this.send(row, pack);
    }
  }

  /** Stops one; what arrived stays, and is not sent again by another try. */
  async stop(id: number): Promise<void> {
    const running = this.running.get(id);
    if (!running) throw notFound(`Delivery ${id}`);
    running.stop.abort();
  }

  private async filesOf(pack: PackageRow): Promise<SentFile[]> {
    const folder = this.packages.folder(pack);
    const listed = (await this.packages.manifest(pack)).files.map((f) => ({
      from: path.join(folder, f.path),
      path: f.path,
      bytes: f.bytes,
      sha256: f.sha256,
    }));
    const own = await Promise.all(
      [CHECKSUMS_FILE, MANIFEST_FILE].map(async (name) => {
        const from = path.join(folder, name);
        return { from, path: name, bytes: (await stat(from)).size, sha256: await hashFile(from) };
      }),
    );
    // The manifest comes last: where it is, all of the package is.
    return [...listed, ...own];
  }

  /** Never rejects: how it went is in its row. */
  private async send(row: DeliveryRow, pack: PackageRow): Promise<void> {
    const stop = new AbortController();
    const running = { stop, done: 0 };
    this.running.set(row.id, running);
    const { closing, log } = this.context;
    try {
      if (!isKind(row.kind)) throw new Error(`"${row.kind}" is no way to deliver.`);
      await DELIVERY_KINDS[row.kind].send({
        files: await this.filesOf(pack),
        name: slugify(pack.name),
        target: row.target,
        signal: AbortSignal.any([stop.signal, closing]),
        onBytes: (bytes) => {
          running.done += bytes;
          this.progress(pack);
        },
      });
      await this.save(row, pack, { state: 'done', message: null });
    } catch (e) {
      // What a server that ends was sending is gone on with at the next start.
      if (closing.aborted) return;
      log.warn({ err: e, package: pack.id }, 'a package could not be delivered');
      await this.save(row, pack, stop.signal.aborted ? { state: 'stopped' } : { state: 'failed', message: (e as Error).message }).catch(
        () => undefined,
      );
    } finally {
      this.running.delete(row.id);
    }
  }

  private progress(pack: PackageRow): void {
    if (Date.now() - this.toldAt < TELL_MS) return;
    this.toldAt = Date.now();
    void this.tell(pack);
  }

  private async tell({ setId }: PackageRow): Promise<void> {
    const set = await findSet(setId).catch(() => null);
    if (set) this.context.events.send(set.projectId, { type: 'packages', setId });
  }

  private async save(row: DeliveryRow, pack: PackageRow, values: { state: string; message?: string | null }): Promise<void> {
    row.set(values);
    await this.context.database.write((transaction) => row.save({ transaction }));
    await this.tell(pack);
  }
}
