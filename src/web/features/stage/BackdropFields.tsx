/** What stands behind everything: the stage's own backdrop, one colour, or a picture. It lights nothing. */
import { type ReactNode } from 'react';
import { type EnvironmentReply } from '../../../contract/contract.js';
import { type StageSettings } from '../../../core/stage/stage.js';
import { type FormatSheet } from '../../../core/plan/formatSheet.js';
import { ColourField } from '../../ui/ColourField.js';
import { Button, Select } from '../../ui/controls.js';
import { UploadButton } from '../../ui/UploadButton.js';

export interface BackdropFieldsProps {
  stage: StageSettings;
  /** The ready stage's own colour, to begin with. */
  first: string;
  sheet: FormatSheet;
  onChange: (values: Partial<StageSettings>) => string | null;
  onSize: (size: FormatSheet['size']) => void;
}

export function BackdropFields({ stage, first, sheet, onChange, onSize }: BackdropFieldsProps): ReactNode {
  const kind = stage.backdropImage ? 'picture' : stage.backdrop ? 'colour' : 'own';
  const picture = stage.backdropImage;
  const shape = (): void => {
    const image = new Image();
    image.onload = () => {
      // Even, as movies need it; the width stays.
      const height = 2 * Math.round((sheet.size.width * sheet.pixelAspect * image.naturalHeight) / image.naturalWidth / 2);
      onSize({ width: sheet.size.width, height });
    };
    image.src = `/api/textures/${picture!.file}`;
  };
  return (
    <section className="flex flex-col gap-2 border-t border-rule pt-3" aria-label="Backdrop">
      <h2 className="font-semibold">Backdrop</h2>
      <Select
        label="Behind everything"
        help="What the camera sees behind the subject. It lights nothing; what lights is the ready stage, daylight or a picture of light."
        value={kind}
        options={[
          { value: 'own', label: "the stage's own" },
          { value: 'colour', label: 'one colour' },
          ...(picture ? [{ value: 'picture', label: 'a picture' }] : []),
        ]}
        onValue={(v) => {
          if (v === 'own') onChange({ backdrop: undefined, backdropImage: undefined });
          if (v === 'colour') onChange({ backdrop: stage.backdrop ?? first, backdropImage: undefined });
        }}
      />
      {stage.backdrop && !picture && (
        <ColourField
          label="Backdrop colour"
          help="As #rrggbb: so it comes out in pictures, whatever the exposure and the curve."
          value={stage.backdrop}
          onValue={(backdrop) => onChange({ backdrop })}
        />
      )}
      {picture && (
        <img src={`/api/textures/${picture.file}`} alt="The picture behind everything" className="max-h-20 self-start border border-rule" />
      )}
      <div className="flex flex-wrap gap-2">
        <UploadButton<EnvironmentReply>
          path="/textures"
          accept=".png,.jpg,.jpeg,.webp"
          label="Backdrop picture"
          onReply={({ file }) => onChange({ backdropImage: { file }, backdrop: undefined })}
        >
          {picture ? 'Another picture' : 'Bring a picture'}
        </UploadButton>
        {picture && (
          <Button title="Makes the format sheet as high as the picture is for its width" onClick={shape}>
            Take its shape
          </Button>
        )}
      </div>
      {stage.environment?.visible && stage.backdrop && !stage.daylight && (
        <p className="text-sm text-ochre">No effect: the picture of light is seen behind the subject.</p>
      )}
    </section>
  );
}
