/** Sun and sky of the stage: day, time, kind of sky; or the sun where one puts it. */
import { fieldProblem } from '../../../core/base/issues.js';
import { type ReactNode } from 'react';
import { clockSchema, type LocalDateTime, dateSchema, instantOf } from '../../../core/units/localTime.js';
import { type Daylight, daylightOf } from '../../../core/stage/daylight.js';
import { type Site } from '../../../core/stage/site.js';
import { CONDITIONS, TRADITIONAL_OVERCAST, TYPE_OF } from '../../../core/stage/sky.js';
import { NumberField, Select, TextField, Checkbox } from '../../ui/controls.js';

const TYPE_WORDS = [
  'overcast, steep, even all round',
  'overcast, steep, brighter to the sun',
  'overcast, moderate, even all round',
  'overcast, moderate, brighter to the sun',
  'overcast, uniform',
  'cloudy, brighter to the sun',
  'cloudy, much brighter to the sun',
  'cloudy, with a corona',
  'sun veiled, the sky cloudy',
  'sun veiled, bright around it',
  'white-blue, with a corona',
  'clear, clean air',
  'clear, hazy air',
  'cloudless, turbid, broad corona',
  'white-blue, turbid, broad corona',
  'traditional overcast',
];

const lux = (klx: number): string => (klx >= 1 ? `${klx.toFixed(1)} klx` : `${(klx * 1000).toFixed(klx < 0.01 ? 2 : 0)} lx`);

export function DaylightFields({
  daylight,
  site,
  onChange,
}: {
  daylight: Daylight;
  site: Site;
  onChange: (daylight: Daylight) => string | null;
}): ReactNode {
  const change = (values: Partial<Daylight>): string | null => onChange({ ...daylight, ...values });
  const light = daylightOf(daylight, site);
  const { sun } = light;
  const setTime = (civil: LocalDateTime): string | null => {
    try {
      instantOf(civil, site.timeZone);
    } catch (e) {
      return (e as Error).message;
    }
    return change(civil);
  };
  const doubled = !daylight.manualSun && instantOf(daylight, site.timeZone).doubled;
  return (
    <section className="flex flex-col gap-2 border-t border-rule pt-3" aria-label="Daylight">
      <h2 className="font-semibold">Sun and sky</h2>
      <div className="grid grid-cols-2 gap-x-3 gap-y-2">
        <TextField
          label="Date"
          help="Civil day of the site, as 2026-06-21."
          mono
          value={daylight.date}
          onValue={(date) => {
            const read = dateSchema.safeParse(date);
            return read.success ? setTime({ date: read.data, time: daylight.time }) : fieldProblem(read.error);
          }}
        />
        <TextField
          label="Time"
          help="By the clocks of the site, as 15:30. The sun in the diagram can be dragged too."
          mono
          value={daylight.time}
          onValue={(time) => {
            const read = clockSchema.safeParse(/^\d:/.test(time) ? `0${time}` : time);
            return read.success ? setTime({ date: daylight.date, time: read.data }) : fieldProblem(read.error);
          }}
        />
      </div>
      {doubled && (
        <Checkbox
          label="The second of two such hours"
          help="Clocks are put back that night, so this time comes twice."
          checked={daylight.later === true}
          onChecked={(later) => change({ later: later || undefined })}
        />
      )}
      <Checkbox
        label="Sun where I put it"
        help="For effect: azimuth and altitude by hand, whatever place and time."
        checked={daylight.manualSun !== undefined}
        onChecked={(on) =>
          change({
            manualSun: on ? { azimuth: Math.round(sun.azimuth * 10) / 10, altitude: Math.max(-6, Math.round(sun.altitude * 10) / 10) } : undefined,
          })
        }
      />
      {daylight.manualSun && (
        <>
          <p className="text-sm text-ochre">Date and time have no effect while the sun is put by hand.</p>
          <div className="grid grid-cols-2 gap-x-3">
            <NumberField
              label="Azimuth"
              help="Degrees clockwise from true north."
              value={daylight.manualSun.azimuth}
              quantity="angle"
              unit="°"
              decimals={1}
              onValue={(azimuth) => change({ manualSun: { ...daylight.manualSun!, azimuth } })}
            />
            <NumberField
              label="Altitude"
              help="Degrees above the horizon, −6 to 90."
              value={daylight.manualSun.altitude}
              quantity="angle"
              unit="°"
              decimals={1}
              onValue={(altitude) => change({ manualSun: { ...daylight.manualSun!, altitude } })}
            />
          </div>
        </>
      )}
      <Select
        label="Sky"
        help="How much light sun and sky give (IES daylight availability), and which CIE sky spreads it unless another is chosen."
        value={daylight.sky}
        options={CONDITIONS.map((value) => ({ value, label: value }))}
        onValue={(sky) => change({ sky: sky as Daylight['sky'], type: undefined })}
      />
      <Select
        label="Spread of the sky's light"
        help="One of the general skies of CIE S 011 / ISO 15469."
        value={String(daylight.type ?? TYPE_OF[daylight.sky])}
        options={TYPE_WORDS.map((words, i) => ({
          value: String(i + 1),
          label: i + 1 === TRADITIONAL_OVERCAST ? words : `${i + 1} ${words}`,
        }))}
        onValue={(type) => change({ type: Number(type) === TYPE_OF[daylight.sky] ? undefined : Number(type) })}
      />
      <div className="grid grid-cols-2 gap-x-3 gap-y-2">
        <NumberField
          label="Haze"
          help="Turbidity, 1.7 to 10: colours a clear sky and the sun; the lux stay."
          value={daylight.turbidity}
          step={0.5}
          decimals={1}
          onValue={(turbidity) => change({ turbidity })}
        />
        <NumberField
          label="Sun's disc"
          help="Degrees across: 0.53 in nature, 0 for sharp shadows."
          value={daylight.disc}
          quantity="angle"
          unit="°"
          step={0.1}
          decimals={2}
          onValue={(disc) => change({ disc })}
        />
      </div>
      <dl className="grid grid-cols-[auto_1fr] gap-x-3 text-sm" data-testid="daylight-lux">
        <dt className="text-graphite">sun</dt>
        <dd className="num">
          {sun.azimuth.toFixed(1)}° · {sun.altitude.toFixed(1)}° up
        </dd>
        <dt className="text-graphite">its beam</dt>
        <dd className="num">{light.light ? lux(light.lux.sun) : 'none'}</dd>
        <dt className="text-graphite">the sky</dt>
        <dd className="num">{lux(light.lux.sky)}</dd>
        <dt className="text-graphite">level ground</dt>
        <dd className="num">{lux(light.lux.level)}</dd>
      </dl>
      {sun.altitude <= 0 && (
        <p role="status" className="text-sm text-ochre">
          The sun is {Math.abs(sun.altitude).toFixed(1)}° below the horizon: only its glow lights the picture.
        </p>
      )}
    </section>
  );
}
