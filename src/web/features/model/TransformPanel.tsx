/** How the set stands the model up: which way is up, on the ground, on a plinth. The file stays as it is. */
import type { ReactNode } from 'react';
import type { Bounds } from '../../../core/math/bounds.js';
import { LIBRARY } from '../../../core/materials/library.js';
import { type ModelTransform, transformedBounds, modelTransformSchema, type Plinth, UPWARDS } from '../../../core/model/modelTransform.js';
import { metres } from '../../app/format.js';
import { type FieldSpec, FormFields } from '../../forms/FormFields.js';
import { Button, Checkbox } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const AS_IMPORTED: ModelTransform = modelTransformSchema.parse({});

/** A plinth in proportion to what stands on it. */
function firstPlinth(bounds: Bounds): Plinth {
  const across = Math.max(bounds.max[0] - bounds.min[0], bounds.max[2] - bounds.min[2]);
  const round = (v: number): number => Number(v.toPrecision(2));
  return { height: round(across * 0.06), margin: round(across * 0.15), corner: round(across * 0.1), material: LABELS.whitePaint };
}

interface TransformPanelProps {
  place: ModelTransform | undefined;
  /** Of the subject as the file has it. */
  bounds: Bounds;
  onChange: (place: ModelTransform) => string | null;
}

const TRANSFORM_FIELDS: readonly FieldSpec<ModelTransform>[] = [
  {
    key: 'up',
    kind: 'select',
    label: LABELS.upAxis,
    help: HELP.upAxisTheAxisOf,
    options: UPWARDS.map((u) => ({ value: u, label: u.toUpperCase() })),
  },
  { key: 'heading', kind: 'number', label: LABELS.heading, help: HELP.heading, quantity: 'angle', unit: '°', step: 15, decimals: 2 },
  { key: 'scale', kind: 'number', label: LABELS.scale, help: HELP.scale, step: 0.1, decimals: 6 },
];

const LENGTH = { kind: 'number', quantity: 'length', unit: 'm', step: 0.01, decimals: 4 } as const;
const PLINTH_FIELDS: readonly FieldSpec<Plinth>[] = [
  { key: 'height', label: LABELS.plinthHeight, help: HELP.plinthHeight, ...LENGTH },
  { key: 'margin', label: LABELS.margin, help: HELP.margin, ...LENGTH },
  { key: 'corner', label: LABELS.cornerRadius, help: HELP.cornerRadius, ...LENGTH },
  {
    key: 'material',
    kind: 'select',
    label: LABELS.plinthMaterial,
    help: HELP.plinthMaterial,
    options: LIBRARY.map((l) => ({ value: l.material.name, label: l.material.name })),
    className: 'col-span-3',
  },
];

/** How the model stands: upwards, turned, on the ground, on a plinth. */
export function TransformPanel({ place = AS_IMPORTED, bounds, onChange }: TransformPanelProps): ReactNode {
  const change = (values: Partial<ModelTransform>): string | null => onChange({ ...place, ...values });
  const { plinth } = place;
  const stood = transformedBounds(place, bounds);
  const setPlinth = (values: Partial<Plinth>): string | null => change({ plinth: { ...plinth!, ...values } });
  return (
    <section className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto px-4 py-3" aria-label={LABELS.position}>
      <p className="text-sm text-graphite">{MESSAGES.forThisSetThe}</p>
      <div className="grid grid-cols-3 gap-3">
        <FormFields fields={TRANSFORM_FIELDS} values={place} put={change} />
      </div>
      <p className="num text-sm" data-testid="placed-size">
        {MESSAGES.lowestPointAtM(metres(stood), stood.min[1].toFixed(3))}
      </p>
      <Checkbox
        label={LABELS.sitOnGround}
        help={HELP.sitOnGround}
        checked={place.ground || plinth !== undefined}
        onChecked={(ground) => change({ ground })}
      />
      {plinth && <p className="text-sm text-graphite">{MESSAGES.onAPlinthIt}</p>}
      <Checkbox label={LABELS.centreAtOrigin} help={HELP.centreAtOrigin} checked={place.centre} onChecked={(centre) => change({ centre })} />
      <Checkbox
        label={LABELS.plinth}
        help={HELP.plinth}
        checked={plinth !== undefined}
        onChecked={(on) => change({ plinth: on ? firstPlinth(stood) : undefined })}
      />
      {plinth && (
        <div className="grid grid-cols-3 gap-3">
          <FormFields fields={PLINTH_FIELDS} values={plinth} put={setPlinth} />
        </div>
      )}
      <Button className="self-start" onClick={() => onChange(AS_IMPORTED)}>
        {LABELS.resetToFile}
      </Button>
    </section>
  );
}
