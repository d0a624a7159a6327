/** What waits and runs, of all projects, in its order; below it what is over. */
import { type ReactNode, useMemo, useState } from 'react';
import { arrayMove } from '@dnd-kit/sortable';
import { Link } from 'react-router';
import { type BatchReply, PRIORITIES } from '../../../contract/batches.js';
import { ConnectionBanner } from '../../app/ConnectionBanner.js';
import { fileSize } from '../../app/format.js';
import { Logo } from '../../app/Logo.js';
import { LABELS as APP_LABELS } from '../../app/words.js';
import { useBatchEvents } from '../../state/projectEvents.js';
import { useAllBatches, useDeletedBatches, useMasters, useProjects } from '../../state/queries.js';
import { Button, EmptyState } from '../../ui/controls.js';
import { SortableList } from '../../ui/SortableList.js';
import { attempt, placeBatch, restoreBatch } from './batchActions.js';
import { HistoryRow } from './HistoryRow.js';
import { QueueRow } from './QueueRow.js';
import { StartBatches } from './StartBatches.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const OVER = ['done', 'stopped'];

/** Batches that wait or run, as the server takes them. */
function inOrder(batches: readonly BatchReply[]): BatchReply[] {
  const level = (b: BatchReply): number => PRIORITIES.indexOf(b.priority);
  return batches.filter((b) => !OVER.includes(b.state)).sort((a, b) => level(a) - level(b) || a.rank - b.rank || a.number - b.number);
}

/** Puts a batch where another is: it takes that one's priority, and comes before whatever follows it then. */
function move(waiting: readonly BatchReply[], id: number, to: number): void {
  const at = (wanted: number): number => waiting.findIndex((b) => b.id === wanted);
  const moved = waiting[at(id)]!;
  const { priority } = waiting[at(to)]!;
  const next = arrayMove([...waiting], at(id), at(to));
  const after = next[next.indexOf(moved) + 1];
  attempt(placeBatch(moved, { priority, before: after?.priority === priority ? after.id : null }));
}

function Deleted(): ReactNode {
  const { data = [] } = useDeletedBatches();
  if (data.length === 0) return null;
  return (
    <details className="mt-6 text-sm text-graphite">
      <summary className="cursor-pointer">{LABELS.deletedBatches(data.length)}</summary>
      <ul className="py-2">
        {data.map((batch) => (
          <li key={batch.id} className="flex items-center gap-3 py-1">
            <span className="num">{batch.number}</span> {batch.name}
            <button
              type="button"
              aria-label={LABELS.restoreOne(batch.number)}
              className="text-cobalt underline"
              onClick={() => attempt(restoreBatch(batch))}
            >
              {LABELS.restore}
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}

/** How much disk masters take, and what goes first. */
function MastersLine(): ReactNode {
  const { data } = useMasters();
  if (!data) return null;
  const text =
    data.budget === 0
      ? MESSAGES.noMasters
      : MESSAGES.masters(fileSize(data.bytes), fileSize(data.budget), data.acceptedBytes > 0 ? fileSize(data.acceptedBytes) : '');
  return (
    <p className="mt-6 text-sm text-graphite" data-testid="masters">
      {text}
    </p>
  );
}

/** All batches of all projects: what runs, what waits, what was. */
export default function QueuePage(): ReactNode {
  const { data: projects = [] } = useProjects();
  const { data: batches, error } = useAllBatches();
  const [starting, setStarting] = useState(false);
  useBatchEvents(projects.map((p) => p.id));
  const waiting = useMemo(() => inOrder(batches ?? []), [batches]);
  const over = (batches ?? []).filter((b) => OVER.includes(b.state));
  const nameOf = (b: BatchReply): string => projects.find((p) => p.id === b.projectId)?.name ?? '';
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-11 shrink-0 items-center gap-2 border-b border-rule bg-chalk pl-4 font-semibold">
        <Link to="/" className="flex items-center gap-2" title={APP_LABELS.allProjects}>
          <Logo /> {APP_LABELS.appName}
        </Link>
        <Link to="/" className="ml-auto px-4 font-normal text-graphite underline">
          {LABELS.projects}
        </Link>
      </header>
      <ConnectionBanner />
      <main className="min-h-0 flex-1 overflow-auto">
        <div className="mx-auto w-full max-w-6xl p-6">
          <div className="mb-3 flex items-end gap-4">
            <h1 className="text-lg font-semibold">{LABELS.queue}</h1>
            <Button primary className="ml-auto" onClick={() => setStarting(true)}>
              {LABELS.startBatches}
            </Button>
          </div>
          {error && <p role="alert">{error.message}</p>}
          {!batches && !error && <p className="text-graphite">{MESSAGES.loading}</p>}
          {batches && waiting.length === 0 && <p className="border-y border-rule py-4 text-graphite">{HELP.queueIsEmpty}</p>}
          <SortableList
            ids={waiting.map((b) => b.id)}
            nameOf={(id) => LABELS.openBatch(waiting.find((b) => b.id === id)!.number)}
            onMove={(id, to) => move(waiting, id, to)}
          >
            <ol aria-label={LABELS.queue} className={waiting.length > 0 ? 'border-t border-rule' : ''}>
              {waiting.map((b) => (
                <QueueRow key={b.id} batch={b} project={nameOf(b)} />
              ))}
            </ol>
          </SortableList>
          <h2 className="mb-3 mt-8 text-lg font-semibold">{LABELS.history}</h2>
          {batches && over.length === 0 && <EmptyState title={HELP.noHistory}>{null}</EmptyState>}
          <ul aria-label={LABELS.history} className={over.length > 0 ? 'border-t border-rule' : ''}>
            {over.map((b) => (
              <HistoryRow key={b.id} batch={b} project={nameOf(b)} />
            ))}
          </ul>
          <Deleted />
          <MastersLine />
        </div>
      </main>
      {starting && <StartBatches projects={projects} onDone={() => setStarting(false)} />}
    </div>
  );
}
