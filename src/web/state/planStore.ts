/** The set being planned: edited at once, saved as one goes, with undo and redo. */
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { mutate } from 'swr';
import type { SetReply } from '../../contract/contract.js';
import { fieldProblem } from '../../core/base/issues.js';
import { type SetFile, setSchema } from '../../core/plan/set.js';
import { get, send } from './api.js';
import { keepHistory, keptHistory, MAX_UNDO } from './planHistory.js';
import { PlanSaver } from './planSaver.js';

export interface PlanStore {
  file: SetFile;
  /** Content of the saved set; addresses of what is made from it carry it. */
  version: string;
  /** Whether the last edit is not on the server yet. */
  saving: boolean;
  /** Applies an edit; returns what is wrong with it, and then changes nothing. */
  edit(change: (file: SetFile) => SetFile): string | null;
  /** Resolves when the last edit is on the server; rejects with the reason. Whatever is made of the saved set waits for it. */
  flush(): Promise<void>;
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
  const now = useRef<SetFile | null>(null);
  const past = useRef<SetFile[]>([]);
  const future = useRef<SetFile[]>([]);

  const saver = useMemo(
    () =>
      new PlanSaver({
        save: (next, over, last) =>
          send<SetReply>('PUT', `/sets/${setId}`, { file: next, version: over }, last).then((reply) => ({
            version: reply.version,
            content: reply.content,
          })),
        onSaved: ({ content }) => {
          setVersion(content);
          void mutate(`/projects/${projectId}`);
        },
        // One note, however often it is tried.
        onProblem: (e) => toast.error(e.message, { id: `save ${setId}` }),
        onPending: setSaving,
      }),
    [setId, projectId],
  );

  useEffect(() => {
    if (!setId) return;
    let live = true;
    past.current = [];
    future.current = [];
    setProblem(null);
    get<SetReply>(`/sets/${setId}`).then(
      (reply) => {
        if (!live) return;
        saver.load(reply.file, reply.version);
        now.current = reply.file;
        // What was edited before a reload can still be undone, as long as nothing else came in between.
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
  }, [setId, asked, saver]);

  const put = useCallback(
    (next: SetFile) => {
      now.current = next;
      if (setId) keepHistory(setId, { now: next, past: past.current, future: future.current });
      setFile(next);
      saver.put(next);
    },
    [saver, setId],
  );

  // What was edited in the last moments goes out before the page does.
  useEffect(() => {
    const flush = (): void => void saver.flush(true).catch(() => undefined);
    window.addEventListener('pagehide', flush);
    return () => {
      window.removeEventListener('pagehide', flush);
      flush();
    };
  }, [saver]);

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
    flush: () => saver.flush(),
    reload: () => setAsked((n) => n + 1),
    undo: () => step(past, future),
    redo: () => step(future, past),
  };
}
