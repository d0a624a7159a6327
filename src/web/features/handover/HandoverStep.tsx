/** Hand-over: what of the set goes out, as packages that are audited by their files. */
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { PackageReply } from '../../../contract/packages.js';
import type { SetFile } from '../../../core/plan/set.js';
import { shotIdOfOutput } from '../../../core/frame/frame.js';
import { effectiveSettings } from '../../../core/plan/formatSheet.js';
import { useKeys } from '../../app/keys.js';
import { useWorkspace } from '../../app/workspace.js';
import { send } from '../../state/api.js';
import { refreshPackages, usePackages } from '../../state/packages.js';
import { useResults } from '../../state/results.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button, EmptyState, PageHeader } from '../../ui/controls.js';
import { filesSummary } from '../shots/sheetSummary.js';
import { frameImageUrl } from '../../ui/Thumbnail.js';
import { lazily } from '../../ui/lazily.js';
import { AuditTable } from './AuditTable.js';
import { type HandoverRow, handoverRows, stateOfRow } from './handoverRows.js';
import { MovieRows } from './MovieRows.js';
import { PackageList } from './PackageList.js';
import { usePackageOptions } from './usePackageOptions.js';
import { HELP, LABELS, MESSAGES, ROW_STATE_WORDS } from './words.js';

const MovieDialog = lazily(async () => (await import('./MovieDialog.js')).MovieDialog);

const HEAD = 'border-b border-rule px-2 py-1.5 text-left font-head text-sm font-medium';
const CELL = 'border-b border-rule px-2 py-1.5';
const TONE = { redo: 'text-madder', incomplete: 'text-ochre', accepted: 'text-sap', done: 'text-graphite' } as const;

/** What the client asked of a run that it is not, in few words; null where it is as asked, undefined where nothing is recorded. */
function notAsked(row: HandoverRow, { delivery, sheet, shots }: SetFile): string | null | undefined {
  if (!delivery) return undefined;
  const { size } = row;
  if (size && delivery.sizes && !delivery.sizes.some((s) => s.width === size.width && s.height === size.height))
    return MESSAGES.sizeNot(delivery.sizes.map((s) => `${s.width} × ${s.height}`).join(', '));
  const shot = shots.find((s) => s.id === shotIdOfOutput(row.run));
  const rate = shot && effectiveSettings(sheet, shot).rate;
  return row.moving && delivery.rates && rate && !delivery.rates.includes(rate) ? MESSAGES.rateNot(delivery.rates.join(', ')) : null;
}

