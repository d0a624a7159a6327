/** What is to be said of the set before it runs, and what can be done about it. */
import { type ReactNode, useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { pluralize } from '../../../core/base/pluralize.js';
import { shotIdOfOutput } from '../../../core/frame/frame.js';
import { outputName, type SetFile } from '../../../core/plan/set.js';
import { applyPatch } from '../../../core/preflight/patch.js';
import { SEVERITIES, type Severity } from '../../../core/preflight/finding.js';
import { openFindings, type ReportedFinding } from '../../../core/preflight/preflight.js';
import { shotName } from '../../../core/shots/kinds.js';
import { useCommands } from '../../app/commands.js';
import { useKeys } from '../../app/keys.js';
import { useWorkspace } from '../../app/workspace.js';
import { usePreflightProgress } from '../../state/preflight.js';
import { toast } from '../../state/toast.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button, Checkbox, EmptyState, PageHeader } from '../../ui/controls.js';
import { LABELS as START_LABELS } from '../shots/startWords.js';
import { useStartBatch } from '../shots/useStartBatch.js';
import { ALL_FRAMES } from '../../../core/plan/selection.js';
import { FindingPanel } from './FindingPanel.js';
import { FirstFramesFields } from './FirstFramesFields.js';
import { FindingsList } from './FindingsList.js';
import { FindingsTable, type TableRow } from './FindingsTable.js';
import { SeverityMark } from './SeverityMark.js';
import { WaiverList } from './WaiverList.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** What is listed: severities, and whether waived findings are. */
type Filter = Record<Severity | 'waived', boolean>;

/** The worst first; within a severity as they come. */
function sorted(findings: readonly ReportedFinding[]): ReportedFinding[] {
  return SEVERITIES.flatMap((s) => findings.filter((f) => f.severity === s));
}

function useFacts(): string {
  const { setId, preflight } = useWorkspace();
  const progress = usePreflightProgress(setId);
  const { report, checking, problem } = preflight;
  if (problem !== null && !checking) return problem;
  if (checking || !report)
    return progress && checking && progress.done < progress.total ? MESSAGES.checkingFrames(progress.done, progress.total) : MESSAGES.checking;
  const seconds = report.seconds.toFixed(1);
  const looked = MESSAGES.checked(pluralize(report.frames, 'frame'), seconds);
  const counts = MESSAGES.counts(
    pluralize(openFindings(report, 'fault').length, 'fault'),
    pluralize(openFindings(report, 'doubt').length, 'doubt'),
    report.findings.filter((f) => f.waived !== undefined).length,
  );
  return `${looked} · ${counts}`;
}

function rowsOf(file: SetFile, frames: readonly { shot: string }[]): TableRow[] {
  const counts = new Map<string, number>();
  for (const { shot } of frames) counts.set(shotIdOfOutput(shot), (counts.get(shotIdOfOutput(shot)) ?? 0) + 1);
  return [
    ...file.shots.filter((s) => !s.off).map((s) => ({ shot: s.id, name: shotName(s), frames: counts.get(s.id) ?? 0 })),
    { shot: undefined, name: LABELS.wholeSet },
  ];
}

/** The step in which plans are checked before they are rendered. */
export default function PreflightStep(): ReactNode {
  const { project, setId, revision, plan, frames, preflight } = useWorkspace();
  const navigate = useNavigate();
  const [query, setQuery] = useSearchParams();
  const [filter, setFilter] = useState<Filter>({ fault: true, doubt: true, note: true, waived: false });
  const { starting, start, question } = useStartBatch(ALL_FRAMES);
  const facts = useFacts();
  const { file } = plan!;
  const { report, checking } = preflight;
  const all = useMemo(() => sorted(report?.findings ?? []), [report]);
  const shown = all.filter((f) => filter[f.severity] && (filter.waived || f.waived === undefined));
  const rows = useMemo(() => rowsOf(file, frames), [file, frames]);
  const selected = shown.find((f) => f.key === query.get('finding')) ?? shown[0];
  const select = (finding: ReportedFinding): void => setQuery({ finding: finding.key }, { replace: true });
  const next = (): void => {
    if (shown.length > 0) select(shown[(shown.indexOf(selected!) + 1) % shown.length]!);
  };
  const edit = (change: (file: SetFile) => SetFile, done?: string): void => {
    try {
      const problem = plan!.edit(change);
      toastProblem(problem);
      if (problem) return;
      if (done) toast(done);
      // What comes of it is waited for: it is saved at once. Where that fails, the saver says so.
      void plan!.flush().catch(() => undefined);
    } catch (e) {
      toastProblem((e as Error).message);
    }
  };
  const mended = [...openFindings({ findings: all }, 'fault'), ...openFindings({ findings: all }, 'doubt')].flatMap((f) => f.fix ?? []);
  const withdraw = (index: number): void => edit((f) => ({ ...f, waivers: f.waivers?.filter((_, i) => i !== index) }));
  const withdrawFor = (finding: ReportedFinding): void =>
    withdraw(
      (file.waivers ?? []).findIndex(
        (w) =>
          w.finding === finding.check &&
          w.frame === undefined &&
          (w.shot === undefined ? w.about === finding.about.set : w.shot === finding.run && w.about === finding.about.shot),
      ),
    );
  useKeys({ n: next, 'ctrl+Enter': () => void start() });
  useCommands([
    { name: LABELS.nextFinding, keys: 'N', run: next },
    { name: START_LABELS.startBatch, keys: 'Ctrl Enter', run: () => void start() },
  ]);
  if (!revision || file.shots.length === 0) {
    return (
      <>
        <PageHeader title={LABELS.preflight} />
        <EmptyState title={HELP.nothingToCheck}>
          <p>{HELP.addShotsFirst}</p>
          <Button primary onClick={() => void navigate(`/p/${project.id}/s/${setId}/shots`)}>
            {LABELS.goToShots}
          </Button>
        </EmptyState>
      </>
    );
  }
  return (
    <>
      <PageHeader title={LABELS.preflight} facts={facts}>
        {mended.length > 0 && (
          <Button
            disabled={checking}
            title={HELP.appliesFixes}
            onClick={() => edit((f) => mended.reduce((set, fix) => applyPatch(set, fix.patch), f))}
          >
            {LABELS.applyFixes(mended.length)}
          </Button>
        )}
        <Button primary disabled={starting || frames.length === 0} onClick={() => void start()} title={LABELS.ctrlEnter}>
          {starting ? START_LABELS.checking : START_LABELS.startBatch}
        </Button>
        {question}
      </PageHeader>
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,11fr)_minmax(0,10fr)]" aria-busy={checking}>
        <div className="flex min-h-0 flex-col border-r border-rule bg-chalk">
          <div className="min-h-0 flex-1 overflow-auto">
            <FindingsTable rows={rows} findings={shown} selected={selected} onSelect={select} />
            <div className="flex flex-wrap items-center gap-x-5 border-b border-rule px-[18px] py-1.5 text-sm" role="group" aria-label={LABELS.show}>
              {SEVERITIES.map((s) => (
                <span key={s} className="flex items-center gap-2">
                  <Checkbox label={LABELS[`${s}s`]} checked={filter[s]} onChecked={(on) => setFilter({ ...filter, [s]: on })} />
                  <SeverityMark severity={s} />
                </span>
              ))}
              <Checkbox label={LABELS.waived} checked={filter.waived} onChecked={(waived) => setFilter({ ...filter, waived })} />
            </div>
            {report && all.length === 0 && <p className="px-[18px] py-3 text-graphite">{HELP.noFindings}</p>}
            <FindingsList findings={shown} selected={selected} onSelect={select} />
            {report && filter.waived && <WaiverList waivers={report.waivers} nameOf={(run) => outputName(file, run)} onWithdraw={withdraw} />}
          </div>
          <FirstFramesFields />
        </div>
        <div className="flex min-h-0 flex-col overflow-auto bg-mount">
          {selected && (
            <FindingPanel
              finding={selected}
              isCurrent={!checking}
              onFix={() => edit((f) => applyPatch(f, selected.fix!.patch), MESSAGES.fixApplied(selected.fix!.label))}
              onWaive={(waiver) => edit((f) => ({ ...f, waivers: [...(f.waivers ?? []), waiver] }))}
              onWithdraw={() => withdrawFor(selected)}
              onNext={next}
            />
          )}
        </div>
      </div>
    </>
  );
}
