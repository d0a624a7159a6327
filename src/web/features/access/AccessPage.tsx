import { type FormEvent, type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import useSWR, { mutate } from 'swr';
import type { AuditReply, NewTokenReply, TokenReply } from '../../../contract/access.js';
import { get, send } from '../../state/api.js';
import { toast } from '../../state/toast.js';
import { Logo } from '../../app/Logo.js';
import { Button, EmptyState, Select } from '../../ui/controls.js';
import { useSession } from './SessionGate.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const ROLE_LABELS: Record<TokenReply['role'], string> = {
  edit: MESSAGES.editPlanRenderAnd,
  review: MESSAGES.reviewReadOnly,
  worker: MESSAGES.workerReadWhatRendering,
};

const when = (iso: string | null): string => (iso ? new Date(iso).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' }) : 'never');
const report = (e: unknown): void => void toast.error((e as Error).message);

/** Access tokens: for programs, each with a name and a role. */
function Tokens(): ReactNode {
  const { data } = useSWR<TokenReply[], Error>('/tokens', get);
  const [name, setName] = useState('');
  const [role, setRole] = useState<TokenReply['role']>('edit');
  const [made, setMade] = useState<NewTokenReply | null>(null);
  const create = (e: FormEvent): void => {
    e.preventDefault();
    send<NewTokenReply>('POST', '/tokens', { name, role })
      .then((token) => {
        setMade(token);
        setName('');
        return mutate('/tokens');
      })
      .catch(report);
  };
  return (
    <section aria-label={LABELS.accessTokens} className="flex flex-col gap-3">
      <h2 className="font-semibold">{LABELS.accessTokens}</h2>
      <form onSubmit={create} className="flex items-end gap-4">
        <label className="flex flex-col">
          <span className="font-head text-xs font-medium text-graphite">{LABELS.name}</span>
          <input
            className="h-7 w-64 border-b border-graphite bg-transparent"
            value={name}
            placeholder={LABELS.eGRenderScript}
            onChange={(e) => setName(e.target.value)}
          />
        </label>
        <div className="w-72">
          <Select
            label={LABELS.role}
            help={HELP.role}
            value={role}
            options={(Object.keys(ROLE_LABELS) as TokenReply['role'][]).map((value) => ({ value, label: ROLE_LABELS[value] }))}
            onValue={(value) => setRole(value as TokenReply['role'])}
          />
        </div>
        <Button type="submit" disabled={!name.trim()}>
          {LABELS.createToken}
        </Button>
      </form>
      {made && (
        <div role="status" className="border border-ochre bg-chalk p-3">
          <p>
            {MESSAGES.tokenCopyItNow(made.name)} <code className="num">{LABELS.authorizationBearer}</code>
          </p>
          <p className="num break-all pt-1" data-testid="new-token">
            {made.secret}
          </p>
        </div>
      )}
      {data?.length === 0 && <p className="text-graphite">{MESSAGES.noTokensYet}</p>}
      {data && data.length > 0 && (
        <table className="w-full text-left text-sm">
          <thead className="font-head text-xs text-graphite">
            <tr>
              {[LABELS.name, LABELS.role, LABELS.created, LABELS.lastUsed, LABELS.action].map((h) => (
                <th key={h} className="border-b border-rule py-1 font-medium">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {data.map((t) => (
              <tr key={t.id} className="border-b border-rule">
                <td className="py-1">{t.name}</td>
                <td>{t.role}</td>
                <td className="num">{when(t.created)}</td>
                <td className="num">{when(t.lastUsed)}</td>
                <td className="text-right">
                  <Button onClick={() => void send('DELETE', `/tokens/${t.id}`).then(() => mutate('/tokens'), report)}>{LABELS.revoke}</Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

/** Who signed in, and what was created, revoked, deleted or restored; latest first. */
function AuditLog(): ReactNode {
  const { data } = useSWR<AuditReply, Error>('/audit', get);
  return (
    <section aria-label={LABELS.auditLog} className="flex min-h-0 flex-col gap-2">
      <h2 className="font-semibold">{LABELS.auditLog}</h2>
      {data?.length === 0 && <p className="text-graphite">{MESSAGES.nothingYetSignIns}</p>}
      {data && data.length > 0 && (
        <ul className="max-h-72 overflow-auto border-t border-rule text-sm" tabIndex={0} aria-label={LABELS.entries}>
          {data?.map((line) => (
            <li key={line.id} className="grid grid-cols-[170px_180px_200px_1fr] gap-3 border-b border-rule py-1">
              <span className="num">{when(line.time)}</span>
              <span className="truncate">{line.who}</span>
              <span>{line.what}</span>
              <span className="truncate text-graphite">{line.detail}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** Who may use this server. */
export default function AccessPage(): ReactNode {
  const { data: session } = useSession();
  const signOut = (path: '/session' | '/sessions'): void => {
    send('DELETE', path)
      .then(() => mutate(() => true))
      .catch(report);
  };
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-11 shrink-0 items-center gap-2 border-b border-rule bg-chalk pl-4 font-semibold">
        <Link to="/" className="flex items-center gap-2" title={LABELS.allProjects}>
          <Logo /> {LABELS.coldEasel}
        </Link>
      </header>
      <main className="mx-auto flex min-h-0 w-full max-w-5xl flex-1 flex-col gap-8 overflow-auto p-6">
        <div className="flex items-end gap-4">
          <h1 className="text-lg font-semibold">{LABELS.access}</h1>
          {session?.kind === 'session' && (
            <span className="ml-auto flex gap-3">
              <Button onClick={() => signOut('/session')}>{LABELS.signOut}</Button>
              <Button onClick={() => signOut('/sessions')}>{LABELS.signOutEverywhere}</Button>
            </span>
          )}
        </div>
        {session && <p className="max-w-2xl">{session.required ? MESSAGES.aPassphraseIsSet : MESSAGES.onlyThisMachineCan}</p>}
        {session && session.role !== 'owner' ? (
          <EmptyState title={HELP.thisNeedsThePassphrase}>{MESSAGES.tokensCannotManageAccess}</EmptyState>
        ) : (
          <>
            <Tokens />
            <AuditLog />
          </>
        )}
      </main>
    </div>
  );
}
