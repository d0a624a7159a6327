/** Starts a batch of the set as it is planned now. */
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { mutate } from 'swr';
import type { BatchReply } from '../../../contract/contract.js';
import { useWorkspace } from '../../app/workspace.js';
import { send } from '../../state/api.js';
import { ALL_FRAMES } from './RenderFramesField.js';

/** @param select frames to render, as the field of that name says it. */
export function useStartBatch(select: string): { starting: boolean; start: () => Promise<void> } {
  const { project, setId, revision, plan } = useWorkspace();
  const navigate = useNavigate();
  const [starting, setStarting] = useState(false);
  const start = async (): Promise<void> => {
    if (!revision || starting || plan!.file.shots.length === 0) return;
    setStarting(true);
    try {
      // The last edit must be on the server before it is frozen.
      await plan!.flush();
      const body = { revision: revision.id, ...(select !== ALL_FRAMES && { select }) };
      const batch = await send<BatchReply>('POST', `/sets/${setId}/batches`, body);
      await mutate(`/batches?project=${project.id}`);
      await navigate(`/p/${project.id}/s/${setId}/batch?batch=${batch.id}`);
    } catch (e) {
      toast.error((e as Error).message);
    } finally {
      setStarting(false);
    }
  };
  return { starting, start };
}
