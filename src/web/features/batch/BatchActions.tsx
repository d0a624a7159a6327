import type { ReactNode } from 'react';
import { useNavigate } from 'react-router';
import type { BatchReply } from '../../../contract/batches.js';
import { send } from '../../state/api.js';
import { toast } from '../../state/toast.js';
import { Button } from '../../ui/controls.js';
import { askOfBatch } from '../../state/askOfBatch.js';
import { HELP, LABELS } from './words.js';

/** What can be done with a batch as it is now. */
export function BatchActions({ batch, open, set }: { batch: BatchReply; open: boolean; /** Address of the set. */ set: string }): ReactNode {
  const navigate = useNavigate();
  const halted = batch.state === 'paused' || batch.state === 'held';
  /** What the first frames showed is put right in the plan; a new batch begins with its own. */
  const change = (): void => {
    send<BatchReply>('POST', `/batches/${batch.id}/stop`)
      .then(() => navigate(`/p/${batch.projectId}/s/${batch.setId}/shots`))
      .catch((e: Error) => toast.error(e.message));
  };
  return (
    <>
      {open && <Button onClick={() => askOfBatch(batch, 'pause')}>{LABELS.pause}</Button>}
      {halted && (
        <Button primary onClick={() => askOfBatch(batch, 'resume')} title={batch.atGate ? HELP.approve : undefined}>
          {batch.atGate ? LABELS.approve : LABELS.resume}
        </Button>
      )}
      {batch.atGate && (
        <Button onClick={change} title={HELP.stopAndChange}>
          {LABELS.stopAndChange}
        </Button>
      )}
      {(open || halted) && <Button onClick={() => askOfBatch(batch, 'stop')}>{LABELS.stop}</Button>}
      {batch.failed > 0 && (
        <Button onClick={() => askOfBatch(batch, 'retry')} title={HELP.retry}>
          {LABELS.retry}
        </Button>
      )}
      {batch.done > 0 && (
        <Button primary={!open && !halted} onClick={() => void navigate(`${set}/review?batch=${batch.id}`)}>
          {open || halted ? LABELS.reviewSoFar : LABELS.review}
        </Button>
      )}
    </>
  );
}
