/** A set being planned, between the page that shows it and the server that keeps it. */
import { mutate } from 'swr';
import type { SetReply } from '../../contract/contract.js';
import { canonicalJson } from '../../core/base/hash.js';
import { type EditClash, editClashes, withTheirs } from '../../core/edit/editClashes.js';
import type { SetFile } from '../../core/plan/set.js';
import { ApiError, get, send } from './api.js';
import { EditedSet, mergeSets } from './editedSet.js';
import { commitFields } from './pendingFields.js';
import { PlanSaver } from './planSaver.js';
import { toast } from './toast.js';
import { toastProblem } from './toastProblem.js';
import { keepUnsaved, takeUnsaved } from './unsavedEdit.js';
import { MESSAGES } from './words.js';

/** The set that is edited. */
export interface PlanStore {
  file: SetFile;
  /** Content of the saved set; addresses of what is made from it carry it. */
  version: string;
  /** Whether the last edit is not on the server yet. */
  saving: boolean;
  /** Applies an edit; returns what is wrong with it, and then changes nothing. */
  edit(change: (file: SetFile) => SetFile): string | null;
  /**
   * Takes what is typed in fields, and resolves when the last edit is on the server; rejects with the reason where either
   * cannot be. Whatever is made of the saved set waits for it.
   */
  flush(): Promise<void>;
  /** Takes what the server has: it may have changed the set itself. */
  reload(): void;
  undo(): void;
  redo(): void;
  /** Values that were changed here and elsewhere, of which ours holds until a person says otherwise. */
  clashes: readonly EditClash[];
  /** Puts clashes away; where theirs are taken, by an edit. */
  settle(clashes: readonly EditClash[], taken: boolean): void;
}

/** What the page shows of the set that is edited. */
export interface ShownPlan extends Pick<PlanStore, 'version' | 'saving' | 'clashes'> {
  /** Null while it is fetched. */
  file: SetFile | null;
  /** Why it cannot be read. */
  problem: string | null;
}

const NOTHING: ShownPlan = { file: null, version: '', saving: false, problem: null, clashes: [] };

/** A set being edited: its states, what saves it, and what the page shows of it. */
export class PlanSession {
  readonly saver: PlanSaver;
  private readonly edited: EditedSet;
  /** Whether the last save failed. */
  private failed = false;

  private state = NOTHING;
  private readonly listeners = new Set<() => void>();

  constructor(
    private readonly setId: number | undefined,
    private readonly projectId: number,
  ) {
    this.edited = new EditedSet(setId);
    this.saver = new PlanSaver({
      save: (next, over, last) => send<SetReply>('PUT', `/sets/${setId}`, { file: next, version: over }, last),
      fetch: () => get<SetReply>(`/sets/${setId}`),
      isConflict: (e) => e instanceof ApiError && e.status === 409,
      merge: mergeSets,
      onSaved: ({ content }) => {
        this.show({ version: content });
        this.failed = false;
        if (setId) keepUnsaved(setId, null);
        void mutate(`/projects/${projectId}`);
      },
      onMerged: (merged, base, theirs, edited) => {
        const before = this.edited.now;
        this.edited.merge(base, theirs.file, merged);
        this.show({
          file: merged,
          ...(edited && before && { clashes: [...this.state.clashes, ...editClashes(base, before, theirs.file)] }),
          ...(!edited && { version: theirs.content }),
        });
        if (edited) toast.info(MESSAGES.changedElsewhere, { id: `merged ${setId}` });
      },
      onProblem: (e) => {
        this.failed = true;
        this.keepUnsaved();
        toastProblem(e.message);
      },
      onPending: (saving) => this.show({ saving }),
    });
  }

  /** What the page shows now; another object whenever it changes. */
  readonly shown = (): ShownPlan => this.state;

  /** Calls back whenever it changes, until what it returns is called. */
  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  private show(change: Partial<ShownPlan>): void {
    this.state = { ...this.state, ...change };
    for (const listener of this.listeners) listener();
  }

  /** Fetches the set. `isLive` says whether the page still wants it. */
  async load(isLive: () => boolean): Promise<void> {
    const { setId, projectId } = this;
    if (!setId) return this.show({ problem: MESSAGES.noSuchSet });
    try {
      const reply = await get<SetReply>(`/sets/${setId}`);
      if (!isLive()) return;
      if (reply.projectId !== projectId) return this.show({ problem: MESSAGES.setOfAnotherProject });
      this.saver.load(reply.file, reply.version);
      this.edited.begin(reply.file);
      this.show({ file: reply.file, version: reply.content, clashes: [], problem: null });
      this.restore(setId, reply);
    } catch (e) {
      if (isLive()) this.show({ problem: (e as Error).message });
    }
  }

  /** Edits once more what was not saved when the page went. */
  private restore(setId: number, { file, version }: SetReply): void {
    const unsaved = takeUnsaved(setId);
    // One that was on its way and has arrived must not undo what was changed since.
    if (!unsaved || !(unsaved.failed || unsaved.version === version)) return;
    const restored = mergeSets(unsaved.base, unsaved.file, file);
    if (canonicalJson(restored) === canonicalJson(file)) return;
    this.edit(() => restored);
    toast.info(MESSAGES.restored);
  }

  /** Keeps in the browser what is not on the server yet, and forgets it where all is. */
  private keepUnsaved(): void {
    const unsaved = this.saver.unsaved();
    if (this.setId) keepUnsaved(this.setId, unsaved && { ...unsaved, failed: this.failed });
  }

  readonly edit: PlanStore['edit'] = (change) => {
    const result = this.edited.edit(change);
    if (result && 'problem' in result) return result.problem;
    this.send(result?.file ?? null);
    return null;
  };

  readonly undo = (): void => this.send(this.edited.undo());

  readonly redo = (): void => this.send(this.edited.redo());

  private send(file: SetFile | null): void {
    if (!file) return;
    this.show({ file });
    this.saver.put(file);
  }

  readonly flush: PlanStore['flush'] = async () => {
    const untaken = commitFields();
    if (untaken) throw new Error(MESSAGES.fieldNotTaken(untaken.label, untaken.problem));
    await this.saver.flush();
  };

  /** Sends what was edited in the last moments before the page goes. */
  leave(): void {
    commitFields();
    this.keepUnsaved();
    void this.saver.flush(true).catch(() => undefined);
  }

  readonly settle: PlanStore['settle'] = (settled, taken) => {
    this.show({ clashes: this.state.clashes.filter((c) => !settled.includes(c)) });
    const wrong = taken ? this.edit((f) => settled.reduce(withTheirs, f)) : null;
    if (wrong) toastProblem(wrong);
  };
}
