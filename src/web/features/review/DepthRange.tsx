/** Metres between which depth is shown from white to dark; all of it where nobody says. */
import type { ReactNode } from 'react';
import { Button, NumberField } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Metres that are shown as black and as white. */
export type Range = [number, number];
const FIRST: Range = [0, 10];

/** The metres between which depth is shown. */
export function DepthRange({ range, onRange }: { range: Range | null; onRange: (range: Range | null) => void }): ReactNode {
  if (!range)
    return (
      <Button title={HELP.depthRange} onClick={() => onRange(FIRST)}>
        {LABELS.setDepthRange}
      </Button>
    );
  const [near, far] = range;
  const put = (next: Range): string | null => (next[0] < next[1] && next[0] >= 0 ? (onRange(next), null) : MESSAGES.rangeWrong);
  return (
    <span className="flex items-end gap-2">
      <span className="w-16">
        <NumberField label={LABELS.near} help={HELP.depthRange} value={near} unit="m" decimals={2} onValue={(v) => put([v, far])} />
      </span>
      <span className="w-16">
        <NumberField label={LABELS.far} help={HELP.depthRange} value={far} unit="m" decimals={2} onValue={(v) => put([near, v])} />
      </span>
      <Button onClick={() => onRange(null)}>{LABELS.wholeDepth}</Button>
    </span>
  );
}
