/** Says at a field that it changes nothing now, and why; what the fields belong to is said once around them. */
import type { ReactNode } from 'react';
import { noEffect, type Setting, type SettingOwners } from '../../core/plan/noEffect.js';
import type { SetFile } from '../../core/plan/set.js';
import { NoEffectContext, useNoEffect } from '../ui/noEffect.js';
import { MESSAGES } from '../ui/words.js';

interface SettingsOfProps {
  set: SetFile;
  /** What the fields inside belong to, by its kind. */
  owners: Partial<SettingOwners>;
  children: ReactNode;
}

/** Fields inside that name their setting say where it has no effect. */
export function SettingsOf({ set, owners, children }: SettingsOfProps): ReactNode {
  const reason = (setting: Setting): string | null => {
    const owner = owners[setting.split('.')[0] as keyof SettingOwners];
    return owner ? noEffect(setting, owner as never, set) : null;
  };
  return <NoEffectContext value={reason}>{children}</NoEffectContext>;
}

/** The remark alone, for a group of fields. */
export function NoEffectNote({ setting }: { setting: Setting }): ReactNode {
  const idle = useNoEffect(setting);
  return idle && <p className="text-sm text-ochre">{MESSAGES.noEffect(idle)}</p>;
}
