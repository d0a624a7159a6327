/** What says at a field that it changes nothing now: whoever shows fields provides it, see forms/SettingsOf.tsx. */
import { createContext, useContext } from 'react';
import type { Setting } from '../../core/plan/noEffect.js';

/** Why a setting has no effect, as a clause, or null. */
export const NoEffectContext = createContext<(setting: Setting) => string | null>(() => null);

/** Why the setting has no effect where it is shown, or null. */
export function useNoEffect(setting: Setting | undefined): string | null {
  const reason = useContext(NoEffectContext);
  return setting ? reason(setting) : null;
}
