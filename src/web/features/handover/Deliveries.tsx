/** Where a package was sent, and sending it somewhere. */
import { type FormEvent, type ReactNode, useState } from 'react';
import useSWR from 'swr';
import type { DeliveryReply, PackageReply } from '../../../contract/packages.js';
import { fileSize } from '../../app/format.js';
import { get, send } from '../../state/api.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button, Select, TextField } from '../../ui/controls.js';
import { DELIVERY_STATE_WORDS, HELP, KIND_WORDS, LABELS, MESSAGES } from './words.js';

type Kind = DeliveryReply['kind'];
const FIRST_TARGET: Record<Kind, string> = { dropOff: 'http://localhost:4871', folder: '' };
const TONE = { sending: 'text-cobalt', done: 'text-sap', stopped: 'text-graphite', failed: 'text-madder' } as const;

function DeliveryLine({ delivery, onChanged }: { delivery: DeliveryReply; onChanged: () => void }): ReactNode {
  const { id, kind, target, state, done, total, message } = delivery;
  const stop = (): void => void send('POST', `/deliveries/${id}/stop`).then(onChanged, (e: Error) => toastProblem(e.message));
  return (
    <li className="flex flex-wrap items-baseline gap-x-2 text-sm" data-testid="delivery" data-state={state}>
      <span className="min-w-0 flex-1 break-all">
        {KIND_WORDS[kind]} <span className="num">{target}</span>
      </span>
      <span className={TONE[state]}>
        {state === 'sending'
          ? MESSAGES.sent(fileSize(done), fileSize(total))
          : state === 'failed'
            ? (message ?? DELIVERY_STATE_WORDS.failed)
            : DELIVERY_STATE_WORDS[state]}
      </span>
      {state === 'sending' && <Button onClick={stop}>{LABELS.stop}</Button>}
    </li>
  );
}

/** Where the package was sent, and the form to send it. */
export function Deliveries({ pack }: { pack: PackageReply }): ReactNode {
  const { data = [], mutate } = useSWR<DeliveryReply[], Error>(`/packages/${pack.id}/deliveries`, get, {
    refreshInterval: (list) => (list?.some((d) => d.state === 'sending') ? 700 : 0),
  });
  const [open, setOpen] = useState(false);
  const [kind, setKind] = useState<Kind>('dropOff');
  const [target, setTarget] = useState(FIRST_TARGET.dropOff);
  const start = (e: FormEvent): void => {
    e.preventDefault();
    void send('POST', `/packages/${pack.id}/deliveries`, { kind, target }).then(
      () => {
        setOpen(false);
        void mutate();
      },
      (problem: Error) => toastProblem(problem.message),
    );
  };
  return (
    <div className="mt-2 flex flex-col gap-2">
      {pack.state === 'ready' && !open && (
        <span>
          <Button title={HELP.deliver} onClick={() => setOpen(true)}>
            {LABELS.deliver}
          </Button>
        </span>
      )}
      {open && (
        <form onSubmit={start} className="flex flex-col gap-2">
          <Select
            label={LABELS.to}
            help={HELP.kind}
            value={kind}
            options={(Object.keys(KIND_WORDS) as Kind[]).map((value) => ({ value, label: KIND_WORDS[value] }))}
            onValue={(value) => {
              setKind(value as Kind);
              setTarget(FIRST_TARGET[value as Kind]);
            }}
          />
          <TextField
            label={kind === 'dropOff' ? LABELS.address : LABELS.folder}
            help={kind === 'dropOff' ? HELP.address : HELP.folder}
            value={target}
            mono
            onValue={(text) => {
              setTarget(text.trim());
              return null;
            }}
          />
          <span className="flex gap-2">
            <Button type="submit">{LABELS.send}</Button>
            <Button onClick={() => setOpen(false)}>{LABELS.cancel}</Button>
          </span>
        </form>
      )}
      {data.length > 0 && (
        <ul aria-label={LABELS.deliveries} className="flex flex-col gap-1">
          {data.map((d) => (
            <DeliveryLine key={d.id} delivery={d} onChanged={() => void mutate()} />
          ))}
        </ul>
      )}
    </div>
  );
}
