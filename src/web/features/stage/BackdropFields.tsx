/** What stands behind everything: the stage's own backdrop, one colour, or a picture. It lights nothing. */
import type { ReactNode } from 'react';
import type { EnvironmentReply } from '../../../contract/contract.js';
import type { StageSettings } from '../../../core/stage/stage.js';
import type { FormatSheet } from '../../../core/plan/formatSheet.js';
import { ColourField } from '../../ui/ColourField.js';
import { Button, Select } from '../../ui/controls.js';
import { NoEffectNote } from '../../forms/SettingsOf.js';
import { UploadButton } from '../../ui/UploadButton.js';
import { HELP, LABELS } from './words.js';

const STOPS = [
  ['top', LABELS.gradientTop],
  ['middle', LABELS.gradientMiddle],
  ['bottom', LABELS.gradientBottom],
] as const;

/** The backdrop, and how it is changed. */
export interface BackdropFieldsProps {
  stage: StageSettings;
  /** The stage preset's own colour, to begin with. */
  first: string;
  sheet: FormatSheet;
  onChange: (values: Partial<StageSettings>) => string | null;
  onSize: (size: FormatSheet['size']) => void;
}

/** What stands behind the subject. */
export function BackdropFields({ stage, first, sheet, onChange, onSize }: BackdropFieldsProps): ReactNode {
  const kind = stage.backdropImage ? 'picture' : stage.backdropGradient ? 'gradient' : stage.backdrop ? 'colour' : 'own';
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
    <section className="flex flex-col gap-2 border-t border-rule pt-3" aria-label={LABELS.backdrop}>
      <h2 className="font-semibold">{LABELS.backdrop}</h2>
      <Select
        label={LABELS.backdrop}
        help={HELP.backdrop}
        value={kind}
        options={[
          { value: 'own', label: LABELS.fromTheStagePreset },
          { value: 'colour', label: LABELS.colour },
          { value: 'gradient', label: LABELS.gradient },
          ...(picture ? [{ value: 'picture', label: LABELS.image }] : []),
        ]}
        onValue={(v) => {
          if (v === 'own') onChange({ backdrop: undefined, backdropGradient: undefined, backdropImage: undefined });
          if (v === 'colour') onChange({ backdrop: stage.backdropGradient?.middle ?? first, backdropGradient: undefined, backdropImage: undefined });
          if (v === 'gradient') {
            const middle = stage.backdrop ?? first;
            onChange({ backdrop: undefined, backdropGradient: { top: middle, middle, bottom: middle }, backdropImage: undefined });
          }
        }}
      />
      {stage.backdrop && !picture && (
        <ColourField label={LABELS.backdropColour} help={HELP.backdropColour} value={stage.backdrop} onValue={(backdrop) => onChange({ backdrop })} />
      )}
      {stage.backdropGradient &&
        !picture &&
        STOPS.map(([stop, label]) => (
          <ColourField
            key={stop}
            label={label}
            help={HELP.gradientStop}
            value={stage.backdropGradient![stop]}
            onValue={(colour) => onChange({ backdropGradient: { ...stage.backdropGradient!, [stop]: colour } })}
          />
        ))}
      {picture && <img src={`/api/textures/${picture.file}`} alt={LABELS.backdropImage} className="max-h-20 self-start border border-rule" />}
      <div className="flex flex-wrap gap-2">
        <UploadButton<EnvironmentReply>
          path="/textures"
          accept=".png,.jpg,.jpeg,.webp"
          label={LABELS.backdropImage}
          onReply={({ file }) => onChange({ backdropImage: { file }, backdrop: undefined, backdropGradient: undefined })}
        >
          {picture ? LABELS.replaceImage : LABELS.uploadImage}
        </UploadButton>
        {picture && (
          <Button title={HELP.setsTheAspectOf} onClick={shape}>
            {LABELS.matchImageAspect}
          </Button>
        )}
      </div>
      <NoEffectNote setting="stage.backdrop" />
    </section>
  );
}
