import type { ReactNode } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { useFrames } from '../../state/queries.js';
import { useWorkspace } from '../../app/workspace.js';
import { hourOf } from '../../app/format.js';
import { Button, EmptyState, PageHeader } from '../../ui/controls.js';
import { BatchActions } from './BatchActions.js';
import { BatchFigures } from './BatchFigures.js';
import { BatchFoot } from './BatchFoot.js';
import { BatchNotices } from './BatchNotices.js';
import { BatchTimes } from './BatchTimes.js';
import { FrameGrid } from './FrameGrid.js';
import { FrameInWork } from './FrameInWork.js';
import { PictureInWork } from './PictureInWork.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Run the batch: every frame a cell that fills with its picture; plain figures. */
export default function BatchStep(): ReactNode {
  const { project, setId, batches } = useWorkspace();
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const batch = batches.find((b) => b.id === Number(query.get('batch'))) ?? batches[0];
  const { data: frames } = useFrames(batch?.id);
  const set = `/p/${project.id}/s/${setId}`;
  if (!batch) {
    return (
      <>
        <PageHeader title={LABELS.batch} />
        <EmptyState title={HELP.nothingHasBeenRendered}>
          <Button primary onClick={() => void navigate(`${set}/shots`)}>
            {LABELS.planShots}
          </Button>
        </EmptyState>
      </>
    );
  }
  const open = batch.state === 'running' || batch.state === 'queued';
  const finished = frames?.filter((f) => f.state === 'done') ?? [];
  const latest = finished.at(-1);
  return (
    <>
      <PageHeader
        title={LABELS.batchNumber(batch.number)}
        facts={MESSAGES.revisionByStarted(
          batch.name,
          batch.revision,
          batch.quality,
          batch.samples,
          batch.size.width,
          batch.size.height,
          hourOf(batch.created),
        )}
      >
        <BatchActions batch={batch} open={open} set={set} />
      </PageHeader>
      <BatchFigures batch={batch} />
      <BatchNotices batch={batch} open={open} />
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_330px]">
        {frames ? <FrameGrid batch={batch} frames={frames} /> : <p className="p-4 text-graphite">{MESSAGES.loading}</p>}
        <aside className="flex min-h-0 flex-col gap-3 overflow-auto border-l border-rule bg-chalk">
          <PictureInWork batch={batch} latest={latest} />
          <FrameInWork batch={batch} latest={latest} />
          {(finished.length > 1 || (batch.forecast && frames)) && (
            <div className="px-4">
              <BatchTimes batch={batch} frames={frames!} />
            </div>
          )}
          <BatchFoot batch={batch} batches={batches} open={open} onChoose={(id) => setQuery({ batch: id })} />
        </aside>
      </div>
    </>
  );
}
