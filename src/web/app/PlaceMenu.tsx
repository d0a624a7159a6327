/** Where one is: a project or a set, with all one can go to or do with it. */
import { type ReactNode, useState } from 'react';
import { ChevronDown } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { toastProblem } from '../state/toastProblem.js';
import { ActionItems, MENU_PANEL, MENU_ROW } from '../ui/ActionItems.js';
import { TextField } from '../ui/controls.js';
import { HELP, LABELS } from './words.js';

/** What kind of place a name is of: unseen, but read, where there is room for the name alone. */
export const PLACE_LABEL = 'font-head text-xs font-medium text-graphite max-[800px]:sr-only';

/** A project or a set to go to. */
export interface PlaceChoice {
  id: number;
  name: string;
  /** A figure beside the name. */
  note?: string;
}

/** What can be done with the one that is shown. */
export interface PlaceActions {
  /** Takes the new name; returns what is wrong with it, or null. */
  rename: (name: string) => string | null;
  /** Rejects with the reason. */
  duplicate: () => Promise<void>;
  remove: () => Promise<void>;
}

interface PlaceMenuProps extends PlaceActions {
  label: string;
  current: number;
  name: string;
  choices: PlaceChoice[];
  onChoose: (id: number) => void;
}

/** An action of a menu that says why it failed. */
const attempt = (act: () => Promise<void>) => (): void => void act().catch((e: Error) => toastProblem(e.message));

/** Names the project or set that is shown, and leads to the others. */
export function PlaceMenu({ label, current, name, choices, onChoose, rename, duplicate, remove }: PlaceMenuProps): ReactNode {
  const [renaming, setRenaming] = useState(false);
  if (renaming) {
    return (
      <span
        className="flex w-56 items-center border-l border-rule px-3"
        onBlur={() => setRenaming(false)}
        onKeyDownCapture={(e) => e.key === 'Escape' && setRenaming(false)}
        ref={(el) => el?.querySelector('input')?.focus()}
      >
        <TextField
          label={label}
          help={HELP.rename}
          value={name}
          onValue={(typed) => {
            const problem = rename(typed.trim());
            if (problem === null) setRenaming(false);
            return problem;
          }}
        />
      </span>
    );
  }
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger aria-label={LABELS.placeMenu(label, name)} className="flex min-w-0 items-center gap-2 border-l border-rule px-3">
        <span className={PLACE_LABEL}>{label}</span>
        <span className="max-w-60 truncate">{name}</span>
        <ChevronDown size={14} aria-hidden className="shrink-0 text-graphite" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          className={`${MENU_PANEL} max-h-[var(--radix-dropdown-menu-content-available-height)] min-w-56 overflow-auto`}
        >
          {choices.map((c) => (
            <DropdownMenu.Item key={c.id} className={`${MENU_ROW} ${c.id === current ? 'font-semibold' : ''}`} onSelect={() => onChoose(c.id)}>
              <span className="max-w-72 truncate">{c.name}</span>
              <span className="num text-xs text-graphite">{c.note}</span>
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Separator className="my-1 border-t border-rule" />
          <ActionItems
            actions={[
              { label: LABELS.rename, run: () => setRenaming(true) },
              { label: LABELS.duplicate, run: attempt(duplicate) },
              { label: LABELS.delete, run: attempt(remove) },
            ]}
          />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
