import type { ComponentType, ReactNode } from 'react';
import { Choices } from './Choices.js';
import { SettingsOf } from '../../forms/SettingsOf.js';
import { withShot } from '../../../core/edit/editSet.js';
import { kindOf, type Shot } from '../../../core/shots/kinds.js';
import { useWorkspace } from '../../app/workspace.js';
import { TextField } from '../../ui/controls.js';
import type { FieldsProps } from './fieldsProps.js';
import { ShotOverrides } from './ShotOverrides.js';
import { SectionReveal } from './sectionReveal/Fields.js';
import { Still } from './still/Fields.js';
import { SunStudy } from './sunStudy/Fields.js';
import { Turntable } from './turntable/Fields.js';
import { Walkthrough } from './walkthrough/Fields.js';
import { ShotCostNote } from '../forecast/CostNotes.js';
import { HELP, LABELS } from './words.js';

/** The fields of each kind. */
const FIELDS = {
  still: Still,
  turntable: Turntable,
  sunStudy: SunStudy,
  walkthrough: Walkthrough,
  sectionReveal: SectionReveal,
} as unknown as Record<Shot['kind'], ComponentType<FieldsProps<Shot>>>;

/** The fields of the selected shot; `asked` is what stands in a pixel of the live preview. */
export function ShotFields({ shot, asked }: { shot: Shot; asked?: ReactNode }): ReactNode {
  const { plan } = useWorkspace();
  const put = (next: Shot): string | null => plan!.edit((f) => withShot(f, next));
  const Own = FIELDS[shot.kind];
  const variants = plan!.file.materials?.variants ?? [];
  return (
    <aside aria-label={LABELS.shot} className="flex flex-col gap-2 overflow-auto border-l border-rule bg-chalk px-4 py-3">
      <TextField label={LABELS.name} help={HELP.usedInTheShot} value={shot.name ?? shot.id} onValue={(name) => put({ ...shot, name })} />
      <Own shot={shot} put={put} />
      <ShotCostNote shot={shot.id} moving={kindOf(shot).moving} />
      {variants.length > 0 && (
        <Choices
          legend={LABELS.variants}
          help={HELP.chosenVariant}
          options={variants}
          chosen={shot.variants ?? []}
          onChoose={(ids) => put({ ...shot, variants: ids.length > 0 ? ids : undefined })}
        />
      )}
      <SettingsOf set={plan!.file} owners={{ shot }}>
        <ShotOverrides shot={shot} put={put} />
      </SettingsOf>
      {asked}
    </aside>
  );
}
