/** Saves the set being planned: soon after an edit, one request at a time, again where one failed, and at once when asked. */
import type { SetFile } from '../../core/plan/set.js';

const SAVE_MS = 300;
const RETRY_MS = 3000;

/** What the server says of a set that it saved. */
export interface SavedSet {
  version: number;
  /** Hash of the saved text. */
  content: string;
}

export interface PlanSaverHost {
  /** Sends a set over the version that it was made from. `last`: the page goes, and the request must outlive it. */
  save(file: SetFile, version: number, last: boolean): Promise<SavedSet>;
  onSaved(saved: SavedSet): void;
  /** A save failed; it is tried again. */
  onProblem(error: Error): void;
  /** Whether anything is not on the server yet. */
  onPending(pending: boolean): void;
}

export class PlanSaver {
  private file: SetFile | null = null;
  private version = 0;
  private dirty = false;
  private running: Promise<void> | null = null;
  /** The page goes: requests must outlive it. */
  private leaving = false;
  private timer: ReturnType<typeof setTimeout> | null = null;

  constructor(private readonly host: PlanSaverHost) {}

  /** The server's set and its version: nothing is pending any more. */
  load(file: SetFile, version: number): void {
    this.file = file;
    this.version = version;
    this.dirty = false;
    this.stop();
  }

  /** Takes an edited set; it is sent after a moment without further edits. */
  put(file: SetFile): void {
    this.file = file;
    this.dirty = true;
    this.host.onPending(true);
    this.later(SAVE_MS);
  }

  /**
   * Resolves when the last edit is on the server; at once where it is there already. Rejects with the reason where it
   * could not be saved; it is then tried again later.
   * @param last the page goes.
   */
  async flush(last = false): Promise<void> {
    this.leaving ||= last;
    this.stop();
    while (this.running || this.dirty) {
      // What is on its way may be of before the last edit; its fault is met again by the next.
      if (this.running) await this.running.catch(() => undefined);
      else await (this.running = this.send().finally(() => (this.running = null)));
    }
  }

  private async send(): Promise<void> {
    this.dirty = false;
    try {
      const saved = await this.host.save(this.file!, this.version, this.leaving);
      this.version = saved.version;
      this.host.onSaved(saved);
      this.host.onPending(this.dirty);
    } catch (e) {
      this.dirty = true;
      this.host.onProblem(e as Error);
      this.later(RETRY_MS);
      throw e;
    }
  }

  private later(ms: number): void {
    this.stop();
    // Its host has been told of a fault.
    this.timer = setTimeout(() => void this.flush().catch(() => undefined), ms);
  }

  private stop(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
  }
}
