/**
 * Where files go that nothing refers to: moved, never deleted, so that a database that was put back, or an older copy
 * of it, finds what it names again. A folder a day; a day's folder is emptied when it is older than the retention.
 */
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { exists } from './exists.js';

/** Name of the trash in a data folder. */
export const TRASH_FOLDER = 'trash';

const DAY_MS = 86_400_000;
const DAY_NAME = /^\d{4}-\d{2}-\d{2}$/;

/** Where deleted files lie until their time is over, so that a deletion can be undone. */
export class Trash {
  /** @param days for which what was moved here is kept. */
  constructor(
    private readonly root: string,
    readonly days: number,
    private readonly now: () => number = Date.now,
  ) {}

  /** Folder of what is moved today. */
  private today(): string {
    return path.join(this.root, TRASH_FOLDER, new Date(this.now()).toISOString().slice(0, 10));
  }

  /**
   * Moves files or folders, given by path below the data folder, into today's folder under the same path.
   * One of that name that lies there already is kept beside it. Returns where they went.
   */
  async take(names: readonly string[]): Promise<string[]> {
    const moved: string[] = [];
    for (const name of names) {
      const base = path.join(this.today(), name);
      let target = base;
      for (let n = 2; await exists(target); n++) target = `${base}~${n}`;
      await mkdir(path.dirname(target), { recursive: true });
      await rename(path.join(this.root, name), target);
      moved.push(target);
    }
    return moved;
  }

  /**
   * Where a file lies in the trash, latest first, by its path below the data folder; null where it does not.
   */
  async find(name: string): Promise<string | null> {
    const days = (await readdir(path.join(this.root, TRASH_FOLDER)).catch(() => [])).filter((d) => DAY_NAME.test(d)).sort();
    for (const day of days.reverse()) {
      const file = path.join(this.root, TRASH_FOLDER, day, name);
      if (await exists(file)) return file;
    }
    return null;
  }

  /** Puts a file back from the trash; false where it does not lie there. */
  async restore(name: string): Promise<boolean> {
    const found = await this.find(name);
    if (!found) return false;
    const target = path.join(this.root, name);
    await mkdir(path.dirname(target), { recursive: true });
    await rename(found, target);
    return true;
  }

  /**
   * Deletes the folders of days beyond the retention; returns their names. Both a folder's name and the time it was last
   * changed must be beyond it, and neither may lie in the future, so that a clock that jumps empties nothing early.
   */
  async empty(): Promise<string[]> {
    const folder = path.join(this.root, TRASH_FOLDER);
    const gone: string[] = [];
    for (const day of (await readdir(folder).catch(() => [])).filter((d) => DAY_NAME.test(d))) {
      const age = this.now() - Date.parse(`${day}T00:00:00Z`) - DAY_MS;
      const idle = this.now() - (await stat(path.join(folder, day))).mtimeMs;
      if (age <= this.days * DAY_MS || idle <= this.days * DAY_MS) continue;
      await rm(path.join(folder, day), { recursive: true, force: true });
      gone.push(day);
    }
    return gone;
  }
}
