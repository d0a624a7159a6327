/** How the next batch is rendered: as a draft, in which order, when, and whether anything is taken over. */
import type { ReactNode } from 'react';
import { SlidersHorizontal } from 'lucide-react';
import { Popover } from 'radix-ui';
import { MAX_SPREAD } from '../../../core/plan/frameOrder.js';
import { Checkbox, NumberField } from '../../ui/controls.js';
import { PrioritySelect } from '../queue/PrioritySelect.js';
import { StartAtField } from '../queue/StartAtField.js';
import { PLAIN_START, type StartOptions } from './startOptions.js';
import { HELP, LABELS, MESSAGES } from './startWords.js';

const PERCENT = 100;

/** Shares of the plan that a draft offers, in percent of each side and of the samples. */
const SHARES = [50, 33, 25];

interface Props {
  options: StartOptions;
  onOptions: (options: StartOptions) => void;
}

function ShareField({ label, help, value, onValue }: { label: string; help: string; value: number; onValue: (share: number) => void }): ReactNode {
  return (
    <NumberField
      label={label}
      help={help}
      value={value * PERCENT}
      decimals={0}
      onValue={(percent) => {
        if (!(percent >= 5 && percent <= 100)) return MESSAGES.shareRange;
        onValue(percent / PERCENT);
        return null;
      }}
    />
  );
}

function Fields({ options, onOptions }: Props): ReactNode {
  const { draft, spread, priority, startAt, anew } = options;
  const put = (values: Partial<StartOptions>): void => onOptions({ ...options, ...values });
  return (
    <>
      <Checkbox
        label={LABELS.draft}
        help={HELP.draft}
        checked={draft !== null}
        onChecked={(on) => put({ draft: on ? { size: SHARES[0]! / PERCENT, samples: SHARES[2]! / PERCENT } : null })}
      />
      {draft && (
        <div className="grid grid-cols-2 gap-3">
          <ShareField label={LABELS.draftSize} help={HELP.draftSize} value={draft.size} onValue={(size) => put({ draft: { ...draft, size } })} />
          <ShareField
            label={LABELS.draftSamples}
            help={HELP.draftSamples}
            value={draft.samples}
            onValue={(samples) => put({ draft: { ...draft, samples } })}
          />
        </div>
      )}
      <NumberField
        label={LABELS.spread}
        help={HELP.spread}
        value={spread}
        decimals={0}
        onValue={(n) => {
          if (!Number.isInteger(n) || n < 1 || n > MAX_SPREAD) return MESSAGES.spreadRange;
          put({ spread: n });
          return null;
        }}
      />
      <PrioritySelect value={priority} onValue={(to) => put({ priority: to })} />
      <StartAtField value={startAt} onValue={(at) => put({ startAt: at })} />
      <Checkbox label={LABELS.anew} help={HELP.anew} checked={anew} onChecked={(on) => put({ anew: on })} />
    </>
  );
}

/** How a batch is started: as a draft, in what order, when. */
export function StartOptionsMenu(props: Props): ReactNode {
  const plain = JSON.stringify(props.options) === JSON.stringify(PLAIN_START);
  return (
    <Popover.Root>
      <Popover.Trigger
        className={`h-[30px] shrink-0 rounded-sm border px-2 ${plain ? 'border-rule text-graphite' : 'border-madder text-madder'}`}
        aria-label={LABELS.startOptions}
        title={HELP.startOptions}
      >
        <SlidersHorizontal size={16} aria-hidden />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={4} className="z-40 flex w-72 flex-col gap-3 border border-graphite bg-chalk p-3">
          <Fields {...props} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
