/** Which pass of the render is shown: by menu, or one after another by key. */
import type { ReactNode } from 'react';
import { passOf, type PassId } from '../../../core/image/passes.js';
import { useCommands } from '../../app/commands.js';
import { useKeys } from '../../app/keys.js';
import { Select } from '../../ui/controls.js';
import { HELP, LABELS } from './words.js';

/** The pass that is shown. */
export function PassSelect({ passes, pass, onPass }: { passes: readonly PassId[]; pass: PassId; onPass: (pass: PassId) => void }): ReactNode {
  const step = (by: number) => (): void => onPass(passes[(passes.indexOf(pass) + by + passes.length) % passes.length]!);
  const several = passes.length > 1;
  useKeys(several ? { p: step(1), P: step(-1) } : {});
  useCommands(several ? [{ name: LABELS.nextPass, keys: 'P', run: step(1) }] : []);
  if (!several) return null;
  return (
    <span className="w-40">
      <Select
        label={LABELS.pass}
        help={HELP.pass}
        value={pass}
        options={passes.map((id) => ({ value: id, label: passOf(id).label }))}
        onValue={(id) => onPass(id as PassId)}
      />
    </span>
  );
}
