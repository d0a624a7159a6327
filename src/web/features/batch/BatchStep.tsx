import type { ReactNode } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import type { BatchReply, FrameReply } from '../../../contract/batches.js';
import { pluralize } from '../../../core/base/pluralize.js';
import { LineChart } from '../../charts/LineChart.js';
import { send } from '../../state/api.js';
import { useBatchForecast, useFrames } from '../../state/queries.js';
import { toast } from '../../state/toast.js';
import { useWorkspace } from '../../app/workspace.js';
import { clock, formatEta, hourOf } from '../../app/format.js';
import { setPreferences, usePreferences } from '../../app/preferences.js';
import { Button, Checkbox, EmptyState, Select, PageHeader } from '../../ui/controls.js';
import { FolderLine } from './FolderLine.js';
import { FrameGrid } from './FrameGrid.js';
import { PictureInWork } from './PictureInWork.js';
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

function Times({ batch, frames }: { batch: BatchReply; frames: FrameReply[] }): ReactNode {
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

/** Run the batch: every frame a cell that fills with its picture; plain figures. */
export default function BatchStep(): ReactNode {
  const { project, setId, batches } = useWorkspace();
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const batch = batches.find((b) => b.id === Number(query.get('batch'))) ?? batches[0];
  const { data: frames } = useFrames(batch?.id);
  const { notices: notify, noticeSound: sound } = usePreferences();
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
  /** Asked in place: a browser that was asked at first sight says no for ever. */
  const askForNotices = async (on: boolean): Promise<void> => {
    if (on && typeof Notification !== 'undefined' && (await Notification.requestPermission()) !== 'granted') toast.error(MESSAGES.noNotices);
    setPreferences({ notices: on });
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
        {batch.failed > 0 && (
          <Button onClick={() => ask('retry')} title={HELP.retry}>
            {LABELS.retry}
          </Button>
        )}
        {batch.done > 0 && (
          <Button primary={!open && !halted} onClick={() => void navigate(`/p/${project.id}/s/${setId}/review?batch=${batch.id}`)}>
            {open || halted ? LABELS.reviewSoFar : LABELS.review}
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
        {batch.lastFrameSeconds === null ? (
          <Figure label={LABELS.lastFrame} value="–" />
        ) : (
          <Figure label={LABELS.lastFrame} value={batch.lastFrameSeconds.toFixed(2)} unit="s" />
        )}
        {batch.developed > 0 && <Figure label={LABELS.developed} value={String(batch.developed)} />}
        {batch.takenOver > 0 && <Figure label={LABELS.takenOver} value={String(batch.takenOver)} />}
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
        {frames ? <FrameGrid batch={batch} frames={frames} /> : <p className="p-4 text-graphite">{MESSAGES.loading}</p>}
        <aside className="flex min-h-0 flex-col gap-3 overflow-auto border-l border-rule bg-chalk">
          <PictureInWork batch={batch} latest={latest} />
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
            <FolderLine batch={batch} over={!open} />
            <div className="mt-2 flex flex-wrap items-center gap-3">
              <Link to="/queue" className="text-cobalt underline">
                {LABELS.queue}
              </Link>
              <Checkbox label={LABELS.notify} help={HELP.notify} checked={notify} onChecked={(on) => void askForNotices(on)} />
              {notify && <Checkbox label={LABELS.sound} help={HELP.sound} checked={sound} onChecked={(on) => setPreferences({ noticeSound: on })} />}
            </div>
          </div>
        </aside>
      </div>
    </>
  );
}
