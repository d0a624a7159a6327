/** A batch that is over: its picture, how it was rendered, and what can be done with it. */
import { type ReactNode, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import useSWR from 'swr';
import type { BatchReply } from '../../../contract/batches.js';
import { get, send } from '../../state/api.js';
import { ActionsMenu } from '../../ui/ActionsMenu.js';
import { type MenuAction, menuOf } from '../../ui/contextMenu.js';
import { Button } from '../../ui/controls.js';
import { attempt, planAgain, steer } from './batchActions.js';
import { DeleteDialog } from './DeleteDialog.js';
import { progressOf } from './QueueRow.js';
import { LABELS, MESSAGES } from './words.js';

/** What of the set is otherwise today than when the batch was started. */
function Differences({ batch }: { batch: number }): ReactNode {
  const { data, error } = useSWR<string[], Error>(`/batches/${batch}/differences`, get);
  if (error) return <p className="text-ochre">{error.message}</p>;
  if (!data) return <p className="text-graphite">{MESSAGES.loading}</p>;
  if (data.length === 0) return <p className="text-graphite">{MESSAGES.noDifference}</p>;
  return (
    <ul className="list-disc pl-5 text-graphite">
      {data.map((sentence) => (
        <li key={sentence}>{sentence}</li>
      ))}
    </ul>
  );
}

/** A batch that is over. */
export function HistoryRow({ batch, project }: { batch: BatchReply; project: string }): ReactNode {
  const navigate = useNavigate();
  const [shown, setShown] = useState(false);
  const [deleting, setDeleting] = useState(false);
  const { number, name, size, quality, samples, created, done, failed } = batch;
  const address = `/p/${batch.projectId}/s/${batch.setId}/batch?batch=${batch.id}`;
  const actions: MenuAction[] = [
    { label: LABELS.planAgain, run: () => attempt(planAgain(batch).then((set) => navigate(`/p/${batch.projectId}/s/${set.id}/shots`))) },
    { label: LABELS.renderAgain, run: () => attempt(send('POST', `/batches/${batch.id}/again`)) },
    ...(failed > 0 ? [{ label: LABELS.retry, run: () => steer(batch, 'retry') }] : []),
    { label: LABELS.report, run: () => window.location.assign(`/api/batches/${batch.id}/report.html`) },
    { label: LABELS.delete, run: () => setDeleting(true) },
  ];
  return (
    <li aria-label={LABELS.openBatch(number)} className="border-b border-rule py-2" onContextMenu={menuOf(LABELS.openBatch(number), () => actions)}>
      <div className="flex items-center gap-4">
        <Link to={address} className="h-[54px] w-24 shrink-0 bg-mount" tabIndex={-1} aria-hidden>
          {done > 0 && <img src={`/api/batches/${batch.id}/cover`} alt="" loading="lazy" className="h-full w-full object-contain" />}
        </Link>
        <div className="min-w-0 flex-1">
          <Link to={address} className="block truncate font-medium">
            <span className="num mr-2 text-graphite">{number}</span>
            {name}
          </Link>
          <span className="block truncate text-sm text-graphite">{MESSAGES.revisionOf(project, batch.revision)}</span>
        </div>
        <span className="num w-56 shrink-0 text-sm text-graphite max-[1100px]:hidden">
          {MESSAGES.sizeAndQuality(size.width, size.height, quality, samples)}
        </span>
        <span className="num w-48 shrink-0 text-sm">
          {batch.state} · {progressOf(batch)}
        </span>
        <span className="num w-36 shrink-0 text-sm text-graphite">
          {new Date(created).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}
        </span>
        <Button aria-expanded={shown} onClick={() => setShown(!shown)}>
          {LABELS.differences}
        </Button>
        <ActionsMenu label={LABELS.actions(number)} actions={actions} />
      </div>
      {shown && (
        <div className="pl-28 pt-2 text-sm">
          <Differences batch={batch.id} />
        </div>
      )}
      {deleting && <DeleteDialog batch={batch} onDone={() => setDeleting(false)} />}
    </li>
  );
}
