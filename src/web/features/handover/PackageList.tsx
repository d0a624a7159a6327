/** Packages that were made: what each holds, and what can be done with it. */
import type { ReactNode } from 'react';
import type { PackageReply } from '../../../contract/packages.js';
import { fileSize } from '../../app/format.js';
import { send } from '../../state/api.js';
import { refreshPackages } from '../../state/packages.js';
import { toast } from '../../state/toast.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button, PLAIN_BUTTON } from '../../ui/controls.js';
import { Deliveries } from './Deliveries.js';
import { LABELS, HELP, MESSAGES, PACKAGE_STATE_WORDS } from './words.js';

const when = (iso: string): string => new Date(iso).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
const TONE = { making: 'text-cobalt', faults: 'text-madder', ready: 'text-sap', failed: 'text-madder' } as const;

function stateText({ state, progress, message }: PackageReply): string {
  if (state === 'failed') return message ?? PACKAGE_STATE_WORDS.failed;
  if (!progress) return PACKAGE_STATE_WORDS[state];
  return progress.what === 'files' ? MESSAGES.collecting(progress.done, progress.of) : MESSAGES.auditing(progress.done, progress.of);
}

function PackageItem({ pack, chosen, onChoose }: { pack: PackageReply; chosen: boolean; onChoose: () => void }): ReactNode {
  const act = (what: () => Promise<unknown>): void =>
    void what().then(
      () => refreshPackages(pack.setId),
      (e: Error) => toastProblem(e.message),
    );
  const judged = pack.state === 'ready' || pack.state === 'faults';
  return (
    <li className={`border-t border-rule px-4 py-2 ${chosen ? 'bg-paper' : ''}`} data-testid="package" data-state={pack.state}>
      <button type="button" className="block w-full text-left" aria-expanded={chosen} onClick={onChoose}>
        <span className="font-medium">{pack.name}</span>
        <span className={`float-right text-sm ${TONE[pack.state]}`}>{stateText(pack)}</span>
        <span className="num block text-xs text-graphite">
          {when(pack.created)}
          {judged && ` · ${MESSAGES.filesAndSize(pack.files, fileSize(pack.bytes))}`}
        </span>
      </button>
      {chosen && pack.state !== 'making' && (
        <span className="mt-2 flex flex-wrap gap-2">
          {pack.state === 'ready' && (
            <a className={PLAIN_BUTTON} href={`/api/packages/${pack.id}/download`} download>
              {LABELS.download}
            </a>
          )}
          {judged && (
            <>
              <Button title={HELP.auditAgain} onClick={() => act(() => send('POST', `/packages/${pack.id}/audit`))}>
                {LABELS.auditAgain}
              </Button>
              {pack.sheets.map((name) => (
                <a key={name} className={PLAIN_BUTTON} href={`/api/packages/${pack.id}/sheets/${name}`} target="_blank" rel="noreferrer">
                  {LABELS.sheetFile(name)}
                </a>
              ))}
              <a className={PLAIN_BUTTON} href={`/api/packages/${pack.id}/audit.html`} target="_blank" rel="noreferrer" title={HELP.auditPage}>
                {LABELS.auditPage}
              </a>
            </>
          )}
          <Button onClick={() => act(() => send('DELETE', `/packages/${pack.id}`).then(() => void toast(MESSAGES.deleted)))}>{LABELS.delete}</Button>
        </span>
      )}
      {chosen && judged && <Deliveries pack={pack} />}
    </li>
  );
}

/** Packages of the set, the newest first. */
export function PackageList({
  packages,
  chosen,
  onChoose,
}: {
  packages: readonly PackageReply[];
  chosen: number | undefined;
  onChoose: (id: number) => void;
}): ReactNode {
  return (
    <section aria-label={LABELS.packages} className="flex-1 shrink-0 border-t border-rule">
      <h2 className="px-4 py-2 font-semibold">{LABELS.packages}</h2>
      {packages.length === 0 && <p className="px-4 pb-4 text-graphite">{MESSAGES.noPackage}</p>}
      <ul>
        {packages.map((pack) => (
          <PackageItem key={pack.id} pack={pack} chosen={pack.id === chosen} onChoose={() => onChoose(pack.id)} />
        ))}
      </ul>
    </section>
  );
}
