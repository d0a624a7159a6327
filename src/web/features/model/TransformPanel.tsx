/** How the set stands the model up: which way is up, on the ground, on a plinth. The file stays as it is. */
import { type ReactNode } from 'react';
import { type Bounds } from '../../../core/math/bounds.js';
import { LIBRARY } from '../../../core/materials/library.js';
import { type ModelTransform, transformedBounds, modelTransformSchema, type Plinth, UPWARDS } from '../../../core/model/modelTransform.js';
import { metres } from '../../app/format.js';
import { Button, NumberField, Select, Checkbox } from '../../ui/controls.js';

const AS_IMPORTED: ModelTransform = modelTransformSchema.parse({});

/** A plinth in proportion to what stands on it. */
function firstPlinth(bounds: Bounds): Plinth {
  const across = Math.max(bounds.max[0] - bounds.min[0], bounds.max[2] - bounds.min[2]);
  const round = (v: number): number => Number(v.toPrecision(2));
  return { height: round(across * 0.06), margin: round(across * 0.15), corner: round(across * 0.1), material: 'white paint' };
}

interface TransformPanelProps {
  place: ModelTransform | undefined;
  /** Of the subject as the file has it. */
  bounds: Bounds;
  onChange: (place: ModelTransform) => string | null;
}

export function TransformPanel({ place = AS_IMPORTED, bounds, onChange }: TransformPanelProps): ReactNode {
  const change = (values: Partial<ModelTransform>): string | null => onChange({ ...place, ...values });
  const { plinth } = place;
  const stood = transformedBounds(place, bounds);
  const setPlinth = (values: Partial<Plinth>): string | null => change({ plinth: { ...plinth!, ...values } });
  return (
    <section className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto px-4 py-3" aria-label="Place">
      <p className="text-sm text-graphite">For this set. The model's file is not changed, and undo takes any of it back.</p>
      <div className="grid grid-cols-3 gap-3">
        <Select
          label="Points up"
          help="The axis of the model, as it was read, that is turned upwards."
          value={place.up}
          options={UPWARDS.map((u) => ({ value: u, label: u.toUpperCase() }))}
          onValue={(up) => change({ up: up as ModelTransform['up'] })}
        />
        <NumberField
          label="Heading"
          help="Degrees counterclockwise seen from above."
          value={place.heading}
          quantity="angle"
          unit="°"
          step={15}
          decimals={2}
          onValue={(heading) => change({ heading })}
        />
        <NumberField
          label="Scale"
          help="What every length is multiplied by, for a file that stated the wrong unit: 0.001 for millimetres taken as metres."
          value={place.scale}
          step={0.1}
          decimals={6}
          onValue={(scale) => change({ scale })}
        />
      </div>
      <p className="num text-sm" data-testid="placed-size">
        {metres(stood)}, lowest at {stood.min[1].toFixed(3)} m
      </p>
      <Checkbox
        label="Sits on the ground"
        help="The lowest point comes to height 0."
        checked={place.ground || plinth !== undefined}
        onChecked={(ground) => change({ ground })}
      />
      {plinth && <p className="text-sm text-graphite">On a plinth it stands in any case.</p>}
      <Checkbox
        label="Centred"
        help="The middle of its box comes over the origin."
        checked={place.centre}
        onChecked={(centre) => change({ centre })}
      />
      <Checkbox
        label="On a plinth"
        help="A block under it, with rounded corners. It does not turn with the subject."
        checked={plinth !== undefined}
        onChecked={(on) => change({ plinth: on ? firstPlinth(stood) : undefined })}
      />
      {plinth && (
        <div className="grid grid-cols-3 gap-3">
          <NumberField
            label="Plinth height"
            help="Metres."
            value={plinth.height}
            quantity="length"
            unit="m"
            step={0.01}
            decimals={4}
            onValue={(height) => setPlinth({ height })}
          />
          <NumberField
            label="Margin"
            help="How far it stands out beyond the subject on every side."
            value={plinth.margin}
            quantity="length"
            unit="m"
            step={0.01}
            decimals={4}
            onValue={(margin) => setPlinth({ margin })}
          />
          <NumberField
            label="Corners"
            help="Radius of the upright corners; the upper edge is broken by a quarter of it."
            value={plinth.corner}
            quantity="length"
            unit="m"
            step={0.01}
            decimals={4}
            onValue={(corner) => setPlinth({ corner })}
          />
          <div className="col-span-3">
            <Select
              label="Finish of the plinth"
              help="One of the library's."
              value={plinth.material}
              options={LIBRARY.map((l) => ({ value: l.material.name, label: l.material.name }))}
              onValue={(material) => setPlinth({ material })}
            />
          </div>
        </div>
      )}
      <Button className="self-start" onClick={() => onChange(AS_IMPORTED)}>
        As the file has it
      </Button>
    </section>
  );
}
