/** What is drawn over the output frame: thirds, centre, safe margins, what lies outside, and the frame of another set. */
import { type ReactNode } from 'react';
import { Popover } from 'radix-ui';
import { setPreferences, usePreferences } from '../../app/preferences.js';
import { useWorkspace } from '../../app/workspace.js';
import { PLAIN_BUTTON, Select, Checkbox } from '../../ui/controls.js';

const WORDS = [
  ['thirds', 'Thirds', 'Two lines across and two upright.'],
  ['centre', 'Centre', 'A cross in the middle.'],
  ['safe', 'Safe margins', '3.5 % for action and 5 % for lettering on each side (EBU R 95).'],
  ['outside', 'What lies outside', 'The masked part of the viewport is seen through.'],
] as const;

const NONE = '-';

export function FrameMenu({ other, onOther }: { other: number | null; onOther: (set: number | null) => void }): ReactNode {
  const { project, setId } = useWorkspace();
  const { guides } = usePreferences();
  const sets = project.sets.filter((s) => s.id !== setId);
  return (
    <Popover.Root>
      <Popover.Trigger className={PLAIN_BUTTON}>Frame</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          aria-label="Over the frame"
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
          {sets.length > 0 && (
            <Select
              label="Frame of another set"
              help="Its size about the same middle, where two sets share views."
              value={other === null ? NONE : String(other)}
              options={[{ value: NONE, label: 'none' }, ...sets.map((s) => ({ value: String(s.id), label: s.name }))]}
              onValue={(id) => onOther(id === NONE ? null : Number(id))}
            />
          )}
          <p className="pt-1 text-sm text-graphite">Drag an edge of the frame to see more or less at the same scale: the format sheet follows.</p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
