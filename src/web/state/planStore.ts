/** The set being planned: edited at once, saved as one goes, with undo and redo. */
import { useCallback, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { mutate } from 'swr';
import { type SetReply } from '../../contract/contract.js';
import { canonicalJson } from '../../core/base/hash.js';
import { fieldProblem } from '../../core/base/issues.js';
import { type SetFile, setSchema } from '../../core/plan/set.js';
import { get, send } from './api.js';

const SAVE_MS = 300;
const MAX_UNDO = 200;

/** Characters of history that the browser keeps for a tab. */
const MAX_KEPT_HISTORY = 1_500_000;

interface History {
  now: SetFile;
  past: SetFile[];
  future: SetFile[];
}

const historyName = (setId: number): string => `history of set ${setId}`;

function keepHistory(setId: number, { now, past, future }: History): void {
  let [first, size] = [past.length, JSON.stringify(now).length];
  while (first > 0) {
    size += JSON.stringify(past[first - 1]).length;
    if (size > MAX_KEPT_HISTORY) break;
    first--;
  }
  try {
    sessionStorage.setItem(historyName(setId), JSON.stringify({ now, past: past.slice(first), future: future.slice(-20) }));
  } catch {
    // No room: edits can be taken back until the page is left.
    sessionStorage.removeItem(historyName(setId));
  }
}

function keptHistory(setId: number, now: SetFile): Pick<History, 'past' | 'future'> {
  const none = { past: [], future: [] };
  try {
    const kept = JSON.parse(sessionStorage.getItem(historyName(setId)) ?? 'null') as History | null;
    return kept && canonicalJson(kept.now) === canonicalJson(now) ? { past: kept.past, future: kept.future } : none;
  } catch {
    return none;
  }
}

export interface PlanStore {
  file: SetFile;
  /** Content of the saved set; addresses of what is made from it carry it. */
  version: string;
  saving: boolean;
  /** Applies an edit; returns what is wrong with it, and then changes nothing. */
  edit(change: (file: SetFile) => SetFile): string | null;
  /** Takes what the server has: it may have changed the set itself. */
  reload(): void;
  undo(): void;
  redo(): void;
}

/** The set of that number; null while it is fetched, and the reason where it cannot be read. */
export function usePlanStore(setId: number | undefined, projectId: number): PlanStore | { problem: string } | null {
  const [file, setFile] = useState<SetFile | null>(null);
  const [version, setVersion] = useState('');
  const [saving, setSaving] = useState(false);
  const [asked, setAsked] = useState(0);
  const [problem, setProblem] = useState<string | null>(null);
  const state = useRef({ file: null as SetFile | null, version: 0, timer: 0, busy: false, dirty: false });
  const past = useRef<SetFile[]>([]);
  const future = useRef<SetFile[]>([]);

  useEffect(() => {
    if (!setId) return;
    let live = true;
    past.current = [];
    future.current = [];
    setProblem(null);
    get<SetReply>(`/sets/${setId}`).then(
      (reply) => {
        if (!live) return;
        state.current = { ...state.current, file: reply.file, version: reply.version, dirty: false };
        // What was edited before a reload can still be taken back, as long as nothing else came in between.
        const kept = keptHistory(setId, reply.file);
        past.current = kept.past;
        future.current = kept.future;
        setFile(reply.file);
        setVersion(reply.content);
      },
      (e: Error) => live && setProblem(e.message),
    );
    return () => {
      live = false;
    };
  }, [setId, asked]);

  const save = useCallback(
    async (last = false) => {
      const s = state.current;
      if (s.busy || !s.dirty || !s.file) return;
      s.busy = true;
      s.dirty = false;
      try {
        const reply = await send<SetReply>('PUT', `/sets/${setId}`, { file: s.file, version: s.version }, last);
        s.version = reply.version;
        setVersion(reply.content);
        void mutate(`/projects/${projectId}`);
      } catch (e) {
        s.dirty = true;
        // One note, however often it is tried.
        toast.error((e as Error).message, { id: `save ${setId}` });
      } finally {
        s.busy = false;
        setSaving(s.dirty);
        if (s.dirty) s.timer = window.setTimeout(() => void save(), 3000);
      }
    },
    [setId, projectId],
  );

  const put = useCallback(
    (next: SetFile) => {
      const s = state.current;
      s.file = next;
      s.dirty = true;
      if (setId) keepHistory(setId, { now: next, past: past.current, future: future.current });
      setFile(next);
      setSaving(true);
      window.clearTimeout(s.timer);
      s.timer = window.setTimeout(() => void save(), SAVE_MS);
    },
    [save, setId],
  );

  // What was edited in the last moments goes out before the page does.
  useEffect(() => {
    const flush = (): void => void save(true);
    window.addEventListener('pagehide', flush);
    return () => {
      window.removeEventListener('pagehide', flush);
      flush();
    };
  }, [save]);

  const edit = useCallback(
    (change: (file: SetFile) => SetFile): string | null => {
      const before = state.current.file;
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
      const now = state.current.file;
      if (!next || !now) return;
      from.current = from.current.slice(0, -1);
      to.current = [...to.current, now];
      put(next);
    },
    [put],
  );

  if (problem !== null && !file) return { problem };
  if (!file) return null;
  return { file, version, saving, edit, reload: () => setAsked((n) => n + 1), undo: () => step(past, future), redo: () => step(future, past) };
}
