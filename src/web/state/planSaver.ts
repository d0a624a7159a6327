/**
 * Saves the set being planned: soon after an edit, one request at a time, again where one failed, and at once when asked.
 * What was saved from elsewhere meanwhile is joined with it.
 */
import type { SetFile } from '../../core/plan/set.js';

const SAVE_MS = 300;
const RETRY_MS = 3000;

/** What the server says of a set that it saved. */
export interface SavedSet {
  version: number;
  /** Hash of the saved text. */
  content: string;
}

/** A set as the server has it. */
export interface FetchedSet extends SavedSet {
  file: SetFile;
}

/** What the saver needs of the page. */
export interface PlanSaverHost {
  /** Sends a set over the version that it was made from. `last`: the page goes, and the request must outlive it. */
  save(file: SetFile, version: number, last: boolean): Promise<SavedSet>;
  /** What the server has now. */
  fetch(): Promise<FetchedSet>;
  /** Whether a save was refused since the set has another version by now. */
  isConflict(error: Error): boolean;
  /** Joins an edit with another one; both began with `base`. */
  merge(base: SetFile, ours: SetFile, theirs: SetFile): SetFile;
  onSaved(saved: SavedSet): void;
  /** The set was changed elsewhere: what stands now, and what both edits began with. `edited`: there was an edit here too. */
  onMerged(merged: SetFile, base: SetFile, theirs: FetchedSet, edited: boolean): void;
  /** A save failed; it is tried again. */
  onProblem(error: Error): void;
  /** Whether anything is not on the server yet. */
  onPending(pending: boolean): void;
}

/** Saves edits of a set, and merges them with those of other windows. */
export class PlanSaver {
  private file: SetFile | null = null;
  /** What the server had at `version`. */
  private base: SetFile | null = null;
  private version = 0;
  /** Latest version that was heard of. */
  private heard = 0;
  private dirty = false;
  private running: Promise<void> | null = null;
  /** An edit is on its way. */
  private sending = false;
  /** The page goes: requests must outlive it. */
  private leaving = false;
  private timer: ReturnType<typeof setTimeout> | null = null;
  /** When the last edit was made, in milliseconds. */
  private edited = -Infinity;

  constructor(private readonly host: PlanSaverHost) {}

  /** The server's set and its version: nothing is pending any more. */
  load(file: SetFile, version: number): void {
    this.file = this.base = file;
    this.version = this.heard = version;
    this.dirty = false;
    this.stop();
  }

  /** Takes an edited set: a single edit is sent at once, the next ones, such as of a drag, after a moment without further edits. */
  put(file: SetFile): void {
    const isSingle = Date.now() - this.edited >= SAVE_MS;
    this.edited = Date.now();
    this.file = file;
    this.dirty = true;
    this.host.onPending(true);
    this.later(isSingle ? 0 : SAVE_MS);
  }

  /** What is not saved, with what it was made from; null where all is. */
  unsaved(): { base: SetFile; file: SetFile; version: number } | null {
    return (this.dirty || this.sending) && this.file && this.base ? { base: this.base, file: this.file, version: this.version } : null;
  }

  /** The server told of a version: what is newer than what stands here is fetched, and joined with what is edited here. */
  hear(version: number): void {
    this.heard = Math.max(this.heard, version);
    if (this.running || !this.file || this.heard <= this.version) return;
    this.running = this.takeTheirs().finally(() => (this.running = null));
    this.running.then(
      () => {
        if (this.dirty) this.later(SAVE_MS);
        // There may be a newer one by now.
        this.hear(this.heard);
      },
      // Saving meets it again.
      () => undefined,
    );
  }

  /**
   * Resolves when the last edit is on the server; at once where it is there already. Rejects with the reason where it
   * could not be saved; it is then tried again later.
   * @param last the page goes.
   */
  async flush(last = false): Promise<void> {
    this.leaving ||= last;
    await this.sendAll(true);
  }

  /** @param now whether edits that are made meanwhile are sent as well; they wait for their own moment otherwise. */
  private async sendAll(now: boolean): Promise<void> {
    this.stop();
    while (this.running || (this.dirty && (now || !this.timer))) {
      // What is on its way may be of before the last edit; its fault is met again by the next.
      if (this.running) await this.running.catch(() => undefined);
      else await (this.running = this.send().finally(() => (this.running = null)));
    }
    this.hear(this.heard);
  }

  private async send(): Promise<void> {
    const sent = this.file!;
    this.dirty = false;
    this.sending = true;
    try {
      const saved = await this.host.save(sent, this.version, this.leaving).catch(async (e: Error) => {
        if (!this.host.isConflict(e)) throw e;
        this.dirty = true;
        await this.takeTheirs();
        return null;
      });
      // What was joined is sent by the next round.
      if (!saved) return;
      this.version = saved.version;
      this.base = sent;
      this.host.onSaved(saved);
      this.host.onPending(this.dirty);
    } catch (e) {
      this.dirty = true;
      this.host.onProblem(e as Error);
      this.later(RETRY_MS);
      throw e;
    } finally {
      this.sending = false;
    }
  }

  private async takeTheirs(): Promise<void> {
    const theirs = await this.host.fetch();
    const [base, edited] = [this.base!, this.dirty];
    this.version = theirs.version;
    this.heard = Math.max(this.heard, theirs.version);
    this.base = theirs.file;
    this.file = edited ? this.host.merge(base, this.file!, theirs.file) : theirs.file;
    this.host.onMerged(this.file, base, theirs, edited);
  }

  private later(ms: number): void {
    this.stop();
    // Its host has been told of a fault.
    this.timer = setTimeout(() => {
      this.timer = null;
      void this.sendAll(false).catch(() => undefined);
    }, ms);
  }

  private stop(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
  }
}
