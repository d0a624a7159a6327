import type { ReactNode } from 'react';
import type { Vec3 } from '../../../../core/math/bounds.js';
import { pathSeconds } from '../../../../core/shots/stationTiming.js';
import { segmentFrames, walkOf, type WalkthroughShot } from '../../../../core/shots/walkthrough/walkthrough.js';
import { useWorkspace } from '../../../app/workspace.js';
import { type FieldSpec, FormFields } from '../../../forms/FormFields.js';
import type { FieldsProps } from '../fieldsProps.js';
import { effectiveSettings } from '../../../../core/plan/formatSheet.js';
import { parseRate } from '../../../../core/units/rate.js';
import { useRenderSelection } from '../renderSelection.js';
import { Stations } from '../Stations.js';
import { LookFields } from './LookFields.js';
import { PathFile } from './PathFile.js';
import { type Station, WalkStation } from './WalkStation.js';
import { HELP, LABELS } from './words.js';

const NUMBERS: readonly FieldSpec<WalkthroughShot>[] = [
  { kind: 'number', key: 'pace', label: LABELS.walkingSpeed, help: HELP.walkingSpeed, unit: 'm/s', step: 0.1, decimals: 2 },
  { kind: 'number', key: 'focalLength', label: LABELS.focalLength, help: HELP.focalLength, quantity: 'focal', unit: 'mm', decimals: 1 },
];
const SWITCHES: readonly FieldSpec<WalkthroughShot>[] = [
  { kind: 'checkbox', key: 'closed', label: LABELS.roundTrip, help: HELP.roundTrip },
  { kind: 'checkbox', key: 'ease', label: LABELS.easeInOut, help: HELP.easeInOut },
  { kind: 'checkbox', key: 'keepVerticals', label: LABELS.keepVerticalsStraight, help: HELP.keepVerticalsStraight },
];

/** Fields of a walkthrough. */
export function Walkthrough({ shot, put }: FieldsProps<WalkthroughShot>): ReactNode {
  const { plan } = useWorkspace();
  const { views } = plan!.file;
  const walk = walkOf(shot, views);
  const sheet = effectiveSettings(plan!.file.sheet, shot);
  const segments = segmentFrames(shot, views, parseRate(sheet.rate));
  const select = useRenderSelection();
  /** Frames of the segment that leads to a station, as a selection; null where it has none. */
  const rangeTo = (i: number): string | null => {
    const range = segments[i === 0 ? segments.length - 1 : i - 1];
    return range
      ? range[0] === range[1]
        ? String(range[0] + sheet.firstNumber)
        : `${range[0] + sheet.firstNumber}-${range[1] + sheet.firstNumber}`
      : null;
  };
  const change = (i: number, values: Partial<Station>): string | null =>
    put({ ...shot, stations: shot.stations.map((s, k) => (k === i ? { ...s, ...values } : s)) });
  const add = (): void => {
    const n = walk.eyes.length;
    const [a, b] = [walk.eyes[n - 2]!, walk.eyes[n - 1]!];
    const eye = b.map((v, k) => Math.round((v + (v - a[k]!) * 0.5) * 1000) / 1000) as Vec3;
    const target = walk.targets[n - 1];
    put({ ...shot, stations: [...shot.stations, { eye, hold: 0, ...(shot.look === 'stations' && target && { target }) }] });
  };
  return (
    <>
      <PathFile shot={shot} put={put} views={views} />
      <p className="num text-sm text-graphite">
        {walk.legs.reduce((sum, l) => sum + l.length, 0).toFixed(2)} m · {pathSeconds(walk.stations).toFixed(2)} s
      </p>
      <LookFields shot={shot} put={put} views={views} />
      <div className="grid grid-cols-2 gap-x-4 gap-y-2">
        <FormFields fields={NUMBERS} values={shot} put={(values) => put({ ...shot, ...values })} />
      </div>
      <div className="flex flex-wrap gap-x-3">
        <FormFields fields={SWITCHES} values={shot} put={(values) => put({ ...shot, ...values })} />
      </div>
      <Stations
        count={shot.stations.length}
        least={2}
        onAdd={add}
        onRemove={(i) =>
          put({
            ...shot,
            stations: shot.stations
              .filter((_, k) => k !== i)
              .map((s, k) => (k === 0 && !shot.closed ? { ...s, seconds: undefined, out: undefined } : s)),
          })
        }
      >
        {(i) => {
          const range = rangeTo(i);
          return (
            <WalkStation
              shot={shot}
              walk={walk}
              views={views}
              at={i}
              onChange={(values) => change(i, values)}
              onRender={range === null ? undefined : () => select(shot.id, range)}
            />
          );
        }}
      </Stations>
    </>
  );
}
