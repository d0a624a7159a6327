import type { ReactNode } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import type { BatchReply, FrameReply, VerifyReply } from '../../../contract/contract.js';
import { pluralize } from '../../../core/base/pluralize.js';
import { formatRanges } from '../../../core/plan/selection.js';
import { LineChart } from '../../charts/LineChart.js';
import { send } from '../../state/api.js';
import { useBatchForecast, useFrames } from '../../state/queries.js';
import { toast } from '../../state/toast.js';
import { useWorkspace } from '../../app/workspace.js';
import { clock, formatEta, hourOf } from '../../app/format.js';
import { frameImageUrl } from '../../ui/Thumbnail.js';
import { type MenuAction, menuOf } from '../../ui/contextMenu.js';
import { Button, EmptyState, Select, PageHeader } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

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

const CELL_LOOK: Record<FrameReply['state'], string> = {
  waiting: 'border border-rule',
  rendering: 'border-2 border-madder',
  done: '',
  failed: 'border-2 border-ochre',
};

/** Why frames failed, once for each reason. */
function Failures({ frames }: { frames: FrameReply[] }): ReactNode {
  const byReason = new Map<string, FrameReply[]>();
  for (const f of frames) {
    if (f.state !== 'failed') continue;
    const reason = f.message ?? MESSAGES.noReasonGiven;
    byReason.set(reason, [...(byReason.get(reason) ?? []), f]);
  }
  return [...byReason].map(([reason, failed]) => (
    <p key={reason} className="mt-1 text-sm text-ochre">
      <span className="num">{LABELS.failedFrames(formatRanges(failed.map((f) => f.number)))}</span> {reason}
    </p>
  ));
}

function Grid({ batch, frames }: { batch: BatchReply; frames: FrameReply[] }): ReactNode {
  const navigate = useNavigate();
  const frameActions = (f: FrameReply): MenuAction[] => [
    {
      label: LABELS.openInReview,
      disabled: f.state !== 'done',
      run: () => void navigate(`../review?batch=${batch.id}&shot=${encodeURIComponent(f.shot)}&frame=${f.id}`),
    },
    { label: LABELS.copyFileName, run: () => void navigator.clipboard.writeText(f.name).catch((e: Error) => toast.error(e.message)) },
  ];
  const shots = [...new Set(frames.map((f) => f.shot))];
  const aspect = batch.size.width / batch.size.height;
  return (
    <div className="min-h-0 overflow-auto px-[18px] py-3" data-testid="grid">
      {shots.map((shot, i) => {
        const own = frames.filter((f) => f.shot === shot);
        return (
          <section key={shot} className="mb-3">
            <h2 className="mb-1 font-medium">
              <span className="num mr-2 text-graphite">{String(i + 1).padStart(2, '0')}</span>
              {own[0]!.shotName}
              <span className="num ml-3 text-sm text-graphite">
                {own.filter((f) => f.state === 'done').length} / {own.length}
              </span>
            </h2>
            <div className="flex flex-wrap gap-[2px]">
              {own.map((f) => (
                <span
                  key={f.id}
                  data-state={f.damage ?? f.state}
                  title={MESSAGES.frame(
                    f.number,
                    f.state,
                    f.seconds === null ? '' : `, ${f.seconds.toFixed(2)} s`,
                    f.message ? `: ${f.message}` : '',
                  )}
                  onContextMenu={menuOf(f.name, () => frameActions(f))}
                  className={`block h-[26px] ${f.damage ? CELL_LOOK.failed : CELL_LOOK[f.state]}`}
                  style={{ width: Math.round(26 * aspect) }}
                >
                  {f.state === 'done' && f.damage !== 'missing' && (
                    <img src={frameImageUrl(batch.id, f, 'thumb')} alt="" loading="lazy" className="h-full w-full object-cover" />
                  )}
                </span>
              ))}
            </div>
            <Failures frames={own} />
          </section>
        );
      })}
    </div>
  );
}

function Times({ batch, frames }: { batch: BatchReply; frames: FrameReply[] }): ReactNode {
  const { data: foreseen } = useBatchForecast(batch.forecast ? batch.id : undefined);
  const data = frames.map((f, i) => ({ frame: i + 1, value: f.seconds, other: foreseen?.seconds[f.position] ?? null }));
  return (
    <figure data-testid="times">
      <figcaption className="font-head text-xs font-medium text-graphite">
        {foreseen ? MESSAGES.secondsMeasured : MESSAGES.secondsPerFrameIn}
      </figcaption>
      <LineChart data={data} height={150} grid />
    </figure>
  );
}

