/** How traced light becomes a picture: exposure, white, tone curve, glow. Nothing is traced again for it. */
import { type ReactNode, useState } from 'react';
import useSWR from 'swr';
import type { MeterReply } from '../../../contract/contract.js';
import { type CameraExposure, ev100OfCamera, ev100OfStops, exposureWarning, stopsOfEv100, shutterTimeOf } from '../../../core/image/exposure.js';
import type { Grade } from '../../../core/image/grade.js';
import type { PassId } from '../../../core/image/passes.js';
import { get } from '../../state/api.js';
import { ExposureField, GradeControls } from '../../forms/GradeControls.js';
import { Button, NumberField } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Two figures are enough of what is off by tens and thousands. */
const times = (n: number): string => Number(n.toPrecision(2)).toLocaleString('en');

/** The same exposure as EV100, or as aperture, time and sensitivity of a camera. */
function CameraFields({ stops, onStops }: { stops: number; onStops: (stops: number) => string | null }): ReactNode {
  const [camera, setCamera] = useState({ aperture: 8, sensitivity: 100 });
  const ev = ev100OfStops(stops);
  const time = shutterTimeOf(ev, camera);
  const change = (values: Partial<CameraExposure>): string | null => {
    const next = { ...camera, time, ...values };
    if (!(next.aperture > 0 && next.time > 0 && next.sensitivity > 0)) return MESSAGES.writeANumberAbove;
    const problem = onStops(stopsOfEv100(ev100OfCamera(next)));
    if (!problem) setCamera({ aperture: next.aperture, sensitivity: next.sensitivity });
    return problem;
  };
  return (
    <div className="grid grid-cols-4 gap-x-3">
      <NumberField label={LABELS.ev100} help={HELP.ev100} value={ev} decimals={2} step={0.25} onValue={(v) => onStops(stopsOfEv100(v))} />
      <NumberField label={LABELS.fNumber} help={HELP.fNumber} value={camera.aperture} decimals={1} onValue={(aperture) => change({ aperture })} />
      <NumberField label={LABELS.shutter1S} help={HELP.shutter1S} value={1 / time} decimals={0} unit="s⁻¹" onValue={(v) => change({ time: 1 / v })} />
      <NumberField
        label={LABELS.iso}
        help={HELP.iso}
        value={camera.sensitivity}
        decimals={0}
        step={100}
        onValue={(sensitivity) => change({ sensitivity })}
      />
    </div>
  );
}

/** What is done to the light before it is displayed. */
export function GradeFields({
  grade,
  daylight,
  meterUrl,
  passes,
  onChange,
}: {
  grade: Grade;
  /** Light is in lux, so that a camera's numbers can be given too. */
  daylight: boolean;
  /** Where the server measures the view that is looked at. */
  meterUrl: string;
  /** Passes that renders have. */
  passes: readonly PassId[];
  onChange: (grade: Grade) => string | null;
}): ReactNode {
  const change = (values: Partial<Grade>): string | null => onChange({ ...grade, ...values });
  const { data, error, isLoading } = useSWR<MeterReply, Error>(meterUrl, get, { keepPreviousData: true, revalidateOnFocus: false });
  const off = data ? exposureWarning(grade.exposure, data.exposure) : null;
  return (
    <section className="flex flex-col gap-3 border-t border-rule pt-3" aria-label={LABELS.exposure}>
      <h2 className="font-semibold">{LABELS.exposure}</h2>
      <div className="grid grid-cols-[minmax(0,1fr)_auto] items-end gap-3">
        <ExposureField exposure={grade.exposure} onExposure={(exposure) => change({ exposure })} />
        <Button onClick={() => data && change({ exposure: Math.round(data.exposure * 100) / 100 })} disabled={!data} title={HELP.setsTheExposureOf}>
          {isLoading && !data ? MESSAGES.measuring : LABELS.autoExposure}
        </Button>
      </div>
      {data && <p className="num text-sm text-graphite">{MESSAGES.suggestedEv(data.exposure >= 0 ? '+' : '', data.exposure.toFixed(1))}</p>}
      {error && <p className="text-sm text-ochre">{error.message}</p>}
      {off !== null && (
        <p className="text-sm text-ochre">
          {MESSAGES.exposureIsFarOff(off > 1 ? LABELS.timesTooBright(times(off)) : LABELS.timesTooDark(times(1 / off)))}
        </p>
      )}
      {daylight && <CameraFields stops={grade.exposure} onStops={(exposure) => change({ exposure: Math.round(exposure * 1000) / 1000 })} />}
      <GradeControls grade={grade} passes={passes} put={change} />
    </section>
  );
}
