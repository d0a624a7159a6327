/** Starts a batch of the set as it is planned now. */
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { mutate } from 'swr';
import type { BatchReply } from '../../../contract/contract.js';
import { ALL_FRAMES } from '../../../core/plan/selection.js';
import { useWorkspace } from '../../app/workspace.js';
import { send } from '../../state/api.js';
import { toastProblem } from '../../state/toastProblem.js';

/** @param select frames to render, as the field of that name says it. */
export function useStartBatch(select: string): { starting: boolean; start: () => Promise<void> } {
  const { project, setId, revision, plan } = useWorkspace();
  const navigate = useNavigate();
  const [starting, setStarting] = useState(false);
  const latest = useRef(select);
  latest.current = select;
  const start = async (): Promise<void> => {
    if (!revision || starting || plan!.file.shots.length === 0) return;
    setStarting(true);
    try {
      // What is being typed is taken, and the last edit must be on the server before it is frozen.
      await plan!.flush();
      const body = { revision: revision.id, ...(latest.current !== ALL_FRAMES && { select: latest.current }) };
      const batch = await send<BatchReply>('POST', `/sets/${setId}/batches`, body);
      await mutate(`/batches?project=${project.id}`);
      await navigate(`/p/${project.id}/s/${setId}/batch?batch=${batch.id}`);
    } catch (e) {
      toastProblem((e as Error).message);
    } finally {
      setStarting(false);
    }
  };
  return { starting, start };
}
