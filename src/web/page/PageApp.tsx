/** A review page: renders to look at and to write notes on, on a phone as on a large screen. */
import { type FormEvent, type ReactNode, useEffect, useState } from 'react';
import type { ReviewPageContent } from '../../contract/reviewPages.js';
import { PageButton } from './PageButton.js';
import { ShotList } from './ShotList.js';
import { ShotView } from './ShotView.js';
import { Locked, type PageSource } from './source.js';
import { LABELS, MESSAGES } from './words.js';

/** Milliseconds after which notes of others are asked for. */
const AGAIN_MS = 20_000;

function PassphraseForm({ unlock }: { unlock: (passphrase: string) => Promise<void> }): ReactNode {
  const [problem, setProblem] = useState('');
  const submit = (e: FormEvent<HTMLFormElement>): void => {
    e.preventDefault();
    unlock(String(new FormData(e.currentTarget).get('passphrase'))).catch((why: Error) => setProblem(why.message));
  };
  return (
    <form onSubmit={submit} className="mx-auto mt-[18vh] flex max-w-sm flex-col gap-4 p-6">
      <p>{MESSAGES.locked}</p>
      <label className="flex flex-col gap-1">
        <span className="text-sm text-graphite">{LABELS.passphrase}</span>
        <input name="passphrase" type="password" required autoFocus className="h-11 border-b border-graphite bg-transparent text-lg" />
      </label>
      {problem && <p role="alert">{problem}</p>}
      <PageButton type="submit" primary>
        {LABELS.open}
      </PageButton>
    </form>
  );
}

/** The shot that the address names, so that going back leads to the list. */
function useShownKey(): [string, (key: string) => void] {
  const read = (): string => decodeURIComponent(location.hash.slice(1));
  const [key, setKey] = useState(read);
  useEffect(() => {
    const follow = (): void => setKey(read());
    window.addEventListener('hashchange', follow);
    return () => window.removeEventListener('hashchange', follow);
  }, []);
  return [key, (next) => (location.hash = encodeURIComponent(next))];
}

/** Says how many notes wait to be saved, and saves them. */
function SaveBar({ file }: { file: NonNullable<PageSource['file']> }): ReactNode {
  const [saved, setSaved] = useState('');
  const waiting = file.waiting();
  if (waiting === 0) return saved ? <p className="border-t border-rule bg-chalk px-4 py-2 text-sm">{MESSAGES.saved(saved)}</p> : null;
  return (
    <div className="flex flex-wrap items-center gap-3 border-t border-rule bg-chalk px-4 py-2 text-sm" data-testid="save-bar">
      <span className="min-w-0 flex-1 basis-56">
        {MESSAGES.unsaved(waiting)} {!file.kept && MESSAGES.notKept}
      </span>
      <PageButton primary onClick={() => setSaved(file.save())}>
        {LABELS.saveNotes}
      </PageButton>
    </div>
  );
}

/** A review page: all shots, and one of them. */
export function PageApp({ source }: { source: PageSource }): ReactNode {
  const [content, setContent] = useState<ReviewPageContent | null>(null);
  const [problem, setProblem] = useState<Error | null>(null);
  const [key, setKey] = useShownKey();
  const take = (loading: Promise<ReviewPageContent>): Promise<void> =>
    loading.then(
      (loaded) => {
        setContent(loaded);
        setProblem(null);
      },
      (e: Error) => setProblem(e),
    );
  useEffect(() => {
    void take(source.load());
    if (!source.again) return;
    // What cannot be had for a moment is asked for later.
    const timer = setInterval(() => document.visibilityState === 'visible' && void source.again?.().then(setContent, () => undefined), AGAIN_MS);
    return () => clearInterval(timer);
  }, [source]);
  useEffect(() => {
    if (content) document.title = content.name;
  }, [content?.name]);
  if (problem instanceof Locked && !content) return <PassphraseForm unlock={(p) => source.unlock(p).then(() => take(source.load()))} />;
  if (problem && !content)
    return (
      <p role="alert" className="mx-auto mt-[18vh] max-w-sm p-6">
        {problem.message}
      </p>
    );
  if (!content) return <p className="p-6 text-graphite">{MESSAGES.loading}</p>;
  const at = content.shots.findIndex((s) => s.key === key);
  const shot = content.shots[at];
  const refresh = (): Promise<void> => take((source.again ?? source.load)());
  return (
    <div className="flex h-full flex-col">
      {shot ? (
        <ShotView
          key={shot.key}
          shot={shot}
          at={at}
          count={content.shots.length}
          notes={content.notes}
          source={source}
          onChanged={refresh}
          onGo={(to) => setKey(content.shots[to]?.key ?? '')}
          onBack={() => setKey('')}
        />
      ) : (
        <ShotList content={content} onOpen={setKey} />
      )}
      {source.file && <SaveBar file={source.file} />}
    </div>
  );
}
