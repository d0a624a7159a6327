/** What a finished render came to. */
import type { ReactNode } from 'react';
import type { BatchReply, FrameReply } from '../../../contract/batches.js';
import { send } from '../../state/api.js';
import { toast } from '../../state/toast.js';
import { Button } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** What a render came to: its name, samples and time, and what ended it before its time. */
export function FrameFacts({ batch, frame }: { batch: BatchReply; frame: FrameReply }): ReactNode {
  const early = frame.ended === 'hand' || frame.ended === 'time';
  const more = (): void => {
    send('POST', `/batches/${batch.id}/frames/${frame.id}/resume`)
      .then(() => toast(MESSAGES.continuesFromSamples(frame.name, frame.samples ?? 0)))
      .catch((e: Error) => toast.error(e.message));
  };
  const said = MESSAGES.samplesS(
    frame.samples ?? 0,
    frame.seconds?.toFixed(2) ?? '',
    (early && MESSAGES.endedByBeforeIts(frame.ended ?? '', batch.samples)) || '',
  );
  const lineage = MESSAGES.lineage(frame.developed !== undefined, frame.look ?? '');
  return (
    <>
      <p className="num min-w-0 truncate text-sm" title={`${frame.name} ${said}${lineage}`}>
        {frame.name}{' '}
        <span className="text-graphite">
          {said}
          {lineage}
        </span>
      </p>
      {early && (
        <Button onClick={more} title={HELP.continuesFromWhereSampling}>
          {LABELS.continueSampling}
        </Button>
      )}
    </>
  );
}
