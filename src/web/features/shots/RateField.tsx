/** Frames per second: one of the common rates, or one's own. */
import { type ReactNode, useState } from 'react';
import type { Setting } from '../../../core/plan/noEffect.js';
import { COMMON_RATES, rateName, readRate } from '../../../core/units/rate.js';
import { Select, TextField } from '../../ui/controls.js';
import { HELP, LABELS } from './sheetWords.js';

/** No rate is written like this. */
const OTHER = 'other';
const INHERITED = '-';

interface RateFieldProps {
  /** As rates are written, exact; undefined where the format sheet's counts. */
  rate: string | undefined;
  help: string;
  setting: Setting;
  /** What stands for the format sheet's rate; absent where there is none to fall back to. */
  inherited?: string;
  /** Returns what is wrong, or null. */
  onRate: (rate: string | undefined) => string | null;
}

/** Frames per second: one of the usual rates, or another. */
export function RateField({ rate, help, setting, inherited, onRate }: RateFieldProps): ReactNode {
  const [writing, setWriting] = useState(false);
  if (writing) {
    return (
      <TextField
        label={LABELS.ownRate}
        help={HELP.ownRate}
        mono
        value={rate === undefined ? '' : rateName(rate)}
        onValue={(typed) => {
          try {
            const problem = onRate(typed.trim() === '' && inherited ? undefined : readRate(typed));
            if (problem === null) setWriting(false);
            return problem;
          } catch (e) {
            return (e as Error).message;
          }
        }}
      />
    );
  }
  const known = [...new Set([...COMMON_RATES, ...(rate === undefined ? [] : [rate])])];
  return (
    <Select
      label={LABELS.rate}
      help={help}
      setting={setting}
      value={rate ?? INHERITED}
      options={[
        ...(inherited ? [{ value: INHERITED, label: inherited }] : []),
        ...known.map((r) => ({ value: r, label: rateName(r) })),
        { value: OTHER, label: LABELS.otherRate },
      ]}
      onValue={(value) => {
        if (value === OTHER) setWriting(true);
        else onRate(value === INHERITED ? undefined : value);
      }}
    />
  );
}
