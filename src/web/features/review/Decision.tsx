/** What a person says of a render: accepted, or to be done again; by button and by key. */
import type { ReactNode } from 'react';
import type { FrameReply } from '../../../contract/batches.js';
import { useCommands } from '../../app/commands.js';
import { useKeys } from '../../app/keys.js';
import { send } from '../../state/api.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button } from '../../ui/controls.js';
import { HELP, LABELS } from './words.js';

type Said = NonNullable<FrameReply['decision']>;

export function Decision({ batch, frame, onDecided }: { batch: number; frame: FrameReply; onDecided: () => void }): ReactNode {
  /** Saying the same again takes it back. */
  const decide = (said: Said): void => {
    const decision = frame.decision === said ? null : said;
    send('PUT', `/batches/${batch}/frames/${frame.id}/decision`, { decision }).then(onDecided, (e: Error) => toastProblem(e.message));
  };
  useKeys({ a: () => decide('accepted'), d: () => decide('redo') });
  useCommands([
    { name: LABELS.acceptRender, keys: 'A', run: () => decide('accepted') },
    { name: LABELS.redo, keys: 'D', run: () => decide('redo') },
  ]);
  const look = (said: Said): string => (frame.decision === said ? 'border-madder text-madder' : '');
  return (
    <span className="flex gap-2" role="group" aria-label={LABELS.decision}>
      <Button aria-pressed={frame.decision === 'accepted'} title={HELP.accept} className={look('accepted')} onClick={() => decide('accepted')}>
        {frame.decision === 'accepted' ? LABELS.accepted : LABELS.accept}
      </Button>
      <Button aria-pressed={frame.decision === 'redo'} title={HELP.redo} className={look('redo')} onClick={() => decide('redo')}>
        {frame.decision === 'redo' ? LABELS.redoAsked : LABELS.redo}
      </Button>
    </span>
  );
}
