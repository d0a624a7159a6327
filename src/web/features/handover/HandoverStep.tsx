/** Hand-over: what of the set goes out, as packages that are audited by their files. */
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { PackageReply } from '../../../contract/packages.js';
import { useKeys } from '../../app/keys.js';
import { useWorkspace } from '../../app/workspace.js';
import { send } from '../../state/api.js';
import { refreshPackages, usePackages } from '../../state/packages.js';
import { useResults } from '../../state/results.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button, EmptyState, PageHeader } from '../../ui/controls.js';
import { lazily } from '../../ui/lazily.js';
import { AuditTable } from './AuditTable.js';
import { type HandoverRow, handoverRows } from './handoverRows.js';
import { Covers, fileTypesOf, HandoverTable } from './HandoverTable.js';
import { PackageList } from './PackageList.js';
import { usePackageOptions } from './usePackageOptions.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const MovieDialog = lazily(async () => (await import('./MovieDialog.js')).MovieDialog);

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
  const { options, fields } = usePackageOptions(
    file?.name ?? project.name,
    useMemo(() => (file ? fileTypesOf(file) : []), [file]),
  );
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
            <HandoverTable rows={rows} left={left} file={file} onPack={toggle} onMovie={setMovie} />
            <Covers rows={packed} file={file} />
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
