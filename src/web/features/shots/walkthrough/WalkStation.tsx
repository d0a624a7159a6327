import type { ReactNode } from 'react';
import type { View } from '../../../../core/camera/view.js';
import type { walkOf, WalkthroughShot } from '../../../../core/shots/walkthrough/walkthrough.js';
import { Checkbox, NumberField, Select } from '../../../ui/controls.js';
import { HELP, LABELS } from './words.js';

/** A station of a walkthrough, as the set has it. */
export type Station = WalkthroughShot['stations'][number];

const BY_ITSELF = '-';

/** The fields of one station, and of the way to it. */
export function WalkStation(props: {
  shot: WalkthroughShot;
  walk: ReturnType<typeof walkOf>;
  views: View[];
  /** Which station, from 0. */
  at: number;
  onChange(values: Partial<Station>): string | null;
  /** Renders the way to it alone; undefined where none leads there. */
  onRender: (() => void) | undefined;
}): ReactNode {
  const { shot, walk, views, at: i, onChange: change, onRender } = props;
  const station = shot.stations[i]!;
  const eye = walk.eyes[i]!;
  return (
    <div className="grid grid-cols-3 gap-x-2 gap-y-1">
      <div className="col-span-3">
        <Select
          label={LABELS.position}
          help={HELP.position}
          value={station.view ?? BY_ITSELF}
          options={[{ value: BY_ITSELF, label: LABELS.free }, ...views.map((v) => ({ value: v.id, label: LABELS.at(v.name) }))]}
          onValue={(v) => change(v === BY_ITSELF ? { view: undefined, eye } : { view: v, eye: undefined, target: undefined })}
        />
      </div>
      <NumberField
        label={LABELS.eyeHeight}
        help={HELP.eyeHeight}
        value={eye[1]}
        quantity="length"
        unit="m"
        disabled={station.view !== undefined}
        onValue={(y) => change({ eye: [eye[0], y, eye[2]] })}
      />
      <NumberField
        label={LABELS.segmentTime}
        help={HELP.segmentTime}
        value={i === 0 && !shot.closed ? 0 : walk.stations[i === 0 ? walk.stations.length - 1 : i]!.seconds}
        quantity="time"
        unit="s"
        decimals={2}
        disabled={i === 0 && !shot.closed}
        onValue={(seconds) => change({ seconds })}
      />
      <NumberField
        label={LABELS.hold}
        help={HELP.hold}
        value={station.hold}
        quantity="time"
        unit="s"
        decimals={2}
        onValue={(hold) => change({ hold })}
      />
      {(i > 0 || shot.closed) && (
        <div className="col-span-3">
          <Checkbox
            label={LABELS.skipSegment}
            help={HELP.skipSegment}
            checked={station.out === true}
            onChecked={(out) => change({ out: out || undefined })}
          />
          {onRender && (
            <button type="button" className="text-sm text-cobalt underline" title={HELP.renderSegment} onClick={onRender}>
              {LABELS.renderSegment}
            </button>
          )}
        </div>
      )}
    </div>
  );
}
