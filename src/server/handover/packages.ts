/** Packages of sets: put together one after another, audited, recorded, and handed over as an archive. */
import { existsSync } from 'node:fs';
import path from 'node:path';
import type * as z from 'zod';
import { type auditFault, type NewPackage, newPackage, type newWaiver, type PackageReply } from '../../contract/packages.js';
import { auditPackage, type readFacts } from '../../engine/node/auditPackage.js';
import type { FileEntry, Manifest } from '../../core/handover/manifest.js';
import type { ServerContext } from '../context.js';
import { PackageRow } from '../db/reviewModels.js';
import { notFound, ServerError } from '../errors.js';
import { findSet } from '../sets.js';
import { buildPackage, readManifest } from './buildPackage.js';
import { packRenders } from './packageFiles.js';
import { sheetFiles } from './packageSheets.js';

type Fault = z.infer<typeof auditFault>;
const faultsOf = (row: PackageRow): Fault[] => JSON.parse(row.faults) as Fault[];
const isOpen = (faults: readonly Fault[]): boolean => faults.some((f) => f.waived === undefined);
/** Milliseconds from one sign of progress to the next. */
const TELL_MS = 500;

/** Builds and checks packages, one at a time. */
export class Packages {
  /** One at a time: all of them wait for the same disk. */
  private chain: Promise<void> = Promise.resolve();
  private readonly progress = new Map<number, NonNullable<PackageReply['progress']>>();
  private toldAt = 0;

  constructor(private readonly context: ServerContext) {}

  reply = (row: PackageRow): PackageReply => ({
    id: row.id,
    setId: row.setId,
    name: row.name,
    state: row.state as PackageReply['state'],
    progress: this.progress.get(row.id) ?? null,
    message: row.message,
    created: row.created,
    files: row.files,
    bytes: row.bytes,
    audited: row.audited,
    faults: faultsOf(row),
    onlyChanged: this.askedOf(row).onlyChanged,
    sheets: sheetFiles(this.askedOf(row).sheet).filter((name) => existsSync(path.join(this.folder(row), name))),
  });

  private askedOf(row: PackageRow): NewPackage {
    return newPackage.parse(JSON.parse(row.content));
  }

  async find(id: number): Promise<PackageRow> {
    const row = await PackageRow.findByPk(id);
    if (!row || row.deleted !== null) throw notFound(`Package ${id}`);
    return row;
  }

  /** Packages of a set, the newest first. */
  async list(setId: number): Promise<PackageReply[]> {
    return (await PackageRow.findAll({ where: { setId, deleted: null }, order: [['id', 'DESC']] })).map(this.reply);
  }

  /** Starts one. Throws ServerError where nothing of it can be packed. */
  async create(setId: number, asked: NewPackage): Promise<PackageReply> {
    await packRenders(this.context, setId, asked);
    const values = { setId, name: asked.name, state: 'making', content: JSON.stringify(asked), created: new Date().toISOString() };
    const row = await this.context.database.write((transaction) => PackageRow.create(values, { transaction }));
    await row.reload();
    this.queue(row, () => this.make(row));
    return this.reply(row);
  }

  /** Goes on with what a server that ended left half made. */
  async recover(): Promise<void> {
    for (const row of await PackageRow.findAll({ where: { state: 'making', deleted: null } })) this.queue(row, () => this.make(row));
  }

  /** Reads all files of one again. */
  async audit(id: number): Promise<PackageReply> {
    const row = await this.find(id);
    if (row.state === 'making') throw new ServerError('conflict', 'The package is being made; it is audited then.');
    if (row.state === 'failed') throw new ServerError('conflict', 'The package was not made. Make it again.');
    const manifest = await this.manifest(row);
    await this.save(row, { state: 'making' });
    this.queue(row, () => this.judge(row, manifest));
    return this.reply(row);
  }

  /** Accepts a fault with a reason. Throws 'not-found' where the package has no such one. */
  async waive(id: number, { rule, file, reason }: z.infer<typeof newWaiver>): Promise<PackageReply> {
    const row = await this.find(id);
    const faults = faultsOf(row);
    const fault = faults.find((f) => f.rule === rule && f.file === file);
    if (!fault) throw new ServerError('not-found', `Package ${row.id} has no fault "${rule}" at ${file}.`);
    fault.waived = reason;
    await this.save(row, { faults: JSON.stringify(faults), state: isOpen(faults) ? 'faults' : 'ready' });
    return this.reply(row);
  }

