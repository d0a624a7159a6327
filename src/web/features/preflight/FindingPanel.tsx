/** One finding: its frame with the finding drawn on it, what it says, and what can be done about it. */
import { ChevronLeft, ChevronRight } from 'lucide-react';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { type Frame, shotIdOfOutput } from '../../../core/frame/frame.js';
import { SHOT_KINDS } from '../../../core/shots/kinds.js';
import type { Waiver } from '../../../core/plan/waiver.js';
import type { ReportedFinding } from '../../../core/preflight/preflight.js';
import { useWorkspace } from '../../app/workspace.js';
import { LineChart } from '../../charts/LineChart.js';
import { PixelAnswer, useAskedPixel } from '../../preview/AskedPixel.js';
import { Button } from '../../ui/controls.js';
import { thumbnailUrl } from '../../ui/Thumbnail.js';
import { useStepping } from '../../ui/Timeline.js';
import { FindingFrame } from './FindingFrame.js';
import { SeverityMark } from './SeverityMark.js';
import { WaiveForm } from './WaiveForm.js';
import { LABELS } from './words.js';

interface Props {
  finding: ReportedFinding;
  /** Its fix and its waiver fit the set as it is now. */
  isCurrent: boolean;
  onFix: () => void;
  onWaive: (waiver: Waiver) => void;
  onWithdraw: () => void;
  onNext: () => void;
}

/** Frames that the finding can be looked at on: those it names, or all of its run. */
function shownFrames(frames: readonly Frame[], { run, frames: numbers }: ReportedFinding): Frame[] {
  if (run === undefined) return [];
  const own = frames.filter((f) => f.shot === run);
  const named = numbers && own.filter((f) => numbers.includes(f.number));
  return named && named.length > 0 ? named : own;
}

/** One finding: what it says, its frame, its fix and its waiver. */
export function FindingPanel({ finding, isCurrent, onFix, onWaive, onWithdraw, onNext }: Props): ReactNode {
  const { project, frames, setId, revision, plan } = useWorkspace();
  const [waiving, setWaiving] = useState(false);
  const own = shownFrames(frames, finding);
  const worst = own.findIndex((f) => f.number === finding.worst);
  const [index, setIndex] = useState(Math.max(0, worst));
  useEffect(() => {
    setIndex(Math.max(0, worst));
    setWaiving(false);
  }, [finding.key, worst]);
  useStepping(own.length, index, setIndex);
  const frame = own[Math.min(index, own.length - 1)];
  const run = encodeURIComponent(frame?.shot ?? '');
  const pixel = useAskedPixel(`/sets/${setId}/pixel?revision=${revision!.id}&run=${run}&number=${frame?.number ?? 0}&v=${plan!.version}`);
  const shotId = finding.run === undefined ? '' : shotIdOfOutput(finding.run);
  const ofShot = frames.filter((f) => shotIdOfOutput(f.shot) === shotId);
  const caption = ({ number, shot, view, kind }: Frame): string =>
    SHOT_KINDS[kind as keyof typeof SHOT_KINDS].moving
      ? LABELS.frameOf(number, frames.filter((f) => f.shot === shot).at(-1)!.number)
      : (plan!.file.views.find((v) => v.id === view)?.name ?? view);
  // After an edit the findings come first: its picture is drawn anew when they are there.
  const version = useRef(plan!.version);
  if (isCurrent) version.current = plan!.version;
  const url = (width: 320 | 640): string =>
    thumbnailUrl(setId, revision!.id, { shot: shotId, index: ofShot.indexOf(frame!) }, version.current, width);
  return (
    <>
      {frame && (
        <div className="flex min-h-0 flex-1">
          <div className="flex min-h-0 min-w-0 flex-1 items-center justify-center bg-mount p-4">
            <FindingFrame
              small={url(320)}
              large={url(640)}
              aspect={(frame.size.width * frame.pixelAspect) / frame.size.height}
              shot={finding.shotName ?? ''}
              number={frame.number}
              caption={caption(frame)}
              {...(finding.overlay && frame.number === finding.worst && { overlay: finding.overlay })}
              asked={pixel.at}
              onAsk={pixel.ask}
            />
          </div>
          {pixel.at && (
            <aside className="w-60 shrink-0 overflow-auto border-l border-rule bg-chalk p-3">
              <PixelAnswer state={pixel} base={`/p/${project.id}/s/${setId}`} />
            </aside>
          )}
        </div>
      )}
      <section aria-label={finding.title} className="flex shrink-0 flex-col gap-3 border-t border-rule bg-chalk p-4">
        <h2 className="flex items-center gap-3 font-semibold">
          <SeverityMark severity={finding.severity} />
          {finding.title}
          <span className="font-normal text-graphite">{finding.shotName ?? LABELS.wholeSet}</span>
          {own.length > 1 && (
            <span className="ml-auto flex items-center gap-1">
              <button
                type="button"
                aria-label={LABELS.previousFrame}
                disabled={index <= 0}
                className="p-1 disabled:opacity-40"
                onClick={() => setIndex(index - 1)}
              >
                <ChevronLeft size={16} aria-hidden />
              </button>
              <button
                type="button"
                aria-label={LABELS.nextFrame}
                disabled={index >= own.length - 1}
                className="p-1 disabled:opacity-40"
                onClick={() => setIndex(index + 1)}
              >
                <ChevronRight size={16} aria-hidden />
              </button>
            </span>
          )}
        </h2>
        <p>{finding.message}</p>
        {finding.waived !== undefined && (
          <p className="text-graphite">
            {LABELS.waived}: {finding.waived}
          </p>
        )}
        {waiving ? (
          <WaiveForm
            finding={finding}
            frame={finding.about.frame !== undefined && frame?.number === finding.worst ? finding.worst : undefined}
            onWaive={(waiver) => {
              setWaiving(false);
              onWaive(waiver);
            }}
            onCancel={() => setWaiving(false)}
          />
        ) : (
          <div className="flex flex-wrap gap-3">
            {finding.fix && finding.waived === undefined && (
              <Button className="border-madder text-madder" disabled={!isCurrent} onClick={onFix}>
                {finding.fix.label}
              </Button>
            )}
            {finding.waived !== undefined ? (
              <Button onClick={onWithdraw}>{LABELS.withdraw}</Button>
            ) : (
              !finding.blocks && (
                <Button disabled={!isCurrent} onClick={() => setWaiving(true)}>
                  {LABELS.waive}
                </Button>
              )
            )}
            <Button className="ml-auto" onClick={onNext} title="N">
              {LABELS.nextFinding}
            </Button>
          </div>
        )}
        {finding.curve && (
          <div>
            <p className="font-head text-xs font-medium text-graphite">
              {finding.curve.label},{finding.curve.unit}
            </p>
            <LineChart
              data={finding.curve.values.map((value, i) => ({ frame: (frames.find((f) => f.shot === finding.run)?.number ?? 1) + i, value }))}
              height={84}
              grid
              ticks={3}
              fit
              {...(frame && { mark: frame.number })}
            />
          </div>
        )}
      </section>
    </>
  );
}
