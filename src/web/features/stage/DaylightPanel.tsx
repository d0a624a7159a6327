/** The day at the site: sun-path diagram, table of hours, hours of sun. */
import { type ReactNode, useState } from 'react';
import useSWR from 'swr';
import type { SilhouetteReply } from '../../../contract/daylight.js';
import { type Bounds, centreOf } from '../../../core/math/bounds.js';
import { type LocalDateTime, localTimeOf } from '../../../core/units/localTime.js';
import { type Daylight, sunPosition } from '../../../core/stage/daylight.js';
import type { Site } from '../../../core/stage/site.js';
import { dayCsv, dayTable } from '../../../core/stage/sunPath.js';
import { SunPath } from './SunPath.js';
import { get } from '../../state/api.js';
import { Checkbox } from '../../ui/controls.js';
import { SunHours } from './SunHours.js';
import { WindowSun } from './WindowSun.js';
import { HELP, LABELS, MESSAGES } from './daylightWords.js';

/** Where and when the sun is looked at. */
export interface DaylightPanelProps {
  setId: number;
  revision: number;
  version: string;
  bounds: Bounds;
  site: Site;
  daylight: Daylight;
  /** Seen from there, the silhouette is drawn. */
  target: [number, number, number];
  onTime: (civil: LocalDateTime, done: boolean) => void;
}

/** Tables and plans of the sun of a day. */
export function DaylightPanel({ setId, revision, version, bounds, site, daylight, target, onTime }: DaylightPanelProps): ReactNode {
  const { date } = daylight;
  const sun = sunPosition(daylight, site);
  const [hides, setHides] = useState(true);
  const [aside, setAside] = useState<'ground' | 'window'>('ground');
  // Before the front of the subject, where a person would stand.
  const [x] = centreOf(bounds);
  const from = [x, bounds.max[2] + 0.05 * (bounds.max[2] - bounds.min[2])].map((v) => v.toFixed(3));
  const { data: silhouette } = useSWR<SilhouetteReply, Error>(
    hides ? `/sets/${setId}/silhouette?revision=${revision}&x=${from[0]}&z=${from[1]}&north=${site.north}&v=${version}` : null,
    get,
    { keepPreviousData: true },
  );
  const { day, rows } = dayTable(site, date);
  const clock = (at: number | null): string => (at === null ? '–' : localTimeOf(at, site.timeZone).time);
  const csv = `data:text/csv;charset=utf-8,${encodeURIComponent(dayCsv(site, date))}`;
  return (
    <section className="grid h-[264px] grid-cols-[256px_236px_minmax(0,1fr)] gap-4 border-t border-ink px-[18px] py-2" aria-label={LABELS.sunTimes}>
      <div className="relative min-h-0">
        <SunPath site={site} date={date} sun={sun} {...(hides && silhouette && { silhouette })} {...(!daylight.manualSun && { onTime })} />
        <div className="absolute -bottom-1 left-0 bg-paper text-xs">
          <Checkbox label={MESSAGES.hiddenSky} help={HELP.hiddenSky} checked={hides} onChecked={setHides} />
        </div>
      </div>
      <div className="flex min-h-0 flex-col text-sm">
        <dl className="grid grid-cols-[auto_1fr_auto_1fr] gap-x-2">
          <dt className="text-graphite">{LABELS.sunrise}</dt>
          <dd className="num">{day.polar ? `polar ${day.polar}` : clock(day.sunrise)}</dd>
          <dt className="text-graphite">{LABELS.sunset}</dt>
          <dd className="num">{clock(day.sunset)}</dd>
          <dt className="text-graphite">{LABELS.noon}</dt>
          <dd className="num">{clock(day.noon)}</dd>
          <dt className="text-graphite">{LABELS.sun}</dt>
          <dd className="num">{day.hours.toFixed(1)} h</dd>
          <dt className="text-graphite">{LABELS.dawn}</dt>
          <dd className="num">{clock(day.dawn)}</dd>
          <dt className="text-graphite">{LABELS.dusk}</dt>
          <dd className="num">{clock(day.dusk)}</dd>
        </dl>
        <div className="mt-1 min-h-0 flex-1 overflow-auto border-t border-rule" tabIndex={0} role="region" aria-label={LABELS.hoursOfTheDay}>
          <table className="num w-full text-right text-xs">
            <thead className="sticky top-0 bg-paper font-head text-graphite">
              <tr>
                <th className="text-left font-medium">{LABELS.hour}</th>
                <th className="font-medium">{LABELS.azimuthColumn}</th>
                <th className="font-medium">{LABELS.altitudeColumn}</th>
                <th className="font-medium" title={LABELS.shadowLengthOf1}>
                  {LABELS.shadow}
                </th>
              </tr>
            </thead>
            <tbody>
              {rows.map((r) => (
                <tr key={`${r.time}${r.later ?? ''}`} className={r.altitude < 0 ? 'text-graphite' : ''}>
                  <td className="text-left">
                    {r.time}
                    {r.later && ' (2)'}
                  </td>
                  <td>{r.azimuth.toFixed(1)}°</td>
                  <td>{r.altitude.toFixed(1)}°</td>
                  <td>{r.shadow === null ? '–' : `${r.shadow.toFixed(2)} m`}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        <a className="text-cobalt underline" href={csv} download={`sun-${date}.csv`}>
          {LABELS.exportCsv}
        </a>
      </div>
      <div className="min-w-0 overflow-auto">
        <div className="mb-1 flex gap-3 text-sm" role="radiogroup" aria-label={LABELS.sunHoursAt}>
          {(['ground', 'window'] as const).map((what) => (
            <button
              key={what}
              type="button"
              role="radio"
              aria-checked={aside === what}
              onClick={() => setAside(what)}
              className={aside === what ? 'border-b-2 border-madder font-semibold' : 'border-b-2 border-transparent text-graphite'}
            >
              {what === 'ground' ? LABELS.ground : LABELS.window}
            </button>
          ))}
        </div>
        {aside === 'ground' ? (
          <SunHours setId={setId} revision={revision} date={date} version={version} bounds={bounds} />
        ) : (
          <WindowSun setId={setId} revision={revision} date={date} version={version} start={target} />
        )}
      </div>
    </section>
  );
}
