/** The set being planned: edited at once, saved as one goes, with undo and redo. */
import { useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import { eventSchema } from '../../contract/contract.js';
import { isConnected, listen } from './events.js';
import { PlanSession, type PlanStore } from './planSession.js';

/** Sends what was edited in the last moments before the page goes, or asks where the server is away. */
function useLastMoments(session: PlanSession): void {
  useEffect(() => {
    const leave = (): void => session.leave();
    const ask = (e: BeforeUnloadEvent): void => {
      if (session.saver.unsaved() && !isConnected()) e.preventDefault();
    };
    window.addEventListener('pagehide', leave);
    window.addEventListener('beforeunload', ask);
    return () => {
      window.removeEventListener('pagehide', leave);
      window.removeEventListener('beforeunload', ask);
      leave();
    };
  }, [session]);
}

/** The set of that number; null while it is fetched, and the reason where it cannot be read. */
export function usePlanStore(setId: number | undefined, projectId: number): PlanStore | { problem: string } | null {
  const session = useMemo(() => new PlanSession(setId, projectId), [setId, projectId]);
  const { file, problem, ...shown } = useSyncExternalStore(session.subscribe, session.shown);
  const [asked, setAsked] = useState(0);

  useEffect(() => {
    let live = true;
    void session.load(() => live);
    return () => {
      live = false;
    };
  }, [session, asked]);

  useLastMoments(session);

  useEffect(
    () =>
      listen([projectId], (data) => {
        const event = eventSchema.parse(JSON.parse(data));
        if (event.type === 'set' && event.setId === setId) session.saver.hear(event.version);
      }),
    [projectId, setId, session],
  );

  if (!file) return problem === null ? null : { problem };
  return {
    ...shown,
    file,
    edit: session.edit,
    flush: session.flush,
    reload: () => setAsked((n) => n + 1),
    undo: session.undo,
    redo: session.redo,
    settle: session.settle,
  };
}
