/** What is drawn over the output frame: thirds, centre, safe margins, what lies outside, and the frame of another set. */
import type { ReactNode } from 'react';
import { Popover } from 'radix-ui';
import { setPreferences, usePreferences } from '../../app/preferences.js';
import { useWorkspace } from '../../app/workspace.js';
import { Checkbox, NumberField, PLAIN_BUTTON, Select } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const WORDS = [
  ['thirds', LABELS.thirds, HELP.twoHorizontalAndTwo],
  ['centre', LABELS.centre, HELP.aCrossInThe],
  ['safe', LABELS.safeMargins, HELP.n35ForAction],
  ['outside', LABELS.showOutside, HELP.makesTheMaskAround],
] as const;

const NONE = '-';

/** Guides in the frame, and the frame of another set over it. */
export function FrameMenu({ other, onOther }: { other: number | null; onOther: (set: number | null) => void }): ReactNode {
  const { project, setId } = useWorkspace();
  const { guides, fitMargin } = usePreferences();
  const sets = project.sets.filter((s) => s.id !== setId);
  return (
    <Popover.Root>
      <Popover.Trigger className={PLAIN_BUTTON}>{LABELS.frame}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          aria-label={LABELS.frameGuides}
          className="z-40 flex w-60 flex-col gap-1 border border-graphite bg-chalk p-3"
        >
          {WORDS.map(([key, label, help]) => (
            <Checkbox
              key={key}
              label={label}
              help={help}
              checked={guides[key]}
              onChecked={(on) => setPreferences({ guides: { ...guides, [key]: on } })}
            />
          ))}
          <NumberField
            label={LABELS.fitMargin}
            help={HELP.fitMargin}
            value={100 * fitMargin}
            unit="%"
            decimals={1}
            onValue={(v) => {
              if (v < 0 || v > 40) return MESSAGES.from0To40;
              setPreferences({ fitMargin: v / 100 });
              return null;
            }}
          />
          {sets.length > 0 && (
            <Select
              label={LABELS.frameOfSet}
              help={HELP.frameOfSet}
              value={other === null ? NONE : String(other)}
              options={[{ value: NONE, label: LABELS.none }, ...sets.map((s) => ({ value: String(s.id), label: s.name }))]}
              onValue={(id) => onOther(id === NONE ? null : Number(id))}
            />
          )}
          <p className="pt-1 text-sm text-graphite">{MESSAGES.dragAnEdgeOf}</p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
