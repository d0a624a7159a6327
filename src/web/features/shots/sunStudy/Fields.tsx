import { fieldProblem } from '../../../../core/base/issues.js';
import { type ReactNode, useState } from 'react';
import { X } from 'lucide-react';
import { clockSchema, dateSchema } from '../../../../core/units/localTime.js';
import { monthDates, seasonDates, type SunStudyShot } from '../../../../core/shots/sunStudy/sunStudy.js';
import { CORNERS } from '../../../../core/frame/legend.js';
import { useWorkspace } from '../../../app/workspace.js';
import { Button, NumberField, Select, TextField, Checkbox } from '../../../ui/controls.js';
import { type FieldsProps, ViewField } from '../fieldsProps.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const FIRST_PATH: NonNullable<SunStudyShot['path']> = {
  points: [
    { azimuth: 90, altitude: 10 },
    { azimuth: 180, altitude: 50 },
    { azimuth: 270, altitude: 10 },
  ],
  frames: 48,
};

function Dates({ shot, put }: FieldsProps<SunStudyShot>): ReactNode {
  const { plan } = useWorkspace();
  const [serial, setSerial] = useState(0);
  const zone = plan!.file.stage.site?.timeZone ?? 'UTC';
  const year = Number((shot.dates[0] ?? '2026').slice(0, 4));
  const set = (dates: string[]): string | null => put({ ...shot, dates });
  return (
    <fieldset>
      <legend className="font-head text-xs font-medium text-graphite">{LABELS.dates}</legend>
      <ul className="flex flex-wrap gap-x-3">
        {shot.dates.map((date) => (
          <li key={date} className="num flex items-center gap-1 text-sm">
            {date}
            {shot.dates.length > 1 && (
              <button
                type="button"
                aria-label={LABELS.delete(date)}
                className="text-graphite"
                onClick={() => set(shot.dates.filter((d) => d !== date))}
              >
                <X size={12} aria-hidden />
              </button>
            )}
          </li>
        ))}
      </ul>
      <TextField
        key={serial}
        label={LABELS.addDate}
        help={HELP.addDate}
        mono
        value=""
        onValue={(text) => {
          if (text.trim() === '') return null;
          const read = dateSchema.safeParse(text.trim());
          if (!read.success) return fieldProblem(read.error);
          const problem = set([...shot.dates, read.data].sort());
          if (!problem) setSerial(serial + 1);
          return problem;
        }}
      />
      <div className="mt-1 flex flex-wrap gap-1.5">
        <Button className="!h-6 !px-2 text-xs" onClick={() => set(seasonDates(year, zone))}>
          {LABELS.solsticesEquinoxes}
        </Button>
        <Button className="!h-6 !px-2 text-xs" onClick={() => set(monthDates(year))}>
          {LABELS.everyMonth}
        </Button>
      </div>
    </fieldset>
  );
}

function Times({ shot, put }: FieldsProps<SunStudyShot>): ReactNode {
  const { stepMinutes, count, ...rest } = shot;
  const time = (word: 'sunrise' | 'sunset', text: string): string | null => {
    if (text.trim().toLowerCase() === word) return word;
    const read = clockSchema.safeParse(/^\d:/.test(text.trim()) ? `0${text.trim()}` : text.trim());
    return read.success ? read.data : null;
  };
  return (
    <>
      <div className="grid grid-cols-2 gap-x-4 gap-y-2">
        <TextField
          label={LABELS.from}
          help={HELP.from}
          mono
          value={shot.from}
          onValue={(text) => {
            const from = time('sunrise', text);
            return from ? put({ ...shot, from }) : MESSAGES.writeATimeAs;
          }}
        />
        <TextField
          label={LABELS.to}
          help={HELP.to}
          mono
          value={shot.to}
          onValue={(text) => {
            const to = time('sunset', text);
            return to ? put({ ...shot, to }) : MESSAGES.writeATimeAs17;
          }}
        />
        <Select
          label={LABELS.interval}
          help={HELP.interval}
          value={count === undefined ? 'step' : 'count'}
          options={[
            { value: 'step', label: LABELS.minutes },
            { value: 'count', label: LABELS.number },
          ]}
          onValue={(by) => put(by === 'step' ? { ...rest, stepMinutes: 30 } : { ...rest, count: 24 })}
        />
        {count === undefined ? (
          <NumberField
            label={LABELS.step}
            help={HELP.step}
            value={stepMinutes ?? 30}
            decimals={0}
            step={5}
            unit="min"
            onValue={(v) => put({ ...rest, stepMinutes: v })}
          />
        ) : (
          <NumberField
            label={LABELS.framesPerDate}
            help={HELP.framesPerDate}
            value={count}
            decimals={0}
            onValue={(v) => put({ ...rest, count: v })}
          />
        )}
      </div>
      <NumberField
        label={LABELS.minimumAltitude}
        help={HELP.minimumAltitude}
        value={shot.minimumAltitude}
        quantity="angle"
        unit="°"
        decimals={1}
        disabled={shot.from !== 'sunrise' && shot.to !== 'sunset'}
        onValue={(minimumAltitude) => put({ ...shot, minimumAltitude })}
      />
    </>
  );
}

function Path({ shot, put }: FieldsProps<SunStudyShot>): ReactNode {
  const path = shot.path!;
  const change = (values: Partial<typeof path>): string | null => put({ ...shot, path: { ...path, ...values } });
  return (
    <>
      <p className="text-sm text-graphite">{MESSAGES.forEffectTheSun}</p>
      {path.points.map((place, i) => (
        <div key={i} className="grid grid-cols-2 gap-x-4">
          {(['azimuth', 'altitude'] as const).map((what) => (
            <NumberField
              key={what}
              label={`${what[0]!.toUpperCase()}${what.slice(1)} ${i + 1}`}
              help={what === 'azimuth' ? HELP.degreesClockwiseFromTrue : HELP.degreesAboveTheHorizon}
              value={place[what]}
              quantity="angle"
              unit="°"
              decimals={1}
              onValue={(v) => change({ points: path.points.map((p, k) => (k === i ? { ...p, [what]: v } : p)) })}
            />
          ))}
        </div>
      ))}
      <NumberField label={LABELS.frames} help={HELP.frames} value={path.frames} decimals={0} onValue={(frames) => change({ frames })} />
    </>
  );
}

/** Fields of a sun study. */
export function SunStudy({ shot, put }: FieldsProps<SunStudyShot>): ReactNode {
  return (
    <>
      <ViewField view={shot.view} onView={(view) => put({ ...shot, view })} />
      <Checkbox
        label={LABELS.manualSunPath}
        help={HELP.manualSunPath}
        checked={shot.path !== undefined}
        onChecked={(on) => put({ ...shot, path: on ? FIRST_PATH : undefined, ...(!on && shot.dates.length === 0 && { dates: ['2026-06-21'] }) })}
      />
      {shot.path ? (
        <Path shot={shot} put={put} />
      ) : (
        <>
          <Dates shot={shot} put={put} />
          <Times shot={shot} put={put} />
        </>
      )}
      <Select
        label={LABELS.legend}
        help={HELP.legend}
        value={shot.legend ?? 'none'}
        options={[{ value: 'none', label: LABELS.none }, ...CORNERS.map((c) => ({ value: c, label: c }))]}
        onValue={(v) => put({ ...shot, legend: CORNERS.find((c) => c === v) })}
      />
    </>
  );
}
