import type { ReactNode } from 'react';
import type { BatchReply } from '../../../contract/batches.js';
import { clock, formatEta, hourOf } from '../../app/format.js';
import { LABELS } from './words.js';

function Figure({ label, value, unit, note }: { label: string; value: string; unit?: string; note?: string }): ReactNode {
  return (
    <div className="border-r border-rule px-[18px] py-2">
      <p className="font-head text-xs font-medium text-graphite">{label}</p>
      <p className="num whitespace-nowrap text-lg">
        {value} {unit && <span className="text-sm text-graphite">{unit}</span>}
        {note && <span className="text-sm text-graphite">{note}</span>}
      </p>
    </div>
  );
}

/** From when to when, of what is expected. */
function remainingNote({ state, remainingRange }: BatchReply): { note?: string } {
  return state === 'running' && remainingRange ? { note: LABELS.fromTo(clock(remainingRange.low), clock(remainingRange.high)) } : {};
}

function hoursNote({ state, remainingRange }: BatchReply): { note?: string } {
  if (state !== 'running' || !remainingRange) return {};
  const [low, high] = [formatEta(remainingRange.low), formatEta(remainingRange.high)];
  return low === high ? {} : { note: LABELS.fromTo(low, high) };
}

/** How far a batch is, and when it ends. */
export function BatchFigures({ batch }: { batch: BatchReply }): ReactNode {
  return (
    <div className="flex shrink-0 overflow-hidden border-b border-rule bg-chalk" data-testid="figures">
      <Figure label={LABELS.done} value={`${batch.done} of ${batch.total}`} />
      <Figure label={LABELS.state} value={batch.state} />
      <Figure label={LABELS.elapsed} value={clock(batch.elapsed)} />
      <Figure label={LABELS.remaining} value={batch.remaining === null ? LABELS.measuring : clock(batch.remaining)} {...remainingNote(batch)} />
      <Figure
        label={LABELS.finishedAt}
        value={batch.ended ? hourOf(batch.ended) : batch.state === 'running' && batch.remaining !== null ? formatEta(batch.remaining) : '–'}
        {...hoursNote(batch)}
      />
      {batch.lastFrameSeconds === null ? (
        <Figure label={LABELS.lastFrame} value="–" />
      ) : (
        <Figure label={LABELS.lastFrame} value={batch.lastFrameSeconds.toFixed(2)} unit="s" />
      )}
      {batch.developed > 0 && <Figure label={LABELS.developed} value={String(batch.developed)} />}
      {batch.takenOver > 0 && <Figure label={LABELS.takenOver} value={String(batch.takenOver)} />}
      <Figure label={LABELS.failed} value={String(batch.failed)} />
    </div>
  );
}
