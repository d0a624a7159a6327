/** What to do first in a step: one sentence, until it is put away. */
import type { ReactNode } from 'react';
import { X } from 'lucide-react';
import { useLocation } from 'react-router';
import { setPreferences, usePreferences } from './preferences.js';
import { LABELS, STEP_HELP } from './words.js';

/** What to do first in a step, until it is done or closed. */
export function StepHint({ base }: { base: string }): ReactNode {
  const { pathname } = useLocation();
  const { seenHints } = usePreferences();
  const step = pathname.slice(base.length + 1).split('/')[0] ?? '';
  const hint = STEP_HELP[step as keyof typeof STEP_HELP] as string | undefined;
  if (!hint || seenHints.includes(step)) return null;
  return (
    <aside aria-label={LABELS.firstThing} className="mx-3 mb-3 shrink-0 border-t border-rule pt-2 text-sm max-[1180px]:hidden">
      <p className="flex items-baseline justify-between font-head text-xs font-medium text-graphite">
        {LABELS.firstThing}
        <button type="button" aria-label={LABELS.putAway} onClick={() => setPreferences({ seenHints: [...seenHints, step] })}>
          <X size={13} aria-hidden />
        </button>
      </p>
      <p>{hint}</p>
    </aside>
  );
}
