/** Values that were also changed in another window: both are shown, and a person says which holds. */
import type { ReactNode } from 'react';
import { Dialog } from 'radix-ui';
import type { EditClash } from '../../core/edit/editClashes.js';
import type { PlanStore } from '../state/planSession.js';
import { Button } from '../ui/controls.js';
import { LABELS, MESSAGES } from './words.js';

const HEAD = 'border-b border-ink px-2 py-1 text-left font-head text-sm font-medium';
const CELL = 'border-b border-rule px-2 py-1.5 align-top';
const MAX_LETTERS = 80;

/** A value in few letters. */
function brief(value: unknown): string {
  if (value === undefined) return MESSAGES.removed;
  const text = typeof value === 'string' ? value : JSON.stringify(value);
  return text.length > MAX_LETTERS ? `${text.slice(0, MAX_LETTERS)} …` : text;
}

/** Asks which of two values stands where two windows changed the same thing. */
export function ClashDialog({ plan }: { plan: Pick<PlanStore, 'clashes' | 'settle'> }): ReactNode {
  const { clashes, settle } = plan;
  const settleAll = (taken: boolean): void => settle(clashes, taken);
  const button = (clash: EditClash, taken: boolean, label: string): ReactNode => <Button onClick={() => settle([clash], taken)}>{label}</Button>;
  return (
    <Dialog.Root open onOpenChange={(open) => !open && settleAll(false)}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content className="fixed left-1/2 top-1/2 z-50 flex max-h-[84vh] w-[820px] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 flex-col gap-3 overflow-auto border border-graphite bg-chalk p-5">
          <Dialog.Title className="text-lg font-semibold">{LABELS.changedTwice}</Dialog.Title>
          <Dialog.Description className="text-graphite">{MESSAGES.changedTwice}</Dialog.Description>
          <table className="w-full border-collapse" data-testid="clashes">
            <thead>
              <tr>
                <th className={HEAD}>{LABELS.value}</th>
                <th className={HEAD}>{LABELS.here}</th>
                <th className={HEAD}>{LABELS.elsewhere}</th>
                <th className={HEAD}>
                  <span className="sr-only">{LABELS.choose}</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {clashes.map((clash) => (
                <tr key={JSON.stringify(clash.path)}>
                  <td className={CELL}>{clash.place.join(', ')}</td>
                  <td className={`${CELL} num`}>{brief(clash.ours)}</td>
                  <td className={`${CELL} num`}>{brief(clash.theirs)}</td>
                  <td className={`${CELL} whitespace-nowrap`}>
                    <span className="inline-flex gap-2">
                      {button(clash, false, LABELS.keepHere)}
                      {button(clash, true, LABELS.takeTheirs)}
                    </span>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {clashes.length > 1 && (
            <span className="flex justify-end gap-2">
              <Button onClick={() => settleAll(true)}>{LABELS.takeAllTheirs}</Button>
              <Button primary onClick={() => settleAll(false)}>
                {LABELS.keepAllHere}
              </Button>
            </span>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
