/** Pages for people without this application: made, copied, revoked; the same as a folder; and notes that come back. */
import { type ReactNode, useState } from 'react';
import { Dialog } from 'radix-ui';
import useSWR, { mutate } from 'swr';
import type { ImportedNotes, ReviewPageReply, ShownRender } from '../../../contract/reviewPages.js';
import { get, send, sendForBlob } from '../../state/api.js';
import { refreshNotes } from '../../state/notes.js';
import { toast } from '../../state/toast.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button, Select, TextField } from '../../ui/controls.js';
import { saveBlob } from '../../ui/saveText.js';
import { useSession } from '../access/SessionGate.js';
import { HELP, LABELS, MESSAGES, SHOWN_WORDS } from './pageWords.js';

/** What can be chosen to be shown. */
export interface ShownChoices {
  wall: ShownRender[];
  easel: ShownRender[];
}

const DEFAULT_DAYS = 14;
const HEAD = 'border-b border-ink px-2 py-1 text-left font-head font-medium';
const CELL = 'border-b border-rule px-2 py-1';
const addressOf = ({ path }: ReviewPageReply): string => `${location.origin}${path}`;
const dayIn = (days: number): string => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);

/** Whether it is a day of the calendar as YYYY-MM-DD. */
const isDay = (text: string): boolean => {
  const time = Date.parse(`${text}T00:00:00Z`);
  return !Number.isNaN(time) && new Date(time).toISOString().startsWith(text);
};

/** A line of the list; revoking is asked twice, since it cannot be undone. */
function PageRow({ page, onChanged }: { page: ReviewPageReply; onChanged: () => void }): ReactNode {
  const [sure, setSure] = useState(false);
  const copy = (): void =>
    // Over plain HTTP browsers have no clipboard for pages: the address is shown to be copied by hand.
    void (navigator.clipboard ? navigator.clipboard.writeText(addressOf(page)) : Promise.reject(new Error())).then(
      () => toast(MESSAGES.addressCopied),
      () => toast(addressOf(page)),
    );
  const revoke = (): void => void send('DELETE', `/review-pages/${page.id}`).then(onChanged, (e: Error) => toastProblem(e.message));
  return (
    <tr data-testid="review-page">
      <td className={CELL}>
        {page.open ? (
          <a href={page.path} target="_blank" rel="noreferrer" className="text-cobalt underline">
            {page.name}
          </a>
        ) : (
          page.name
        )}
        {page.passphrase && <span className="text-graphite"> · {LABELS.withPassphrase}</span>}
      </td>
      <td className={`${CELL} num text-right`}>{page.renders}</td>
      <td className={`${CELL} num`}>{page.open ? page.ends : LABELS.over}</td>
      <td className={`${CELL} num text-right`}>{page.opened}</td>
      <td className={`${CELL} whitespace-nowrap text-right`}>
        <span className="inline-flex gap-2">
          {page.open && <Button onClick={copy}>{LABELS.copyAddress}</Button>}
          <Button onClick={sure ? revoke : () => setSure(true)}>{sure ? LABELS.revokeForGood : LABELS.revoke}</Button>
        </span>
      </td>
    </tr>
  );
}

/** Takes notes of a folder out of their file. */
async function importFile(setId: number, file: File | undefined): Promise<void> {
  if (!file) return;
  try {
    const notes = (await file.text().then(JSON.parse)) as unknown;
    const { added, known, lost } = await send<ImportedNotes>('POST', `/sets/${setId}/notes/import`, notes);
    await refreshNotes(setId);
    toast(MESSAGES.imported(added, known, lost));
  } catch (e) {
    toastProblem(e instanceof SyntaxError ? MESSAGES.noJson(file.name) : (e as Error).message);
  }
}