  /** Takes one out of the list; its folder goes to the trash. */
  async remove(id: number): Promise<void> {
    const row = await this.find(id);
    if (row.state === 'making') throw new ServerError('conflict', 'The package is being made. Wait for it, then delete it.');
    await this.save(row, { deleted: new Date().toISOString() });
    const { store } = this.context;
    if (await store.exists(this.folder(row))) await store.trash.take([`packages/${row.id}`]);
  }

  /** Its manifest. Throws ServerError 'not-found' where its folder is gone, as after a restored backup, which holds no packages. */
  manifest(row: PackageRow): Promise<Manifest> {
    return readManifest(this.folder(row)).catch(() => {
      throw new ServerError('not-found', `The files of package "${row.name}" are gone. Make it again.`);
    });
  }

  folder(row: PackageRow): string {
    return this.context.store.package(row.id);
  }

  /** What the client has by now: of each path the file of the newest package that was ready before this one; null where there was none. */
  private async delivered(row: PackageRow): Promise<FileEntry[] | null> {
    const earlier = await PackageRow.findAll({ where: { setId: row.setId, state: 'ready', deleted: null }, order: ['id'] });
    const files = new Map<string, FileEntry>();
    for (const other of earlier.filter((p) => p.id < row.id)) {
      const manifest = await readManifest(this.folder(other)).catch(() => null);
      for (const file of manifest?.files ?? []) files.set(file.path, file);
    }
    return files.size > 0 ? [...files.values()] : null;
  }

  private queue(row: PackageRow, work: () => Promise<void>): void {
    this.chain = this.chain.then(work).catch(async (e: unknown) => {
      // What a server that ends leaves half made is made anew at the next start.
      if (this.context.closing.aborted) return;
      this.context.log.warn({ err: e, package: row.id }, 'a package could not be made');
      this.progress.delete(row.id);
      await this.save(row, { state: 'failed', message: (e as Error).message }).catch(() => undefined);
    });
  }

  private async make(row: PackageRow): Promise<void> {
    const { context } = this;
    const set = await findSet(row.setId);
    const build = {
      context,
      set,
      folder: this.folder(row),
      asked: this.askedOf(row),
      signal: context.closing,
      onProgress: (done: number, of: number) => this.note(row, { done, of, what: 'files' }),
    };
    await this.judge(row, await buildPackage(build, await this.delivered(row)));
  }

  /** Reads every file, and writes down what is wrong. What was waived stays so while it is the same. */
  private async judge(row: PackageRow, manifest: Manifest): Promise<void> {
    const { comparer, closing } = this.context;
    const read: typeof readFacts = (file, kind) => comparer.facts(file, kind, closing);
    const onProgress = (done: number, of: number): void => this.note(row, { done, of, what: 'audit' });
    const { faults } = await auditPackage(this.folder(row), manifest, { onProgress, signal: closing, read });
    const before = faultsOf(row);
    const told = faults.map((f): Fault => {
      const known = before.find((b) => b.rule === f.rule && b.file === f.file && b.found === f.found);
      return { ...f, ...(known?.waived !== undefined && { waived: known.waived }) };
    });
    this.progress.delete(row.id);
    await this.save(row, {
      state: isOpen(told) ? 'faults' : 'ready',
      message: null,
      faults: JSON.stringify(told),
      files: manifest.files.length,
      bytes: manifest.files.reduce((n, f) => n + f.bytes, 0),
      audited: new Date().toISOString(),
    });
  }

  private note(row: PackageRow, progress: NonNullable<PackageReply['progress']>): void {
    this.progress.set(row.id, progress);
    if (Date.now() - this.toldAt < TELL_MS) return;
    this.toldAt = Date.now();
    void this.tell(row);
  }

  private async tell({ setId }: PackageRow): Promise<void> {
    const set = await findSet(setId).catch(() => null);
    if (set) this.context.events.send(set.projectId, { type: 'packages', setId });
  }

  private async save(row: PackageRow, values: Partial<PackageRow>): Promise<void> {
    row.set(values);
    await this.context.database.write((transaction) => row.save({ transaction, fields: Object.keys(values) as (keyof PackageRow)[] as never }));
    await this.tell(row);
  }
}
