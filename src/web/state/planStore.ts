/** The set being planned: edited at once, saved as one goes, with undo and redo. */
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { mutate } from 'swr';
import { eventSchema, type SetReply } from '../../contract/contract.js';
import { canonicalJson } from '../../core/base/hash.js';
import { fieldProblem } from '../../core/base/issues.js';
import { type EditClash, editClashes, withTheirs } from '../../core/edit/editClashes.js';
import { mergeEdits } from '../../core/edit/mergeEdits.js';
import { type SetFile, setSchema } from '../../core/plan/set.js';
import { ApiError, get, send } from './api.js';
import { isConnected, listen } from './events.js';
import { commitFields } from './pendingFields.js';
import { keepHistory, keptHistory, MAX_UNDO } from './planHistory.js';
import { PlanSaver } from './planSaver.js';
import { toast } from './toast.js';
import { toastProblem } from './toastProblem.js';
import { keepUnsaved, takeUnsaved } from './unsavedEdit.js';
import { MESSAGES } from './words.js';

/** Both edits in one; ours alone where they make no set together. */
function mergeSets(base: SetFile, ours: SetFile, theirs: SetFile): SetFile {
  const merged = setSchema.safeParse(mergeEdits(base, ours, theirs));
  return merged.success ? merged.data : ours;
}

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

/** The set of that number; null while it is fetched, and the reason where it cannot be read. */
export function usePlanStore(setId: number | undefined, projectId: number): PlanStore | { problem: string } | null {
  const [file, setFile] = useState<SetFile | null>(null);
  const [version, setVersion] = useState('');
  const [saving, setSaving] = useState(false);
  const [asked, setAsked] = useState(0);
  const [problem, setProblem] = useState<string | null>(null);
  const [clashes, setClashes] = useState<readonly EditClash[]>([]);
  const now = useRef<SetFile | null>(null);
  const past = useRef<SetFile[]>([]);
  const future = useRef<SetFile[]>([]);
  const shown = useRef(setId);
  /** Whether the last save failed. */
  const failed = useRef(false);

  const saver = useMemo(
    (): PlanSaver =>
      new PlanSaver({
        save: (next, over, last) => send<SetReply>('PUT', `/sets/${setId}`, { file: next, version: over }, last),
        fetch: () => get<SetReply>(`/sets/${setId}`),
        isConflict: (e) => e instanceof ApiError && e.status === 409,
        merge: mergeSets,
        onSaved: ({ content }) => {
          setVersion(content);
          failed.current = false;
          if (setId) keepUnsaved(setId, null);
          void mutate(`/projects/${projectId}`);
        },
        onMerged: (merged, base, theirs, edited) => {
          const before = now.current;
          if (edited && before) setClashes((known) => [...known, ...editClashes(base, before, theirs.file)]);
          now.current = merged;
          // Undoing takes back what was done here, and nothing of theirs.
          past.current = past.current.map((file) => mergeSets(base, file, theirs.file));
          future.current = future.current.map((file) => mergeSets(base, file, theirs.file));
          setFile(merged);
          if (!edited) setVersion(theirs.content);
          else toast.info(MESSAGES.changedElsewhere, { id: `merged ${setId}` });
        },
        onProblem: (e) => {
          const unsaved = saver.unsaved();
          failed.current = true;
          if (setId && unsaved) keepUnsaved(setId, { ...unsaved, failed: true });
          toastProblem(e.message);
        },
        onPending: setSaving,
      }),
    [setId, projectId],
  );

  const put = useCallback(
    (next: SetFile) => {
      now.current = next;
      if (setId) keepHistory(setId, { now: next, past: past.current, future: future.current });
      setFile(next);
      saver.put(next);
    },
    [saver, setId],
  );

  useEffect(() => {
    if (!setId) {
      setProblem(MESSAGES.noSuchSet);
      return;
    }
    let live = true;
    // Another set: what stood here must not be taken for it while it comes.
    if (shown.current !== setId) {
      shown.current = setId;
      now.current = null;
      setFile(null);
    }
    past.current = [];
    future.current = [];
    setClashes([]);
    setProblem(null);
    get<SetReply>(`/sets/${setId}`).then(
      (reply) => {
        if (!live) return;
        if (reply.projectId !== projectId) {
          setProblem(MESSAGES.setOfAnotherProject);
          return;
        }
        saver.load(reply.file, reply.version);
        now.current = reply.file;
        // What was edited before a reload can still be undone, as long as nothing else came in between.
        const kept = keptHistory(setId, reply.file);
        past.current = kept.past;
        future.current = kept.future;
        setFile(reply.file);
        setVersion(reply.content);
        // The server was away when the page went.
        const unsaved = takeUnsaved(setId);
        // One that was on its way and has arrived must not undo what was changed since.
        const lost = unsaved !== null && (unsaved.failed || unsaved.version === reply.version);
        const restored = lost && mergeSets(unsaved.base, unsaved.file, reply.file);
        if (!restored || canonicalJson(restored) === canonicalJson(reply.file)) return;
        past.current = [...past.current, reply.file];
        put(restored);
        toast.info(MESSAGES.restored);
      },
      (e: Error) => live && setProblem(e.message),
    );
    return () => {
      live = false;
    };
  }, [setId, projectId, asked, saver, put]);

  // What was edited in the last moments goes out before the page does.
  useEffect(() => {
    const flush = (): void => {
      commitFields();
      const unsaved = saver.unsaved();
      if (setId) keepUnsaved(setId, unsaved && { ...unsaved, failed: failed.current });
      void saver.flush(true).catch(() => undefined);
    };
    const ask = (e: BeforeUnloadEvent): void => {
      if (saver.unsaved() && !isConnected()) e.preventDefault();
    };
    window.addEventListener('pagehide', flush);
    window.addEventListener('beforeunload', ask);
    return () => {
      window.removeEventListener('pagehide', flush);
      window.removeEventListener('beforeunload', ask);
      flush();
    };
  }, [saver, setId]);

  useEffect(
    () =>
      listen([projectId], (data) => {
        const event = eventSchema.parse(JSON.parse(data));
        if (event.type === 'set' && event.setId === setId) saver.hear(event.version);
      }),
    [projectId, setId, saver],
  );

  const edit = useCallback(
    (change: (file: SetFile) => SetFile): string | null => {
      const before = now.current;
      if (!before) return null;
      const result = setSchema.safeParse(change(before));
      if (!result.success) return fieldProblem(result.error);
      past.current = [...past.current, before].slice(-MAX_UNDO);
      future.current = [];
      put(result.data);
      return null;
    },
    [put],
  );

  const step = useCallback(
    (from: typeof past, to: typeof past) => {
      const next = from.current.at(-1);
      if (!next || !now.current) return;
      from.current = from.current.slice(0, -1);
      to.current = [...to.current, now.current];
      put(next);
    },
    [put],
  );

  if (problem !== null && !file) return { problem };
  if (!file) return null;
  return {
    file,
    version,
    saving,
    edit,
    flush: async () => {
      const untaken = commitFields();
      if (untaken) throw new Error(MESSAGES.fieldNotTaken(untaken.label, untaken.problem));
      await saver.flush();
    },
    reload: () => setAsked((n) => n + 1),
    undo: () => step(past, future),
    redo: () => step(future, past),
    clashes,
    settle: (settled, taken) => {
      setClashes((known) => known.filter((c) => !settled.includes(c)));
      const wrong = taken ? edit((f) => settled.reduce(withTheirs, f)) : null;
      if (wrong) toastProblem(wrong);
    },
  };
}