/** Addresses under which others judge: made, copied, ended and revoked. */
export function ReviewPages({ setId, setName, choices }: { setId: number; setName: string; choices: ShownChoices }): ReactNode {
  const path = `/sets/${setId}/review-pages`;
  const { data: pages } = useSWR<ReviewPageReply[], Error>(path, get);
  const { data: session } = useSession();
  const [name, setName_] = useState(setName);
  const [shown, setShown] = useState<keyof ShownChoices>('wall');
  const [ends, setEnds] = useState(() => dayIn(DEFAULT_DAYS));
  const [passphrase, setPassphrase] = useState('');
  const [busy, setBusy] = useState(false);
  const refresh = (): void => void mutate(path);
  const act = (what: () => Promise<void>): void => {
    setBusy(true);
    what()
      .catch((e: Error) => toastProblem(e.message))
      .finally(() => setBusy(false));
  };
  const create = async (): Promise<void> => {
    await send<ReviewPageReply>('POST', path, { name, shown: choices[shown], ends, ...(passphrase && { passphrase }) });
    setPassphrase('');
    await mutate(path);
  };
  const folder = async (): Promise<void> => {
    const blob = await sendForBlob(`/sets/${setId}/review-folder`, { name, shown: choices[shown] });
    saveBlob(`${name}.zip`, blob);
    toast(MESSAGES.folderSaved);
  };
  const nothing = choices[shown].length === 0;
  return (
    <div className="flex max-h-[84vh] flex-col gap-4 overflow-auto">
      <Dialog.Title className="text-lg font-semibold">{LABELS.reviewPages}</Dialog.Title>
      <Dialog.Description className="max-w-[70ch] text-graphite">{MESSAGES.whatPagesAre}</Dialog.Description>
      <div className="grid grid-cols-4 gap-4">
        <TextField
          label={LABELS.pageName}
          help={HELP.pageName}
          value={name}
          onValue={(text) => (text.trim() === '' ? MESSAGES.nameNeeded : (setName_(text.trim()), null))}
        />
        <Select
          label={LABELS.shown}
          help={HELP.shown}
          value={shown}
          options={(Object.keys(choices) as (keyof ShownChoices)[]).map((value) => ({
            value,
            label: `${SHOWN_WORDS[value]} (${choices[value].length})`,
          }))}
          onValue={(value) => setShown(value as keyof ShownChoices)}
        />
        <TextField
          label={LABELS.lastDay}
          help={HELP.lastDay}
          value={ends}
          mono
          onValue={(text) => (isDay(text) ? (setEnds(text), null) : MESSAGES.dayNeeded)}
        />
        <TextField
          label={LABELS.passphrase}
          help={HELP.passphrase}
          value={passphrase}
          onValue={(text) => (text !== '' && text.length < 8 ? MESSAGES.passphraseShort : (setPassphrase(text), null))}
        />
      </div>
      <div className="flex flex-wrap items-center gap-3">
        <Button primary disabled={busy || nothing} onClick={() => act(create)}>
          {LABELS.makePage}
        </Button>
        <Button disabled={busy || nothing} title={HELP.saveFolder} onClick={() => act(folder)}>
          {busy ? MESSAGES.working : LABELS.saveFolder}
        </Button>
        <label
          className="ml-auto inline-flex h-[30px] cursor-pointer items-center rounded-sm border border-graphite px-3 font-medium focus-within:outline focus-within:outline-2 focus-within:outline-madder"
          title={HELP.importNotes}
        >
          {LABELS.importNotes}
          <input
            type="file"
            accept=".json,application/json"
            className="sr-only"
            onChange={(e) => {
              void importFile(setId, e.target.files?.[0]);
              e.target.value = '';
            }}
          />
        </label>
      </div>
      {session && !session.exposed && <p className="text-sm text-ochre">{MESSAGES.onlyHere}</p>}
      {session?.exposed && location.hostname === 'localhost' && <p className="text-sm text-ochre">{MESSAGES.openedAsLocalhost}</p>}
      {pages && pages.length > 0 && (
        <table className="w-full border-collapse text-sm">
          <thead>
            <tr>
              <th className={HEAD}>{LABELS.pageName}</th>
              <th className={`${HEAD} text-right`}>{LABELS.renders}</th>
              <th className={HEAD}>{LABELS.lastDay}</th>
              <th className={`${HEAD} text-right`}>{LABELS.timesOpened}</th>
              <th className={HEAD}>
                <span className="sr-only">{LABELS.actions}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {pages.map((page) => (
              <PageRow key={page.id} page={page} onChanged={refresh} />
            ))}
          </tbody>
        </table>
      )}
      <span className="flex justify-end">
        <Dialog.Close asChild>
          <Button>{LABELS.close}</Button>
        </Dialog.Close>
      </span>
    </div>
  );
}
