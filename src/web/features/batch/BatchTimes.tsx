import type { ReactNode } from 'react';
import type { BatchReply, FrameReply } from '../../../contract/batches.js';
import { LineChart } from '../../charts/LineChart.js';
import { useBatchForecast } from '../../state/queries.js';
import { MESSAGES } from './words.js';

/** Seconds of each frame, beside those foreseen. */
export function BatchTimes({ batch, frames }: { batch: BatchReply; frames: FrameReply[] }): ReactNode {
  const { data: foreseen } = useBatchForecast(batch.forecast ? batch.id : undefined);
  const data = frames.map((f, i) => ({ frame: i + 1, value: f.seconds, other: foreseen?.seconds[f.position] ?? null }));
  // All of it was reused or developed: nothing took its time.
  if (['done', 'stopped'].includes(batch.state) && data.every((d) => d.value === null && d.other === null)) return null;
  return (
    <figure data-testid="times">
      <figcaption className="font-head text-xs font-medium text-graphite">
        {foreseen ? MESSAGES.secondsMeasured : MESSAGES.secondsPerFrameIn}
      </figcaption>
      <LineChart data={data} height={110} grid />
    </figure>
  );
}
