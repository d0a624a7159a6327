/** Writes rows of frames: those that come while others are being written go into one transaction together. */
import type { InferAttributes } from 'sequelize';
import type { Database } from '../db/connection.js';
import type { BatchFrame } from '../db/models.js';

/** Columns of a row that are written. */
export type RowFields = readonly (keyof InferAttributes<BatchFrame>)[];

interface Waiting {
  row: BatchFrame;
  fields: RowFields;
  resolve: () => void;
  reject: (error: unknown) => void;
}

/** Writes rows of frames in groups: one transaction for all that came meanwhile. */
export class RowWriter {
  private waiting: Waiting[] = [];
  private writing = false;

  constructor(private readonly database: Database) {}

  /**
   * Resolves once these fields of the row, as they are by then, are on the disk; rejects where they cannot be written, with
   * all that came with them. Which they are is said: what changed while another save was on its way does not count as changed.
   */
  save(row: BatchFrame, fields: RowFields): Promise<void> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ row, fields, resolve, reject });
      if (!this.writing) void this.write();
    });
  }

  private async write(): Promise<void> {
    this.writing = true;
    while (this.waiting.length > 0) {
      const together = this.waiting;
      this.waiting = [];
      try {
        await this.database.write(async (transaction) => {
          for (const { row, fields } of together) await row.save({ transaction, fields: [...fields] });
        });
        for (const { resolve } of together) resolve();
      } catch (e) {
        for (const { reject } of together) reject(e);
      }
    }
    this.writing = false;
  }
}
