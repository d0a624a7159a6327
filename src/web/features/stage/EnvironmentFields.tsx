/** The environment image that lights the stage: chosen, turned, made stronger, shown or not. */
import { NoEffectNote } from '../../forms/SettingsOf.js';
import type { ReactNode } from 'react';
import type { EnvironmentReply } from '../../../contract/contract.js';
import type { StageSettings } from '../../../core/stage/stage.js';
import { type FieldSpec, FormFields } from '../../forms/FormFields.js';
import { Button, Checkbox } from '../../ui/controls.js';
import { UploadButton } from '../../ui/UploadButton.js';
import { HELP, LABELS, MESSAGES } from './words.js';
import { toast } from '../../state/toast.js';

type EnvironmentFileFields = NonNullable<StageSettings['environment']>;

const TURN_AND_STRENGTH: readonly FieldSpec<EnvironmentFileFields>[] = [
  { kind: 'number', key: 'rotation', label: LABELS.rotation, help: HELP.rotation, quantity: 'angle', unit: '°', step: 5, decimals: 1 },
  { kind: 'number', key: 'strength', label: LABELS.strength, help: HELP.strength, step: 0.1, decimals: 3 },
];

/** An image of light from all around. */
export function EnvironmentFields({
  environment,
  onChange,
}: {
  environment: EnvironmentFileFields | undefined;
  onChange: (environment: EnvironmentFileFields | undefined) => string | null;
}): ReactNode {
  return (
    <section className="flex flex-col gap-3 border-t border-rule pt-3">
      <h2 className="font-semibold">{LABELS.environmentImage}</h2>
      <p className="text-sm text-graphite">
        {environment ? (
          <span className="num break-all">{environment.file.replace(/^([0-9a-f]{12})[0-9a-f]{52}/, '$1…')}</span>
        ) : (
          MESSAGES.anEquirectangularHdrOr
        )}
      </p>
      <NoEffectNote setting="stage.environment" />
      <div className="flex gap-2">
        <UploadButton<EnvironmentReply>
          path="/environments"
          accept=".hdr,.exr,.pfm,.tif,.tiff"
          label={LABELS.environmentImage}
          onReply={(reply, name) => {
            onChange({ rotation: 0, strength: 1, visible: true, ...environment, file: reply.file });
            toast(MESSAGES.lightsTheStageBy(name, reply.width, reply.height));
          }}
        >
          {environment ? LABELS.replace : LABELS.uploadImage}
        </UploadButton>
        {environment && <Button onClick={() => onChange(undefined)}>{LABELS.delete}</Button>}
      </div>
      {environment && (
        <>
          <div className="grid grid-cols-2 gap-3">
            <FormFields fields={TURN_AND_STRENGTH} values={environment} put={(values) => onChange({ ...environment, ...values })} />
          </div>
          <Checkbox
            label={LABELS.showAsBackdrop}
            help={HELP.showAsBackdrop}
            checked={environment.visible}
            onChecked={(seen) => onChange({ ...environment, visible: seen })}
          />
        </>
      )}
    </section>
  );
}
