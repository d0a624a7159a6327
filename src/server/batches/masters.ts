/** Masters on the disk: kept within a budget, the longest unused first to go, those of accepted renders never. */
import { readdir, rm } from 'node:fs/promises';
import path from 'node:path';
import { QueryTypes } from 'sequelize';
import type { Frame } from '../../core/frame/frame.js';
import { keepsSingles } from '../../engine/output/encodeFiles.js';
import type { AssetStore } from '../assets/assetStore.js';
import type { Database } from '../db/connection.js';
import { Master } from '../db/models.js';

/** Masters that are removed at a time: the database is asked anew after each lot. */
const LOT = 50;

/** An accepted render of the master's key, in a batch that was not deleted. */
const ACCEPTED = `EXISTS (SELECT 1 FROM frames f JOIN batches b ON b.id = f.batchId
  WHERE f.masterKey = m.key AND f.decision = 'accepted' AND b.deleted IS NULL)`;

/** How much of the budget is used. */
export interface MastersUse {
  count: number;
  bytes: number;
  budget: number;
  /** Of `bytes`, what belongs to accepted renders and stays. */
  acceptedBytes: number;
}

/** Whether a master is made of a frame: shaded ones are as soon rendered again. */
export const hasMaster = ({ sampling }: Pick<Frame, 'sampling'>): boolean => sampling.mode === 'traced';

/** Keeps masters within their disk budget: oldest and unaccepted ones go first. */
export class Masters {
  private last: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly database: Database,
    private readonly store: AssetStore,
    readonly budget: number,
    private readonly log: (line: string) => void,
  ) {}

  /** Whether any are kept. */
  get enabled(): boolean {
    return this.budget > 0;
  }

  /** One thing after another: what one lane keeps must not be counted, or removed, by another meanwhile. */
  private alone<T>(act: () => Promise<T>): Promise<T> {
    const done = this.last.then(act, act);
    this.last = done.catch(() => undefined);
    return done;
  }

  find(key: string): Promise<Master | null> {
    return Master.findOne({ where: { key } });
  }

  /** Path of a master's file. */
  file(key: string): string {
    return this.store.master(key);
  }

  /** Keeps a master in the place of an earlier one of its key, where the budget has room for it once others have made way. */
  keep(key: string, frame: Frame, samples: number, bytes: Uint8Array, sha256: string): Promise<void> {
    return this.alone(() => this.keepNow(key, frame, samples, bytes, sha256));
  }

  private async keepNow(key: string, frame: Frame, samples: number, bytes: Uint8Array, sha256: string): Promise<void> {
    if (!this.enabled || !(await this.roomFor(bytes.length))) return;
    await this.store.write(this.file(key), bytes);
    const now = new Date().toISOString();
    const values = {
      ...{ identity: frame.identity, bytes: bytes.length, sha256, samples, created: now, used: now },
      filtered: frame.sampling.denoise ? 1 : 0,
      singles: frame.files.some(keepsSingles) ? 1 : 0,
    };
    await this.database.write(async (transaction) => {
      const [row, made] = await Master.findOrCreate({ where: { key }, defaults: { key, ...values }, transaction });
      if (!made) await row.update(values, { transaction });
    });
  }

  /** Notes that a master was of use: it goes later. */
  async noteUse(row: Master): Promise<void> {
    await this.database.write((transaction) => row.update({ used: new Date().toISOString() }, { transaction }));
  }

  /** Removes a master whose file is gone or damaged. */
  async drop(row: Master): Promise<void> {
    this.log(`the master ${row.key.slice(0, 12)} is gone or damaged; its frames are rendered again`);
    await this.alone(async () => {
      // Another may have been kept in its place.
      const now = await Master.findByPk(row.id);
      if (now?.sha256 === row.sha256) await this.remove([now]);
    });
  }

  async use(): Promise<MastersUse> {
    const [sums] = await this.database.sequelize.query<{ count: number; bytes: number; acceptedBytes: number }>(
      `SELECT count(*) AS count, total(bytes) AS bytes, total(bytes * ${ACCEPTED}) AS acceptedBytes FROM masters m`,
      { type: QueryTypes.SELECT },
    );
    return { ...sums!, budget: this.budget };
  }

  /** Bytes of all: asked for with every frame, so without a look at what was accepted. */
  private async bytes(): Promise<number> {
    return Number((await Master.sum('bytes')) ?? 0);
  }

  /** Removes the longest unused ones until so many bytes more are within the budget; false where what may go is not enough. */
  makeRoom(more: number): Promise<boolean> {
    return this.alone(() => this.roomFor(more));
  }

  private async roomFor(more: number): Promise<boolean> {
    // The budget may be smaller than it was.
    await this.freeNow((await this.bytes()) - this.budget);
    return this.freeNow((await this.bytes()) + more - this.budget);
  }

  /** Removes the longest unused ones until so many bytes are free; false where what may go is not enough, and then none went. */
  free(bytes: number): Promise<boolean> {
    return this.alone(() => this.freeNow(bytes));
  }

  private async freeNow(bytes: number): Promise<boolean> {
    if (bytes <= 0) return true;
    const { bytes: all, acceptedBytes } = await this.use();
    if (all - acceptedBytes < bytes) return false;
    for (let left = bytes; left > 0;) {
      const lot = await Master.findAll({
        where: this.database.sequelize.literal(`id IN (SELECT m.id FROM masters m WHERE NOT ${ACCEPTED} ORDER BY m.used, m.id LIMIT ${LOT})`),
        order: ['used', 'id'],
      });
      if (lot.length === 0) return false;
      const going: Master[] = [];
      for (const row of lot) {
        if (left <= 0) break;
        going.push(row);
        left -= row.bytes;
      }
      await this.remove(going);
    }
    return true;
  }

  /** At the start: rows whose files are gone are removed, and files that no row names go to the trash. */
  async tidy(): Promise<void> {
    const there = new Map<string, string>();
    for (const name of await readdir(this.store.masters(), { recursive: true }))
      if (name.endsWith('.exr')) there.set(path.basename(name, '.exr'), path.join('masters', name));
    const gone: Master[] = [];
    for (const row of await Master.findAll()) if (!there.delete(row.key)) gone.push(row);
    if (gone.length > 0) await this.remove(gone);
    await this.store.trash.take([...there.values()]);
    await this.makeRoom(0);
  }

  /** Rows first: a file without one is found by tidy, a row without one would be asked for. */
  private async remove(rows: readonly Master[]): Promise<void> {
    await this.database.write((transaction) => Master.destroy({ where: { id: rows.map((r) => r.id) }, transaction }));
    for (const { key } of rows) await rm(this.file(key), { force: true });
  }
}
