import { type ReactNode, useState } from 'react';
import { type OwnFinish, ownFinishSchema } from '../../../core/dress/dressing.js';
import { PictureFields } from './PictureFields.js';
import { ColourField } from '../../ui/ColourField.js';
import { Button, NumberField, TextField, Tick } from '../../ui/controls.js';

const FIRST_COLOUR = '#9a9c9e';

const NUMBERS = [
  ['metalness', 'Metal', '1 for bare metal, 0 for all else.'],
  ['roughness', 'Roughness', '0 mirrors, 1 is matt.'],
  ['transmission', 'Clear', 'The share of light that enters: 1 for glass.'],
  ['ior', 'Index', 'Refractive index: 1.5 glass, 1.33 water.'],
  ['coat', 'Lacquer', 'A clear coat over it, 0 to 1.'],
  ['translucency', 'Lets through', 'The share of diffuse light that passes, as through paper.'],
  ['glow', 'Glow', 'Strength of light that it gives in its colour.'],
] as const;

/** A finish of one's own, by its main values. */
export function OwnFinishForm({ taken, onMake }: { taken: string[]; onMake: (finish: OwnFinish) => string | null }): ReactNode {
  const [values, setValues] = useState<OwnFinish>(() => ownFinishSchema.parse({ name: `Finish ${taken.length + 1}`, colour: FIRST_COLOUR }));
  const [error, setError] = useState<string | null>(null);
  const change = (next: Partial<OwnFinish>): string | null => {
    const result = ownFinishSchema.safeParse({ ...values, ...next });
    if (!result.success) return result.error.issues[0]!.message;
    setValues(result.data);
    return null;
  };
  return (
    <div className="flex min-h-0 flex-col gap-2 overflow-auto">
      <TextField
        label="Name of the finish"
        help="How it is called in the schedule and in mattes."
        value={values.name}
        onValue={(name) => change({ name })}
      />
      <ColourField label="Colour" help="As #rrggbb." value={values.colour} onValue={(colour) => change({ colour })} />
      <div className="grid grid-cols-3 gap-2">
        {NUMBERS.map(([key, label, help]) => (
          <NumberField key={key} label={label} help={help} value={values[key]} step={0.05} onValue={(v) => change({ [key]: v })} />
        ))}
      </div>
      <PictureFields
        pictures={values.pictures ?? []}
        onChange={(pictures) =>
          change({
            pictures: pictures.length > 0 ? pictures : undefined,
            // A picture multiplies the colour: what nobody has chosen yet is not to darken it.
            ...(values.colour === FIRST_COLOUR && pictures.some((p) => p.slot === 'base') && { colour: '#ffffff' }),
          })
        }
      />
      <Tick label="A pane without thickness" help="Does not bend light." checked={values.thin} onChecked={(thin) => change({ thin })} />
      {error && (
        <p role="alert" className="text-sm text-ochre">
          {error}
        </p>
      )}
      <Button
        primary
        className="self-start"
        onClick={() =>
          setError(taken.includes(values.name) ? `There is a finish "${values.name}" already; name this one otherwise.` : onMake(values))
        }
      >
        Make and put on
      </Button>
    </div>
  );
}
