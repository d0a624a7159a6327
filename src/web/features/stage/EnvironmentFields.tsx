/** The picture that lights the stage: brought in, turned, made stronger, shown or not. */
import { type ReactNode } from 'react';
import { toast } from 'sonner';
import { type EnvironmentReply } from '../../../contract/contract.js';
import { type StageSettings } from '../../../core/stage/stage.js';
import { Button, NumberField, Checkbox } from '../../ui/controls.js';
import { UploadButton } from '../../ui/UploadButton.js';

type EnvironmentFileFields = NonNullable<StageSettings['environment']>;

export function EnvironmentFields({
  environment,
  idle,
  onChange,
}: {
  environment: EnvironmentFileFields | undefined;
  /** Daylight lights instead. */
  idle: boolean;
  onChange: (environment: EnvironmentFileFields | undefined) => string | null;
}): ReactNode {
  return (
    <section className="flex flex-col gap-3 border-t border-rule pt-3">
      <h2 className="font-semibold">Picture of light</h2>
      <p className="text-sm text-graphite">
        {environment ? (
          <span className="num break-all">{environment.file.replace(/^([0-9a-f]{12})[0-9a-f]{52}/, '$1…')}</span>
        ) : (
          'An equirectangular .hdr or .exr file can light the stage instead of its own lamps.'
        )}
      </p>
      {environment && idle && <p className="text-sm text-ochre">No effect: daylight lights the stage.</p>}
      <div className="flex gap-2">
        <UploadButton<EnvironmentReply>
          path="/environments"
          accept=".hdr,.exr"
          label="Picture of light"
          onReply={(reply, name) => {
            onChange({ rotation: 0, strength: 1, visible: true, ...environment, file: reply.file });
            toast(`"${name}" lights the stage: ${reply.width} × ${reply.height} texels.`);
          }}
        >
          {environment ? 'Change' : 'Bring one in'}
        </UploadButton>
        {environment && <Button onClick={() => onChange(undefined)}>Take out</Button>}
      </div>
      {environment && (
        <>
          <div className="grid grid-cols-2 gap-3">
            <NumberField
              label="Turned"
              help="Degrees counterclockwise seen from above, so that the brightest side stands where it should."
              value={environment.rotation}
              quantity="angle"
              unit="°"
              step={5}
              decimals={1}
              onValue={(rotation) => onChange({ ...environment, rotation })}
            />
            <NumberField
              label="Strength"
              help="What the picture's light is multiplied by."
              value={environment.strength}
              step={0.1}
              decimals={3}
              onValue={(strength) => onChange({ ...environment, strength })}
            />
          </div>
          <Checkbox
            label="Seen behind the subject"
            help="Off: the picture lights, and the backdrop stands behind."
            checked={environment.visible}
            onChecked={(seen) => onChange({ ...environment, visible: seen })}
          />
        </>
      )}
    </section>
  );
}
