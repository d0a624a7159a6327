/** Says at a field that it changes nothing now, and why; what the fields belong to is said once around them. */
import { createContext, type ReactNode, useContext } from 'react';
import { noEffect, type Setting, type SettingOwners } from '../../core/plan/noEffect.js';
import { MESSAGES } from '../ui/words.js';
import type { SetFile } from '../../core/plan/set.js';

type Reason = (setting: Setting) => string | null;

const Owner = createContext<Reason>(() => null);

interface SettingsOfProps {
  set: SetFile;
  /** What the fields inside belong to, by its kind. */
  owners: Partial<SettingOwners>;
  children: ReactNode;
}

/** Fields inside that name their setting say where it has no effect. */
export function SettingsOf({ set, owners, children }: SettingsOfProps): ReactNode {
  const reason: Reason = (setting) => {
    const owner = owners[setting.split('.')[0] as keyof SettingOwners];
    return owner ? noEffect(setting, owner as never, set) : null;
  };
  return <Owner value={reason}>{children}</Owner>;
}

/** The remark alone, for a group of fields. */
export function NoEffectNote({ setting }: { setting: Setting }): ReactNode {
  const idle = useNoEffect(setting);
  return idle && <p className="text-sm text-ochre">{MESSAGES.noEffect(idle)}</p>;
}

/** Why the setting has no effect where it is shown, or null. */
export function useNoEffect(setting: Setting | undefined): string | null {
  const reason = useContext(Owner);
  return setting ? reason(setting) : null;
}
