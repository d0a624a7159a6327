/** Accepts a finding with a reason. */
import { type ReactNode, useState } from 'react';
import type { Waiver } from '../../../core/plan/waiver.js';
import type { ReportedFinding } from '../../../core/preflight/preflight.js';
import { Button, Select } from '../../ui/controls.js';
import { Field } from '../../ui/Field.js';
import { HELP, LABELS } from './words.js';

type Scope = 'frame' | 'shot' | 'set';

const MAX_REASON = 300;

/** @param frame number of the frame that is shown, where it alone can be waived. */
export function WaiveForm({
  finding,
  frame,
  onWaive,
  onCancel,
}: {
  finding: ReportedFinding;
  frame: number | undefined;
  onWaive: (waiver: Waiver) => void;
  onCancel: () => void;
}): ReactNode {
  const scopes: { value: Scope; label: string }[] = [
    ...(finding.run === undefined ? [] : [{ value: 'shot' as const, label: LABELS.thisShot }]),
    ...(frame !== undefined && finding.about.frame ? [{ value: 'frame' as const, label: LABELS.thisFrame(frame) }] : []),
    { value: 'set', label: LABELS.wholeSet },
  ];
  const [scope, setScope] = useState<Scope>(scopes[0]!.value);
  const [reason, setReason] = useState('');
  const waive = (): void => {
    const { check, run, about } = finding;
    const by: Pick<Waiver, 'shot' | 'frame' | 'about'> =
      scope === 'set' ? { about: about.set } : scope === 'shot' ? { shot: run, about: about.shot } : { shot: run, frame, about: about.frame! };
    onWaive({ finding: check, reason: reason.trim(), ...by });
  };
  return (
    <form
      aria-label={LABELS.waiveFinding}
      className="grid grid-cols-[minmax(0,1fr)_130px] gap-x-4 gap-y-2 border border-rule p-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (reason.trim() !== '') waive();
      }}
    >
      <Field label={LABELS.reason} help={HELP.reason} error={null}>
        {(id, described) => (
          <input
            id={id}
            aria-describedby={described}
            maxLength={MAX_REASON}
            value={reason}
            className="h-7 w-full min-w-0 border-b border-graphite bg-transparent outline-offset-2"
            onChange={(e) => setReason(e.target.value)}
          />
        )}
      </Field>
      <Select label={LABELS.waiveFor} help={HELP.waiveFor} value={scope} options={scopes} onValue={(v) => setScope(v as Scope)} />
      <span className="col-span-2 flex gap-3">
        <Button type="submit" disabled={reason.trim() === ''}>
          {LABELS.waive}
        </Button>
        <Button onClick={onCancel}>{LABELS.cancel}</Button>
      </span>
    </form>
  );
}
