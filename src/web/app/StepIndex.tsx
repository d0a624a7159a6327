/** The steps in their order, each with its figure; where the window is narrow, by their numbers alone. */
import type { ReactNode } from 'react';
import { Moon, Sun } from 'lucide-react';
import { NavLink } from 'react-router';
import { setPreferences, usePreferences } from './preferences.js';
import { StepHint } from './StepHint.js';
import { STEPS } from './steps.js';
import type { Workspace } from './workspace.js';
import { LABELS } from './words.js';

/** What is left out where the index is folded. */
const WIDE = 'max-[1180px]:sr-only';

/** The steps, each with its count; folds where the window is narrow. */
export function StepIndex({ base, workspace }: { base: string; workspace: Workspace }): ReactNode {
  const { theme } = usePreferences();
  const other = theme === 'day' ? LABELS.nightTheme : LABELS.dayTheme;
  return (
    <nav aria-label={LABELS.steps} className="flex min-h-0 flex-col overflow-y-auto border-r border-rule bg-chalk pt-3">
      {STEPS.map((step, i) => (
        <NavLink
          key={step.id}
          to={`${base}/${step.id}`}
          title={step.label}
          className={({ isActive }) =>
            `flex h-[33px] shrink-0 items-center gap-3 border-l-[3px] px-3 max-[1180px]:justify-center ${isActive ? 'border-madder bg-paper font-semibold text-ink' : 'border-transparent text-graphite'}`
          }
        >
          <span className="num w-3 text-sm">{i + 1}</span>
          <span className={WIDE}>{step.label}</span>
          <span className={`num ml-auto text-sm ${WIDE}`}>{step.count(workspace)}</span>
        </NavLink>
      ))}
      <span className="mt-auto" />
      <StepHint base={base} />
      <button
        type="button"
        title={other}
        className="flex h-9 shrink-0 items-center gap-2 pl-4 text-sm text-graphite"
        onClick={() => setPreferences({ theme: theme === 'day' ? 'night' : 'day' })}
      >
        {theme === 'day' ? <Moon size={15} aria-hidden className="shrink-0" /> : <Sun size={15} aria-hidden className="shrink-0" />}
        <span className={WIDE}>{other}</span>
      </button>
      <p className={`num pb-2 pl-4 text-xs text-graphite ${WIDE}`}>{LABELS.commandsCtrlK}</p>
    </nav>
  );
}
