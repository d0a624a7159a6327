/** Hours of sun at a window's reference point, beside the levels of EN 17037. */
import { type ReactNode, useState } from 'react';
import useSWR from 'swr';
import type { WindowSunReply } from '../../../contract/daylight.js';
import { EXPOSURE_LEVELS } from '../../../core/stage/sunHours.js';
import { get } from '../../state/api.js';
import { NumberField } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './daylightWords.js';

/** The day and the point that are looked at. */
export interface WindowSunProps {
  setId: number;
  revision: number;
  date: string;
  version: string;
  /** Where the point stands at first. */
  start: [number, number, number];
}

/** When the sun reaches one point of the design. */
export function WindowSun({ setId, revision, date, version, start }: WindowSunProps): ReactNode {
  const [point, setPoint] = useState(start);
  const [minimum, setMinimum] = useState(10);
  const [x, y, z] = point;
  const { data, error } = useSWR<WindowSunReply, Error>(
    `/sets/${setId}/window-sun?revision=${revision}&date=${date}&step=5&minimum=${minimum}&x=${x}&y=${y}&z=${z}&v=${version}`,
    get,
    { keepPreviousData: true },
  );
  return (
    <div className="flex max-w-[330px] flex-col gap-2">
      <div className="grid grid-cols-4 gap-x-3">
        {(['x', 'y', 'z'] as const).map((axis, i) => (
          <NumberField
            key={axis}
            label={LABELS.point(axis)}
            help={HELP.referencePointOfThe}
            value={point[i]!}
            quantity="length"
            unit="m"
            onValue={(v) => {
              setPoint(point.map((c, k) => (k === i ? v : c)) as [number, number, number]);
              return null;
            }}
          />
        ))}
        <NumberField
          label={LABELS.minimumAltitude}
          help={HELP.minimumAltitude}
          value={minimum}
          quantity="angle"
          unit="°"
          decimals={1}
          onValue={(v) => {
            if (v < 0 || v > 60) return MESSAGES.from0To60;
            setMinimum(v);
            return null;
          }}
        />
      </div>
      {error && <p className="text-sm text-ochre">{error.message}</p>}
      {data && (
        <p data-testid="window-sun">
          <span className="num text-lg">{data.hours.toFixed(2)} h</span> {MESSAGES.ofSun}{' '}
          <b className={data.level === 'none' ? 'text-ochre' : 'text-sap'}>
            {data.level === 'none' ? LABELS.belowMinimumLevel : `level ${data.level}`}
          </b>
        </p>
      )}
      <p className="text-sm text-graphite">
        {MESSAGES.en17037OnA(EXPOSURE_LEVELS.map((l) => `${l.level} ${l.hours} h`).join(', '))}
        {data && !data.judged && <span className="text-ochre"> {MESSAGES.isNotOneOf(date)}</span>}
      </p>
    </div>
  );
}