/** The step in which renders become movies, sheets and packages. */
export default function HandoverStep(): ReactNode {
  const { project, setId, revision, batches, plan } = useWorkspace();
  const navigate = useNavigate();
  const results = useResults(setId, batches);
  const { data: packages = [] } = usePackages(setId);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [chosenId, setChosen] = useState<number>();
  const [busy, setBusy] = useState(false);
  const [movie, setMovie] = useState<HandoverRow | null>(null);
  const file = plan?.file;
  const { options, fields } = usePackageOptions(file?.name ?? project.name);
  const latest = useRef(options);
  latest.current = options;
  const rows = handoverRows(results ?? [], batches, revision?.id);
  const packed = rows.filter((r) => !left.has(r.run));
  const chosen = packages.find((p) => p.id === chosenId) ?? packages[0];
  // Events tell of progress; what was missed is asked for while one is made.
  const making = packages.some((p) => p.state === 'making');
  useEffect(() => {
    if (!making) return;
    const timer = setInterval(() => void refreshPackages(setId), 2000);
    return () => clearInterval(timer);
  }, [making, setId]);
  const make = async (): Promise<void> => {
    setBusy(true);
    try {
      // What is being typed is taken, and the last decisions on the plan are on the server before it is packed.
      await plan?.flush();
      const made = await send<PackageReply>('POST', `/sets/${setId}/packages`, { ...latest.current, renders: packed.flatMap((r) => r.renders) });
      setChosen(made.id);
      await refreshPackages(setId);
    } catch (e) {
      toastProblem((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  useKeys({ 'ctrl+Enter': () => void (!busy && !movie && packed.length > 0 && make()) });
  const toggle = (run: string, on: boolean): void => {
    const next = new Set(left);
    if (on) next.delete(run);
    else next.add(run);
    setLeft(next);
  };
  const filesOf = (run: string): string => {
    const shot = file?.shots.find((s) => s.id === shotIdOfOutput(run));
    return file && shot ? filesSummary(effectiveSettings(file.sheet, shot).files) : '';
  };
  if (results && rows.length === 0 && packages.length === 0)
    return (
      <EmptyState title={MESSAGES.nothing}>
        <Button primary onClick={() => void navigate('../review')}>
          {LABELS.goToReview}
        </Button>
      </EmptyState>
    );
  return (
    <>
      <PageHeader
        title={LABELS.handover}
        facts={MESSAGES.facts(
          packed.reduce((n, r) => n + r.done, 0),
          packages.length,
        )}
      >
        <Button primary disabled={busy || packed.length === 0} title={HELP.makePackage} onClick={() => void make()}>
          {LABELS.makePackage}
        </Button>
      </PageHeader>
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_320px]">
        <div className="flex min-h-0 flex-col">
          <div className="min-h-0 flex-1 overflow-auto px-4">
            <table className="w-full border-collapse" data-testid="handover-table">
              <thead>
                <tr>
                  <th className={HEAD}>
                    <span className="sr-only">{LABELS.package}</span>
                  </th>
                  <th className={HEAD}>{LABELS.what}</th>
                  <th className={HEAD}>{LABELS.type}</th>
                  <th className={HEAD}>{LABELS.size}</th>
                  <th className={`${HEAD} text-right`}>{LABELS.files}</th>
                  <th className={HEAD}>{LABELS.state}</th>
                  <th className={HEAD} title={HELP.asked}>
                    {LABELS.asked}
                  </th>
                </tr>
              </thead>
              <tbody>
                {rows.map((row) => {
                  const state = stateOfRow(row);
                  const wrong = file ? notAsked(row, file) : undefined;
                  return [
                    <tr key={row.run}>
                      <td className={CELL}>
                        <input
                          type="checkbox"
                          className="size-4 accent-madder"
                          aria-label={LABELS.packShot(row.name)}
                          checked={!left.has(row.run)}
                          onChange={(e) => toggle(row.run, e.target.checked)}
                        />
                      </td>
                      <td className={`${CELL} font-medium`}>{row.name}</td>
                      <td className={CELL}>{filesOf(row.run)}</td>
                      <td className={`${CELL} num whitespace-nowrap`}>{row.size ? `${row.size.width} × ${row.size.height}` : ''}</td>
                      <td className={`${CELL} num text-right`}>{LABELS.frames(row.done, row.frames)}</td>
                      <td className={`${CELL} ${TONE[state]}`}>{ROW_STATE_WORDS[state]}</td>
                      <td className={CELL}>
                        {wrong === undefined ? (
                          <span className="text-graphite">{LABELS.notAskedFor}</span>
                        ) : wrong === null ? (
                          <span className="text-graphite">{LABELS.asAsked}</span>
                        ) : (
                          <span className="bg-ink px-1.5 py-0.5 text-chalk">{wrong}</span>
                        )}
                      </td>
                    </tr>,
                    <MovieRows key={`${row.run} movies`} row={row} onMake={() => setMovie(row)} />,
                  ];
                })}
              </tbody>
            </table>
            <ul aria-label={LABELS.renders} className="flex flex-wrap gap-x-3 gap-y-4 py-5">
              {packed.flatMap((row) =>
                row.covers.map((cover) => (
                  <li key={`${cover.batch} ${cover.id}`} className="w-40">
                    <img
                      src={`${frameImageUrl(cover.batch, cover, 'thumb')}&width=480`}
                      alt=""
                      loading="lazy"
                      className="h-[92px] w-40 bg-mount object-contain p-[3px]"
                    />
                    <span className="block truncate text-xs text-graphite">
                      {[row.name, file?.views.find((v) => v.id === cover.view)?.name].filter(Boolean).join(', ')}
                    </span>
                  </li>
                )),
              )}
            </ul>
          </div>
          {chosen && <AuditTable key={chosen.id} pack={chosen} />}
        </div>
        <aside className="flex min-h-0 flex-col overflow-auto border-l border-rule bg-chalk">
          {fields}
          <PackageList packages={packages} chosen={chosen?.id} onChoose={setChosen} />
        </aside>
      </div>
      {movie && <MovieDialog row={movie} onDone={() => setMovie(null)} />}
    </>
  );
}
