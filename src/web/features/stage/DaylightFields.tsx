/** Sun and sky of the stage: day, time, kind of sky; or the sun where one puts it. */
import { fieldProblem } from '../../../core/base/issues.js';
import type { ReactNode } from 'react';
import { clockSchema, type LocalDateTime, dateSchema, instantOf } from '../../../core/units/localTime.js';
import { type Daylight, daylightOf } from '../../../core/stage/daylight.js';
import type { Site } from '../../../core/stage/site.js';
import { CONDITIONS, TRADITIONAL_OVERCAST, TYPE_OF } from '../../../core/stage/sky.js';
import { type FieldSpec, FormFields } from '../../forms/FormFields.js';
import { NoEffectNote } from '../../forms/SettingsOf.js';
import { Select, TextField, Checkbox } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './daylightWords.js';

const TYPE_WORDS = [
  MESSAGES.overcastSteepEvenAll,
  MESSAGES.overcastSteepBrighterTo,
  MESSAGES.overcastModerateEvenAll,
  MESSAGES.overcastModerateBrighterTo,
  LABELS.overcastUniform,
  MESSAGES.cloudyBrighterToThe,
  MESSAGES.cloudyMuchBrighterTo,
  LABELS.cloudyWithACorona,
  MESSAGES.sunVeiledTheSky,
  MESSAGES.sunVeiledBrightAround,
  LABELS.whiteBlueWithA,
  LABELS.clearCleanAir,
  LABELS.clearHazyAir,
  LABELS.cloudlessTurbidBroadCorona,
  LABELS.whiteBlueTurbidBroad,
  LABELS.traditionalOvercast,
];

const lux = (klx: number): string => (klx >= 1 ? `${klx.toFixed(1)} klx` : `${(klx * 1000).toFixed(klx < 0.01 ? 2 : 0)} lx`);

const AIR_AND_DISC: readonly FieldSpec<Daylight>[] = [
  { kind: 'number', key: 'turbidity', label: LABELS.turbidity, help: HELP.turbidity, setting: 'stage.turbidity', step: 0.5, decimals: 1 },
  { kind: 'number', key: 'disc', label: LABELS.sunDiameter, help: HELP.sunDiameter, quantity: 'angle', unit: '°', step: 0.1, decimals: 2 },
];
const BY_HAND: readonly FieldSpec<NonNullable<Daylight['manualSun']>>[] = [
  { kind: 'number', key: 'azimuth', label: LABELS.azimuth, help: HELP.azimuth, quantity: 'angle', unit: '°', decimals: 1 },
  { kind: 'number', key: 'altitude', label: LABELS.altitude, help: HELP.altitude, quantity: 'angle', unit: '°', decimals: 1 },
];

/** Day, hour and sky. */
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
    <section className="flex flex-col gap-2 border-t border-rule pt-3" aria-label={LABELS.daylight}>
      <h2 className="font-semibold">{LABELS.sunAndSky}</h2>
      <div className="grid grid-cols-2 gap-x-3 gap-y-2">
        <TextField
          label={LABELS.date}
          help={HELP.date}
          mono
          value={daylight.date}
          onValue={(date) => {
            const read = dateSchema.safeParse(date);
            return read.success ? setTime({ date: read.data, time: daylight.time }) : fieldProblem(read.error);
          }}
        />
        <TextField
          label={LABELS.time}
          help={HELP.time}
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
          label={LABELS.secondOccurrence}
          help={HELP.secondOccurrence}
          checked={daylight.later === true}
          onChecked={(later) => change({ later: later || undefined })}
        />
      )}
      <Checkbox
        label={LABELS.manualSun}
        help={HELP.manualSun}
        checked={daylight.manualSun !== undefined}
        onChecked={(on) =>
          change({
            manualSun: on ? { azimuth: Math.round(sun.azimuth * 10) / 10, altitude: Math.max(-6, Math.round(sun.altitude * 10) / 10) } : undefined,
          })
        }
      />
      {daylight.manualSun && (
        <>
          <NoEffectNote setting="stage.date" />
          <div className="grid grid-cols-2 gap-x-3">
            <FormFields fields={BY_HAND} values={daylight.manualSun} put={(values) => change({ manualSun: { ...daylight.manualSun!, ...values } })} />
          </div>
        </>
      )}
      <Select
        label={LABELS.sky}
        help={HELP.sky}
        value={daylight.sky}
        options={CONDITIONS.map((value) => ({ value, label: value }))}
        onValue={(sky) => change({ sky: sky as Daylight['sky'], type: undefined })}
      />
      <Select
        label={LABELS.skyTypeCie}
        help={HELP.skyTypeCie}
        value={String(daylight.type ?? TYPE_OF[daylight.sky])}
        options={TYPE_WORDS.map((words, i) => ({
          value: String(i + 1),
          label: i + 1 === TRADITIONAL_OVERCAST ? words : `${i + 1} ${words}`,
        }))}
        onValue={(type) => change({ type: Number(type) === TYPE_OF[daylight.sky] ? undefined : Number(type) })}
      />
      <div className="grid grid-cols-2 gap-x-3 gap-y-2">
        <FormFields fields={AIR_AND_DISC} values={daylight} put={change} />
      </div>
      <dl className="grid grid-cols-[auto_1fr] gap-x-3 text-sm" data-testid="daylight-lux">
        <dt className="text-graphite">{LABELS.sunPosition}</dt>
        <dd className="num">{LABELS.azimuthAltitude(sun.azimuth.toFixed(1), sun.altitude.toFixed(1))}</dd>
        <dt className="text-graphite">{LABELS.directSun}</dt>
        <dd className="num">{light.light ? lux(light.lux.sun) : 'none'}</dd>
        <dt className="text-graphite">{LABELS.skyLight}</dt>
        <dd className="num">{lux(light.lux.sky)}</dd>
        <dt className="text-graphite">{LABELS.horizontalTotal}</dt>
        <dd className="num">{lux(light.lux.level)}</dd>
      </dl>
      {sun.altitude <= 0 && (
        <p role="status" className="text-sm text-ochre">
          {MESSAGES.theSunIsBelow(Math.abs(sun.altitude).toFixed(1))}
        </p>
      )}
    </section>
  );
}
