/** Writes rows of frames: those that come while others are being written go into one transaction together. */
import type { Database } from '../db/connection.js';
import type { BatchFrame } from '../db/models.js';

interface Waiting {
  row: BatchFrame;
  resolve: () => void;
  reject: (error: unknown) => void;
}

export class RowWriter {
  private waiting: Waiting[] = [];
  private writing = false;

  constructor(private readonly database: Database) {}

  /** Resolves once what was set of the row is on the disk; rejects where it cannot be written, with all that came with it. */
  save(row: BatchFrame): Promise<void> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ row, resolve, reject });
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
          for (const { row } of together) await row.save({ transaction });
        });
        for (const { resolve } of together) resolve();
      } catch (e) {
        for (const { reject } of together) reject(e);
      }
    }
    this.writing = false;
  }
}
