import type { ReactNode } from 'react';
import type { BatchReply } from '../../../contract/batches.js';
import { pluralize } from '../../../core/base/pluralize.js';
import { Button } from '../../ui/controls.js';
import { askOfBatch } from '../../state/askOfBatch.js';
import { LABELS, MESSAGES } from './words.js';

/** Why a batch does not go on, with which faults it was started, and what became of its files. */
export function BatchNotices({ batch, open }: { batch: BatchReply; open: boolean }): ReactNode {
  return (
    <>
      {batch.reason && (
        <p role="alert" className="shrink-0 border-b border-rule px-[18px] py-2 text-ochre">
          {batch.reason}
        </p>
      )}
      {batch.acceptedFaults && (
        <details className="shrink-0 border-b border-rule px-[18px] py-2 text-sm">
          <summary className="cursor-default">{MESSAGES.startedWith(pluralize(batch.acceptedFaults.length, 'open fault'))}</summary>
          <ul className="list-disc pl-5 text-graphite">
            {batch.acceptedFaults.map((fault) => (
              <li key={fault}>{fault}</li>
            ))}
          </ul>
        </details>
      )}
      {!open && batch.damaged > 0 && (
        <p role="alert" className="flex shrink-0 items-center gap-4 border-b border-rule px-[18px] py-2 text-ochre">
          <span>{MESSAGES.lostAFileOr(pluralize(batch.damaged, LABELS.finishedFrameHas, LABELS.finishedFramesHave))}</span>
          <Button onClick={() => askOfBatch(batch, 'render-damaged')}>{LABELS.renderDamagedFrames}</Button>
        </p>
      )}
    </>
  );
}