/** Run the batch: every frame a cell that fills with its picture; plain figures. */
export default function BatchStep(): ReactNode {
  const { project, setId, batches } = useWorkspace();
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const batch = batches.find((b) => b.id === Number(query.get('batch'))) ?? batches[0];
  const { data: frames } = useFrames(batch?.id);
  if (!batch) {
    return (
      <>
        <PageHeader title={LABELS.batch} />
        <EmptyState title={HELP.nothingHasBeenRendered}>
          <Button primary onClick={() => void navigate(`/p/${project.id}/s/${setId}/shots`)}>
            {LABELS.planShots}
          </Button>
        </EmptyState>
      </>
    );
  }
  const act = (what: 'pause' | 'resume' | 'stop'): void => {
    send<BatchReply>('POST', `/batches/${batch.id}/${what}`).catch((e: Error) => toast.error(e.message));
  };
  const ask = (what: string): void => {
    send('POST', `/batches/${batch.id}/${what}`).catch((e: Error) => toast.error(e.message));
  };
  /** What the first frames showed is put right in the plan; a new batch begins with its own. */
  const change = (): void => {
    send<BatchReply>('POST', `/batches/${batch.id}/stop`)
      .then(() => navigate(`/p/${project.id}/s/${batch.setId}/shots`))
      .catch((e: Error) => toast.error(e.message));
  };
  /** Reads every finished file and compares it with what was written. */
  const verify = (): void => {
    send<VerifyReply>('POST', `/batches/${batch.id}/verify`)
      .then(({ files, missing, changed }) =>
        missing + changed === 0 ? toast(MESSAGES.allFilesAreIntact(files)) : toast.error(MESSAGES.ofFilesAreMissing(files, missing, changed)),
      )
      .catch((e: Error) => toast.error(e.message));
  };
  const open = batch.state === 'running' || batch.state === 'queued';
  const halted = batch.state === 'paused' || batch.state === 'held';
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
        {open && <Button onClick={() => act('pause')}>{LABELS.pause}</Button>}
        {halted && (
          <Button primary onClick={() => act('resume')} title={batch.atGate ? HELP.approve : undefined}>
            {batch.atGate ? LABELS.approve : LABELS.resume}
          </Button>
        )}
        {batch.atGate && (
          <Button onClick={change} title={HELP.stopAndChange}>
            {LABELS.stopAndChange}
          </Button>
        )}
        {(open || halted) && <Button onClick={() => act('stop')}>{LABELS.stop}</Button>}
        {!open && !halted && (
          <Button primary onClick={() => void navigate(`/p/${project.id}/s/${setId}/review?batch=${batch.id}`)}>
            {LABELS.review}
          </Button>
        )}
      </PageHeader>
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
        <Figure label={LABELS.lastFrame} value={batch.lastFrameSeconds === null ? '–' : batch.lastFrameSeconds.toFixed(2)} unit="s" />
        <Figure label={LABELS.failed} value={String(batch.failed)} />
      </div>
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
          <Button onClick={() => ask('render-damaged')}>{LABELS.renderDamagedFrames}</Button>
        </p>
      )}
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_330px]">
        {frames ? <Grid batch={batch} frames={frames} /> : <p className="p-4 text-graphite">{MESSAGES.loading}</p>}
        <aside className="flex min-h-0 flex-col gap-3 overflow-auto border-l border-rule bg-chalk">
          <div className="flex h-[195px] shrink-0 items-center justify-center bg-mount p-3">
            {latest && (
              <img src={frameImageUrl(batch.id, latest)} alt={LABELS.frame(latest.shotName, latest.number)} className="max-h-full max-w-full" />
            )}
          </div>
          <div className="flex flex-col gap-1 px-4">
            {batch.current ? (
              <p className="flex justify-between">
                <span className="font-medium">{LABELS.frameOfShot(batch.current.shot, batch.current.number)}</span>
                <span className="num">{Math.floor(batch.current.share * 100)} %</span>
              </p>
            ) : (
              latest && <p className="font-medium">{LABELS.frame(latest.shotName, latest.number)}</p>
            )}
            {batch.current?.still && (
              <Button
                className="mt-1 self-start"
                title={HELP.endsTheSamplingOf}
                onClick={() => send('POST', `/batches/${batch.id}/frames/${batch.current!.id}/finish`).catch((e: Error) => toast.error(e.message))}
              >
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
          {(finished.length > 1 || (batch.forecast && frames)) && (
            <div className="px-4">
              <Times batch={batch} frames={frames!} />
            </div>
          )}
          <div className="mt-auto border-t border-rule px-4 py-3 text-sm">
            <Select
              label={LABELS.batch}
              help={HELP.batch}
              value={String(batch.id)}
              options={batches.map((b) => ({ value: String(b.id), label: `${b.number} ${b.name}, ${b.state}` }))}
              onValue={(id) => setQuery({ batch: id })}
            />
            <p className="font-head text-xs font-medium text-graphite">{LABELS.folder}</p>
            <p className="num break-all text-xs">{batch.folder}</p>
            {!open && batch.done > 0 && (
              <Button className="mt-2" title={HELP.readsEveryFinishedFile} onClick={verify}>
                {LABELS.checkFiles}
              </Button>
            )}
          </div>
        </aside>
      </div>
    </>
  );
}
