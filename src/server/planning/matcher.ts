/** Compares revisions in a process of its own: the parts of a large model take more memory than all else that the server holds. */
import { mkdtemp, rm } from 'node:fs/promises';
import path from 'node:path';
import { TaskEndError, TaskProcess } from '../../engine/node/taskProcess.js';
import { DATABASE_FILE } from '../db/connection.js';
import { ServerError } from '../errors.js';
import type { MatchDone, MatchTask, RemapResult } from './matchTask.js';

const LIMITS = { stallMs: 120_000, bytes: 6 * 2 ** 30 };
/** A process that went through more JSON than this is ended, so that its memory is free again. */
const MAX_KEPT_BYTES = 16 * 2 ** 20;

/** Finds parts of one revision again in the next, in a process of its own. */
export class Matcher {
  private readonly process = new TaskProcess<MatchTask, MatchDone>('match-worker.mjs', false);

  /** @param data the data folder. @param scratch folder for what is on its way. */
  constructor(
    private readonly data: string,
    private readonly scratch: string,
  ) {}

  private async run(task: MatchTask): Promise<MatchDone> {
    try {
      const done = await this.process.run(task, LIMITS);
      if (done.bytes > MAX_KEPT_BYTES) this.process.close();
      return done;
    } catch (e) {
      if (e instanceof TaskEndError) throw new ServerError('overloaded', 'The revisions could not be compared: it took too long or too much memory.');
      throw e;
    }
  }

  /**
   * Hands `use` the path of a file with PartMatch[] as JSON, and removes it afterwards. Resolves to the id of a revision
   * that was never measured, where there is one; then there is no file.
   */
  async match(earlier: number, later: number, use: (file: string) => Promise<void>): Promise<{ unmeasured: number } | null> {
    const folder = await mkdtemp(path.join(this.scratch, 'match-'));
    try {
      const out = path.join(folder, 'matches.json');
      const done = await this.run({ kind: 'match', database: path.join(this.data, DATABASE_FILE), earlier, later, out });
      if ('unmeasured' in done) return { unmeasured: done.unmeasured };
      await use(out);
      return null;
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  }

  /** What becomes of a project's sets in its next revision, whose summary lies at that path; none where the earlier was never measured. */
  async remap(project: number, earlier: number, summary: string): Promise<RemapResult[]> {
    const done = await this.run({ kind: 'remap', database: path.join(this.data, DATABASE_FILE), earlier, project, summary });
    return 'sets' in done ? done.sets : [];
  }

  /** Starts the process before anybody waits for it. */
  warm(): void {
    this.process.warm();
  }

  close(): void {
    this.process.close();
  }
}
