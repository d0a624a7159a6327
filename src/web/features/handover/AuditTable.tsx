/** What the audit of a package found, each fault with what was expected; faults are waived with a reason. */
import { type FormEvent, type ReactNode, useState } from 'react';
import type { PackageReply } from '../../../contract/packages.js';
import { hourOf } from '../../app/format.js';
import { send } from '../../state/api.js';
import { refreshPackages, usePackageChanges } from '../../state/packages.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const CELL = 'border-b border-rule px-2 py-1 align-top';
const HEAD = 'border-b border-ink px-2 py-1 text-left font-head text-sm font-medium';

function Waive({ pack, fault }: { pack: PackageReply; fault: PackageReply['faults'][number] }): ReactNode {
  const [open, setOpen] = useState(false);
  const waive = (e: FormEvent<HTMLFormElement>): void => {
    e.preventDefault();
    const reason = String(new FormData(e.currentTarget).get('reason')).trim();
    if (reason === '') {
      toastProblem(MESSAGES.reasonNeeded);
      return;
    }
    void send('POST', `/packages/${pack.id}/waivers`, { rule: fault.rule, file: fault.file, reason }).then(
      () => refreshPackages(pack.setId),
      (problem: Error) => toastProblem(problem.message),
    );
  };
  if (fault.waived !== undefined) return <span className="text-graphite">{fault.waived}</span>;
  if (!open)
    return (
      <Button title={HELP.waive} onClick={() => setOpen(true)}>
        {LABELS.waive}
      </Button>
    );
  return (
    <form onSubmit={waive} className="flex items-center gap-2">
      <input
        name="reason"
        aria-label={LABELS.reason}
        title={HELP.reason}
        maxLength={500}
        autoFocus
        className="h-7 w-44 border-b border-graphite bg-transparent"
      />
      <Button type="submit">{LABELS.waived}</Button>
      <Button onClick={() => setOpen(false)}>{LABELS.cancel}</Button>
    </form>
  );
}

/** Files that are new, changed or left out since earlier packages of the set, by name. */
function Changes({ pack }: { pack: PackageReply }): ReactNode {
  const { data } = usePackageChanges(pack);
  if (!data) return null;
  const { added, changed, removed } = data;
  const files = [
    ...added.map((file) => ({ file, word: LABELS.fileAdded })),
    ...changed.map((file) => ({ file, word: LABELS.fileChanged })),
    ...removed.map((file) => ({ file, word: LABELS.fileRemoved })),
  ];
  if (files.length === 0) return <p className="mt-1 text-sm text-graphite">{MESSAGES.noChanges}</p>;
  return (
    <details className="mt-1 text-sm" data-testid="package-changes">
      <summary className="num cursor-pointer">{MESSAGES.changes(added.length, changed.length, removed.length)}</summary>
      <ul className="num columns-2 gap-6 py-1">
        {files.map(({ file, word }) => (
          <li key={file} className="flex gap-2 break-inside-avoid">
            <span className="w-16 shrink-0 text-graphite">{word}</span>
            <span className="min-w-0 break-all">{file}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}

/** What a check of the package found. */
export function AuditTable({ pack }: { pack: PackageReply }): ReactNode {
  const { faults, files, audited } = pack;
  if (audited === null) return null;
  const open = faults.filter((f) => f.waived === undefined).length;
  return (
    <section aria-label={LABELS.audit} className="max-h-[45%] shrink-0 overflow-auto border-t border-ink bg-chalk px-4 py-2">
      <p className="flex gap-3">
        <span className="font-semibold">{LABELS.audit}</span>
        <span className={`num text-sm ${open > 0 ? 'text-madder' : 'text-graphite'}`} data-testid="audit-said">
          {open > 0 ? MESSAGES.faults(open, files, hourOf(audited)) : MESSAGES.asPlanned(files, hourOf(audited))}
        </span>
      </p>
      <Changes pack={pack} />
      {faults.length > 0 && (
        <table className="mt-1 w-full border-collapse text-sm" data-testid="audit-faults">
          <thead>
            <tr>
              <th className={HEAD}>{LABELS.file}</th>
              <th className={HEAD}>{LABELS.expected}</th>
              <th className={HEAD}>{LABELS.found}</th>
              <th className={HEAD}>{LABELS.waived}</th>
            </tr>
          </thead>
          <tbody>
            {faults.map((fault) => (
              <tr key={`${fault.rule} ${fault.file}`}>
                <td className={`${CELL} num break-all`}>{fault.file}</td>
                <td className={CELL}>{fault.expected}</td>
                <td className={CELL}>{fault.found}</td>
                <td className={CELL}>
                  <Waive pack={pack} fault={fault} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
