/** A batch that waits or runs: its place, its priority, its hour, how far it is. */
import type { ReactNode } from 'react';
import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical } from 'lucide-react';
import { Link } from 'react-router';
import type { BatchReply } from '../../../contract/batches.js';
import { clock, formatEta } from '../../app/format.js';
import { Button } from '../../ui/controls.js';
import { attempt, placeBatch, steer } from './batchActions.js';
import { PrioritySelect } from './PrioritySelect.js';
import { StartAtField } from './StartAtField.js';
import { LABELS, MESSAGES } from './words.js';

/** How far a batch is, in words. */
export function progressOf({ done, total, takenOver, developed, failed, state, remaining }: BatchReply): string {
  const facts = [MESSAGES.framesOf(done, total)];
  if (developed > 0) facts.push(MESSAGES.developed(developed));
  if (takenOver > 0) facts.push(MESSAGES.takenOver(takenOver));
  if (failed > 0) facts.push(MESSAGES.failed(failed));
  if (state === 'running' && remaining !== null) facts.push(MESSAGES.toGo(clock(remaining)));
  return facts.join(' · ');
}

/** A batch that runs or waits; it can be dragged. */
export function QueueRow({ batch, project }: { batch: BatchReply; project: string }): ReactNode {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition } = useSortable({ id: batch.id });
  const { number, name, state, priority, total, done, reason } = batch;
  const open = state === 'running' || state === 'queued';
  const place = (to: Parameters<typeof placeBatch>[1]): void => attempt(placeBatch(batch, to));
  return (
    <li
      ref={setNodeRef}
      aria-label={LABELS.openBatch(number)}
      className="grid grid-cols-[24px_minmax(0,1fr)_minmax(0,220px)_150px_190px_172px] items-center gap-x-4 border-b border-rule py-2 max-[1180px]:grid-cols-[24px_minmax(0,1fr)_170px_130px_180px_150px] max-[1180px]:gap-x-3"
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      <button
        type="button"
        ref={setActivatorNodeRef}
        {...attributes}
        {...listeners}
        aria-label={LABELS.drag(number)}
        className="cursor-grab text-graphite"
      >
        <GripVertical size={15} aria-hidden />
      </button>
      <div className="min-w-0">
        <Link to={`/p/${batch.projectId}/s/${batch.setId}/batch?batch=${batch.id}`} className="block truncate font-medium">
          <span className="num mr-2 text-graphite">{number}</span>
          {name}
        </Link>
        <span className="block truncate text-sm text-graphite">{MESSAGES.revisionOf(project, batch.revision)}</span>
        {reason && <span className="block text-sm text-ochre">{reason}</span>}
      </div>
      <div className="min-w-0">
        <span className="flex justify-between text-sm">
          <span>{state}</span>
        </span>
        <span className="my-1 block h-[3px] bg-rule">
          <span className="block h-full bg-ink" style={{ width: `${(100 * done) / Math.max(1, total)}%` }} />
        </span>
        <span
          className="num block truncate text-xs text-graphite"
          title={batch.remaining === null ? progressOf(batch) : MESSAGES.doneAt(progressOf(batch), formatEta(batch.remaining))}
        >
          {progressOf(batch)}
        </span>
      </div>
      <PrioritySelect value={priority} onValue={(to) => place({ priority: to })} />
      {state === 'running' ? <span /> : <StartAtField value={batch.startAt} onValue={(startAt) => place({ startAt })} />}
      <div className="flex justify-end gap-2">
        {open ? (
          <Button onClick={() => steer(batch, 'pause')}>{LABELS.pause}</Button>
        ) : (
          <Button primary onClick={() => steer(batch, 'resume')}>
            {LABELS.resume}
          </Button>
        )}
        <Button onClick={() => steer(batch, 'stop')}>{LABELS.stop}</Button>
      </div>
    </li>
  );
}
