import { fieldProblem } from '../../../core/base/issues.js';
import { type ReactNode, useState } from 'react';
import { type CustomMaterial, customMaterialSchema } from '../../../core/materials/customMaterial.js';
import { ColourField } from '../../ui/ColourField.js';
import { Button, NumberField, TextField, Checkbox } from '../../ui/controls.js';
import { type ColourValue, MAIN_VALUES, MORE_VALUES, type NumberValue } from './materialValues.js';
import { TextureFields } from './TextureFields.js';
import { HELP, LABELS, MESSAGES } from './materialWords.js';

const FIRST_COLOUR = '#9a9c9e';
/** Metres after which a body shows its tint, before anybody says otherwise. */
const FIRST_DEPTH = 0.01;

interface CustomMaterialFormProps {
  /** Names that are given already. */
  taken: string[];
  /** The material that is changed; absent where a new one is made. */
  initial?: CustomMaterial;
  /** Returns what is wrong, or null. */
  onMake: (material: CustomMaterial) => string | null;
}

/** A custom material, by every value that the engine knows. */
export function CustomMaterialForm({ taken, initial, onMake }: CustomMaterialFormProps): ReactNode {
  const [values, setValues] = useState<CustomMaterial>(
    () => initial ?? customMaterialSchema.parse({ name: LABELS.materialNamed(taken.length + 1), colour: FIRST_COLOUR }),
  );
  const [error, setError] = useState<string | null>(null);
  const change = (next: Partial<CustomMaterial>): string | null => {
    const result = customMaterialSchema.safeParse({ ...values, ...next });
    if (!result.success) return fieldProblem(result.error);
    setValues(result.data);
    return null;
  };
  const field = (v: NumberValue | ColourValue): ReactNode =>
    v.kind === 'number' ? (
      <NumberField
        key={v.key}
        label={v.label}
        help={v.help}
        value={values[v.key] ?? v.usual}
        step={v.step ?? 0.05}
        {...(v.unit && { unit: v.unit, quantity: 'angle' as const, decimals: 1 })}
        onValue={(n) => change({ [v.key]: v.key === 'cutoff' && n === 0 ? undefined : n })}
      />
    ) : (
      <ColourField
        key={v.key}
        label={v.label}
        help={v.help}
        value={values[v.key] ?? v.usual}
        onValue={(c) => change({ [v.key]: v.key === 'glowColour' && c === v.usual ? undefined : c })}
      />
    );
  return (
    <div className="flex min-h-0 flex-col gap-2 overflow-auto">
      <TextField label={LABELS.materialName} help={HELP.materialName} value={values.name} onValue={(name) => change({ name })} />
      <ColourField label={LABELS.colour} help={HELP.colour} value={values.colour} onValue={(colour) => change({ colour })} />
      <div className="grid grid-cols-3 gap-2">{MAIN_VALUES.map(field)}</div>
      <TextureFields
        pictures={values.textureFiles ?? []}
        onChange={(pictures) =>
          change({
            textureFiles: pictures.length > 0 ? pictures : undefined,
            // A picture multiplies the colour: what nobody has chosen yet is not to darken it.
            ...(values.colour === FIRST_COLOUR && pictures.some((p) => p.slot === 'base') && { colour: '#ffffff' }),
          })
        }
      />
      <div className="flex flex-wrap gap-x-4">
        <Checkbox label={LABELS.thinWall} help={HELP.thinWall} checked={values.thin} onChecked={(thin) => change({ thin })} />
        <Checkbox
          label={LABELS.unlit}
          help={HELP.unlit}
          checked={values.unlit ?? false}
          onChecked={(unlit) => change({ unlit: unlit || undefined })}
        />
      </div>
      <details className="border-t border-rule pt-1">
        <summary className="cursor-default text-sm text-graphite">{LABELS.tint}</summary>
        <div className="flex flex-col gap-2 pt-1">
          <Checkbox
            label={LABELS.absorption}
            help={HELP.absorption}
            checked={values.tint !== undefined}
            onChecked={(on) => change({ tint: on ? { colour: '#7fbf9f', depth: FIRST_DEPTH } : undefined })}
          />
          {values.tint && (
            <div className="grid grid-cols-[minmax(0,2fr)_minmax(0,1fr)] gap-2">
              <ColourField
                label={LABELS.absorptionColour}
                help={HELP.absorptionColour}
                value={values.tint.colour}
                onValue={(colour) => change({ tint: { ...values.tint!, colour } })}
              />
              <NumberField
                label={LABELS.absorptionDepth}
                help={HELP.absorptionDepth}
                quantity="length"
                unit="m"
                decimals={4}
                step={0.005}
                value={values.tint.depth}
                onValue={(depth) => change({ tint: { ...values.tint!, depth } })}
              />
            </div>
          )}
        </div>
      </details>
      {MORE_VALUES.map(({ title, values: list }) => (
        <details key={title} className="border-t border-rule pt-1">
          <summary className="cursor-default text-sm text-graphite">{title}</summary>
          <div className="grid grid-cols-3 gap-2 pt-1">{list.filter((v) => v.kind === 'number').map(field)}</div>
          <div className="flex flex-col gap-2 pt-2">{list.filter((v) => v.kind === 'colour').map(field)}</div>
        </details>
      ))}
      {error && (
        <p role="alert" className="text-sm text-ochre">
          {error}
        </p>
      )}
      <Button
        primary
        className="self-start"
        onClick={() =>
          setError(taken.includes(values.name) && values.name !== initial?.name ? MESSAGES.thereIsAlreadyA(values.name) : onMake(values))
        }
      >
        {initial ? LABELS.saveChanges : LABELS.createAndAssign}
      </Button>
    </div>
  );
}
