/** What a person says of a render: accepted, or to be done again; of one frame or the whole shot, with a reason. */
import { MessageSquareText } from 'lucide-react';
import { Popover } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import type { FrameReply } from '../../../contract/batches.js';
import { useCommands } from '../../app/commands.js';
import { useKeys } from '../../app/keys.js';
import { setPreferences, usePreferences } from '../../app/preferences.js';
import { send } from '../../state/api.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button, PLAIN_BUTTON, TextField } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

type Said = NonNullable<FrameReply['decision']>;

interface Props {
  batch: number;
  frame: FrameReply;
  /** Whether the shot has further frames, which can be decided with it. */
  moving: boolean;
  onDecided: () => void;
}

const MAX_REASON = 500;
const MAX_AUTHOR = 80;

/** Reason and name, for one frame or all of the shot. */
function WithReason({ decide, moving }: { decide: (said: Said, whole: boolean, reason: string) => void; moving: boolean }): ReactNode {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState('');
  const { author } = usePreferences();
  const say = (said: Said, whole: boolean) => (): void => {
    decide(said, whole, reason);
    setReason('');
    setOpen(false);
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className={PLAIN_BUTTON} aria-label={LABELS.withReason} title={HELP.withReason}>
        <MessageSquareText size={16} aria-hidden />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={4} className="z-40 flex w-80 flex-col gap-3 border border-graphite bg-chalk p-3">
          <TextField
            label={LABELS.reason}
            help={HELP.reason}
            value={reason}
            onValue={(text) => {
              if (text.trim().length > MAX_REASON) return MESSAGES.tooLong(MAX_REASON);
              setReason(text);
              return null;
            }}
          />
          <TextField
            label={LABELS.author}
            help={HELP.author}
            value={author}
            onValue={(text) => {
              if (text.trim().length > MAX_AUTHOR) return MESSAGES.tooLong(MAX_AUTHOR);
              setPreferences({ author: text.trim() });
              return null;
            }}
          />
          <span className="flex flex-wrap gap-2">
            <Button onClick={say('accepted', false)}>{LABELS.acceptFrame}</Button>
            <Button onClick={say('redo', false)}>{LABELS.redoFrame}</Button>
            {moving && (
              <>
                <Button onClick={say('accepted', true)}>{LABELS.acceptShot}</Button>
                <Button onClick={say('redo', true)}>{LABELS.redoShot}</Button>
              </>
            )}
          </span>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** Accepts a render or asks for it again, with a reason. */
export function Decision({ batch, frame, moving, onDecided }: Props): ReactNode {
  const { author } = usePreferences();
  const put = (decision: Said | null, whole: boolean, reason: string): void => {
    const said = { decision, ...(reason.trim() && { reason: reason.trim() }), ...(author && { author }) };
    const sent = whole
      ? send('PUT', `/batches/${batch}/decision`, { run: frame.shot, ...said })
      : send('PUT', `/batches/${batch}/frames/${frame.id}/decision`, said);
    sent.then(onDecided, (e: Error) => toastProblem(e.message));
  };
  /** Saying the same again takes it back. */
  const decide = (said: Said): void => put(frame.decision === said ? null : said, false, '');
  useKeys({ a: () => decide('accepted'), d: () => decide('redo') });
  useCommands([
    { name: LABELS.acceptRender, keys: 'A', run: () => decide('accepted') },
    { name: LABELS.redo, keys: 'D', run: () => decide('redo') },
    ...(moving ? [{ name: LABELS.acceptShot, run: () => put('accepted', true, '') }] : []),
  ]);
  const look = (said: Said): string => (frame.decision === said ? 'border-madder text-madder' : '');
  return (
    <span className="flex items-center gap-1.5" role="group" aria-label={LABELS.decision}>
      {frame.decisionReason && (
        <span className="max-w-48 truncate text-sm text-graphite" title={frame.decisionReason}>
          {frame.decisionReason}
        </span>
      )}
      <Button aria-pressed={frame.decision === 'accepted'} title={HELP.accept} className={look('accepted')} onClick={() => decide('accepted')}>
        {frame.decision === 'accepted' ? LABELS.accepted : LABELS.accept}
      </Button>
      <Button aria-pressed={frame.decision === 'redo'} title={HELP.redo} className={look('redo')} onClick={() => decide('redo')}>
        {frame.decision === 'redo' ? LABELS.redoAsked : LABELS.redo}
      </Button>
      <WithReason decide={put} moving={moving} />
    </span>
  );
}
