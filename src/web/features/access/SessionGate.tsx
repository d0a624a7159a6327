import { type FormEvent, type ReactNode, useEffect, useState } from 'react';
import useSWR, { mutate } from 'swr';
import type { SessionReply } from '../../../contract/access.js';
import { get, send, setCsrf } from '../../state/api.js';
import { Logo } from '../../app/Logo.js';
import { Button } from '../../ui/controls.js';
import { LABELS, MESSAGES } from './words.js';

/** Whether this browser may come in, and how. */
export const useSession = () => useSWR<SessionReply, Error>('/session', get);

/** Asks for the passphrase. */
function SignIn(): ReactNode {
  const [passphrase, setPassphrase] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const signIn = async (e: FormEvent): Promise<void> => {
    e.preventDefault();
    setBusy(true);
    try {
      await send('POST', '/session', { passphrase });
      // Whatever was refused before is asked for anew.
      await mutate(() => true);
    } catch (fault) {
      setProblem((fault as Error).message);
      setPassphrase('');
    } finally {
      setBusy(false);
    }
  };
  return (
    <main className="flex h-full items-center justify-center p-6">
      <form onSubmit={(e) => void signIn(e)} className="flex w-80 flex-col gap-4 border border-rule bg-chalk p-6">
        <h1 className="flex items-center gap-2 text-lg font-semibold">
          <Logo /> {LABELS.coldEasel}
        </h1>
        <label className="flex flex-col gap-1">
          <span className="font-head text-xs font-medium text-graphite">{LABELS.passphrase}</span>
          <input
            type="password"
            autoComplete="current-password"
            autoFocus
            className="h-[30px] rounded-sm border border-graphite bg-chalk px-2"
            value={passphrase}
            aria-describedby="sign-in-problem"
            onChange={(e) => setPassphrase(e.target.value)}
          />
        </label>
        <p id="sign-in-problem" role="alert" className="min-h-5 text-sm text-ochre">
          {problem}
        </p>
        <Button primary type="submit" disabled={busy || passphrase === ''} className="justify-center">
          {LABELS.signIn}
        </Button>
        <p className="text-sm text-graphite">{MESSAGES.askWhoeverRunsThis}</p>
      </form>
    </main>
  );
}

/** Shows the application to whoever may in, and asks everybody else for the passphrase. */
export function SessionGate({ children }: { children: ReactNode }): ReactNode {
  const { data, error } = useSession();
  const csrf = data?.csrf;
  // Before the first request that changes something can be made.
  setCsrf(csrf, () => void mutate('/session'));
  useEffect(() => setCsrf(csrf, () => void mutate('/session')), [csrf]);
  if (error && !data) {
    return (
      <main className="flex h-full flex-col items-center justify-center gap-3 p-6">
        <p role="alert">{error.message}</p>
        <Button onClick={() => void mutate('/session')}>{LABELS.tryAgain}</Button>
      </main>
    );
  }
  if (!data) return null;
  return data.signedIn ? children : <SignIn />;
}
