/** Hands the waiting frames of a batch to its lanes, in their order: some are read at a time. */
import { Op } from 'sequelize';
import { BatchFrame } from '../db/models.js';

/** Rows that are read at once. What is put before them meanwhile comes after them. */
const ROWS_AT_ONCE = 32;

/** Frames of a batch that wait, in order, read in portions. */
export class WaitingRows {
  private read: BatchFrame[] = [];
  private reading: Promise<void> | null = null;
  /** Ids of frames that a lane has. */
  private readonly taken = new Set<number>();

  /** @param which narrows the frames of the batch down. */
  constructor(private readonly which: { batchId: number; first?: 1 }) {}

  /** The next frame, which no other lane has; null where none waits. To be given back once it is over. */
  async next(): Promise<BatchFrame | null> {
    if (this.read.length === 0) await (this.reading ??= this.fill().finally(() => (this.reading = null)));
    const row = this.read.shift() ?? null;
    if (row) this.taken.add(row.id);
    return row;
  }

  giveBack(row: BatchFrame): void {
    this.taken.delete(row.id);
  }

  private async fill(): Promise<void> {
    this.read = await BatchFrame.findAll({
      where: { ...this.which, state: 'waiting', id: { [Op.notIn]: [...this.taken] } },
      order: ['sequence', 'position'],
      limit: ROWS_AT_ONCE,
    });
  }
}
