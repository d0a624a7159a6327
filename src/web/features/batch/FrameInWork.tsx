import type { ReactNode } from 'react';
import type { BatchReply, FrameReply } from '../../../contract/batches.js';
import { Button } from '../../ui/controls.js';
import { askOfBatch } from '../../state/askOfBatch.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Which frame is being rendered, how far it is, and how busy the workers are. */
export function FrameInWork({ batch, latest }: { batch: BatchReply; latest: FrameReply | undefined }): ReactNode {
  return (
    <div className="flex flex-col gap-1 px-4">
      {batch.current ? (
        <p className="flex justify-between">
          <span className="font-medium">{LABELS.frameOfShot(batch.current.shot, batch.current.number)}</span>
          <span className="num">{Math.floor(batch.current.share * 100)} %</span>
        </p>
      ) : (
        latest && <p className="font-medium">{LABELS.frame(latest.shotName, latest.number)}</p>
      )}
      {batch.current && (
        <p className="flex justify-between text-graphite">
          <span>{LABELS.samples}</span>
          <span className="num">{MESSAGES.samplesOf(batch.current.samples, batch.current.ofSamples)}</span>
        </p>
      )}
      {batch.current?.still && (
        <Button className="mt-1 self-start" title={HELP.endsTheSamplingOf} onClick={() => askOfBatch(batch, `frames/${batch.current!.id}/finish`)}>
          {LABELS.finishNow}
        </Button>
      )}
      <p className="flex justify-between text-graphite">
        <span>{LABELS.workers}</span>
        <span className="num">{batch.workers}</span>
      </p>
      <p className="flex justify-between text-graphite" title={HELP.shareOfTheTime}>
        <span>{LABELS.workerIdleTime}</span>
        <span className="num">{batch.idle === null ? '–' : `${(batch.idle * 100).toFixed(1)} %`}</span>
      </p>
    </div>
  );
}
