/** How traced light becomes a picture: exposure, white, tone curve, glow. Nothing is traced again for it. */
import { type ReactNode, useState } from 'react';
import useSWR from 'swr';
import { type MeterReply } from '../../../contract/contract.js';
import { type CameraExposure, ev100OfCamera, ev100OfStops, exposureWarning, stopsOfEv100, shutterTimeOf } from '../../../core/image/exposure.js';
import { type Grade } from '../../../core/image/grade.js';
import { CURVE_LIST, CURVES } from '../../../core/image/tone.js';
import { get } from '../../state/api.js';
import { Button, NumberField, Select, Checkbox } from '../../ui/controls.js';

const FIRST_GLOW = { strength: 0.15, reach: 0.02 };

/** Two figures are enough of what is off by tens and thousands. */
const times = (n: number): string => Number(n.toPrecision(2)).toLocaleString('en');

/** The same exposure as EV100, or as aperture, time and sensitivity of a camera. */
function CameraFields({ stops, onStops }: { stops: number; onStops: (stops: number) => string | null }): ReactNode {
  const [camera, setCamera] = useState({ aperture: 8, sensitivity: 100 });
  const ev = ev100OfStops(stops);
  const time = shutterTimeOf(ev, camera);
  const change = (values: Partial<CameraExposure>): string | null => {
    const next = { ...camera, time, ...values };
    if (!(next.aperture > 0 && next.time > 0 && next.sensitivity > 0)) return 'Write a number above 0.';
    const problem = onStops(stopsOfEv100(ev100OfCamera(next)));
    if (!problem) setCamera({ aperture: next.aperture, sensitivity: next.sensitivity });
    return problem;
  };
  return (
    <div className="grid grid-cols-4 gap-x-3">
      <NumberField
        label="EV100"
        help="Exposure value at ISO 100: about 15 in full sun, 12 under cloud, 8 indoors (common practice)."
        value={ev}
        decimals={2}
        step={0.25}
        onValue={(v) => onStops(stopsOfEv100(v))}
      />
      <NumberField
        label="f-number"
        help="Of exposure alone; blur with distance is set with the view."
        value={camera.aperture}
        decimals={1}
        onValue={(aperture) => change({ aperture })}
      />
      <NumberField
        label="1/time"
        help="One over the seconds that the shutter is open, for exposure alone."
        value={1 / time}
        decimals={0}
        unit="s⁻¹"
        onValue={(v) => change({ time: 1 / v })}
      />
      <NumberField
        label="ISO"
        help="Sensitivity."
        value={camera.sensitivity}
        decimals={0}
        step={100}
        onValue={(sensitivity) => change({ sensitivity })}
      />
    </div>
  );
}

export function GradeFields({
  grade,
  daylight,
  meterUrl,
  onChange,
}: {
  grade: Grade;
  /** Light is in lux, so that a camera's numbers can be given too. */
  daylight: boolean;
  /** Where the server measures the view that is looked at. */
  meterUrl: string;
  onChange: (grade: Grade) => string | null;
}): ReactNode {
  const change = (values: Partial<Grade>): string | null => onChange({ ...grade, ...values });
  const { data, error, isLoading } = useSWR<MeterReply, Error>(meterUrl, get, { keepPreviousData: true, revalidateOnFocus: false });
  const off = data ? exposureWarning(grade.exposure, data.exposure) : null;
  return (
    <section className="flex flex-col gap-3 border-t border-rule pt-3" aria-label="Exposure">
      <h2 className="font-semibold">Exposure</h2>
      <div className="grid grid-cols-[minmax(0,1fr)_auto] items-end gap-3">
        <NumberField
          label="Stops"
          help="Twice as bright each. One number for the whole set, so that its pictures match; nothing is traced again."
          value={grade.exposure}
          step={0.25}
          decimals={2}
          unit="EV"
          onValue={(exposure) => change({ exposure })}
        />
        <Button
          onClick={() => data && change({ exposure: Math.round(data.exposure * 100) / 100 })}
          disabled={!data}
          title="Brings this view's mean light to a bright middle, and keeps that number for the set"
        >
          {isLoading && !data ? 'Measuring …' : 'As measured'}
        </Button>
      </div>
      {data && (
        <p className="num text-sm text-graphite">
          this view asks for {data.exposure >= 0 ? '+' : ''}
          {data.exposure.toFixed(1)} EV
        </p>
      )}
      {error && <p className="text-sm text-ochre">{error.message}</p>}
      {off !== null && (
        <p className="text-sm text-ochre">
          The light is far off: about {off > 1 ? `${times(off)} times too bright` : `${times(1 / off)} times too dark`} at this exposure. Take it as
          measured, or change the strength of lamps and surround.
        </p>
      )}
      {daylight && <CameraFields stops={grade.exposure} onStops={(exposure) => change({ exposure: Math.round(exposure * 1000) / 1000 })} />}
      <NumberField
        label="White balance"
        help="Light of this colour temperature comes out neutral: lower for lamplight, 6500 changes nothing."
        value={grade.whiteBalance}
        step={100}
        decimals={0}
        unit="K"
        onValue={(whiteBalance) => change({ whiteBalance })}
      />
      <Select
        label="Tone curve"
        help="How the light of a scene is brought to what a screen can show. Named by its publication."
        value={grade.curve}
        options={CURVES.map((value) => ({ value, label: CURVE_LIST[value].label }))}
        onValue={(curve) => change({ curve: curve as Grade['curve'] })}
      />
      <Checkbox
        label="Glow around what is brighter than white"
        help="A veil, as in an eye or a lens. Seen in the live picture and in renders."
        checked={grade.glow !== undefined}
        onChecked={(on) => change({ glow: on ? FIRST_GLOW : undefined })}
      />
      {grade.glow && (
        <div className="grid grid-cols-2 gap-3">
          <NumberField
            label="Glow strength"
            help="Share of the bright light that goes into the veil, 0 to 1."
            value={grade.glow.strength}
            step={0.05}
            decimals={3}
            onValue={(strength) => change({ glow: { ...grade.glow!, strength } })}
          />
          <NumberField
            label="Glow reach"
            help="How far it spreads, as a share of the picture's long side, up to 0.2."
            value={grade.glow.reach}
            step={0.005}
            decimals={3}
            onValue={(reach) => change({ glow: { ...grade.glow!, reach } })}
          />
        </div>
      )}
    </section>
  );
}
