/** Starts a batch of the set as it is planned now; where its plan has open faults, it asks first. */
import { type ReactNode, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { mutate } from 'swr';
import type { BatchReply } from '../../../contract/batches.js';
import { ALL_FRAMES } from '../../../core/plan/selection.js';
import { usePreferences } from '../../app/preferences.js';
import { useWorkspace } from '../../app/workspace.js';
import { send } from '../../state/api.js';
import { toastProblem } from '../../state/toastProblem.js';
import { lazily } from '../../ui/lazily.js';
import { openFaults } from './openFaults.js';
import { PLAIN_START, startBody, type StartOptions } from './startOptions.js';

const StartDialog = lazily(() => import('./StartDialog.js').then((m) => m.StartDialog));

/** A start of a batch. */
export interface BatchStart {
  /** From the press of the button until the batch is there, or the question is. */
  starting: boolean;
  start: () => Promise<void>;
  /** The question about open faults, to be shown where the button is. */
  question: ReactNode;
}

/**
 * @param select frames to render, as the field of that name says it.
 * @param options how they are rendered.
 */
export function useStartBatch(select: string, options: StartOptions = PLAIN_START): BatchStart {
  const { project, setId, revision, plan } = useWorkspace();
  const navigate = useNavigate();
  const [starting, setStarting] = useState(false);
  const [faults, setFaults] = useState<string[] | null>(null);
  const latest = useRef(select);
  latest.current = select;
  const latestOptions = useRef(options);
  latestOptions.current = options;
  const { firstFrames, holdAfterFirst } = usePreferences();
  const base = `/p/${project.id}/s/${setId}`;
  const attempt = async (act: (revision: number) => Promise<void>): Promise<void> => {
    if (!revision || starting || plan!.file.shots.length === 0) return;
    setStarting(true);
    try {
      await act(revision.id);
    } catch (e) {
      toastProblem((e as Error).message);
    } finally {
      setStarting(false);
    }
  };
  const chosen = (): { select?: string } => (latest.current === ALL_FRAMES ? {} : { select: latest.current });
  const begin = async (id: number, acceptedFaults: string[]): Promise<void> => {
    const batch = await send<BatchReply>('POST', `/sets/${setId}/batches`, {
      revision: id,
      ...chosen(),
      firstFrames,
      ...(holdAfterFirst && { holdAfterFirst }),
      ...(acceptedFaults.length > 0 && { acceptedFaults }),
      ...startBody(latestOptions.current),
    });
    await mutate(`/batches?project=${project.id}`);
    await navigate(`${base}/batch?batch=${batch.id}`);
  };
  const start = (): Promise<void> =>
    attempt(async (id) => {
      // What is being typed is taken, and the last edit must be on the server before it is checked and frozen.
      await plan!.flush();
      const open = await openFaults(setId, new URLSearchParams({ revision: String(id), ...chosen() }));
      if (open.length > 0) setFaults(open);
      else await begin(id, []);
    });
  const question = faults && (
    <StartDialog
      faults={faults}
      onCancel={() => setFaults(null)}
      onLook={() => {
        setFaults(null);
        void navigate(`${base}/preflight`);
      }}
      onStart={() => {
        setFaults(null);
        void attempt((id) => begin(id, faults));
      }}
    />
  );
  return { starting, start, question };
}
