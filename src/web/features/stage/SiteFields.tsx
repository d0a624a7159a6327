/** Where the design stands: found by a city's name or written down, and which way is north. */
import { fieldProblem } from '../../../core/base/issues.js';
import { type ReactNode, useState } from 'react';
import useSWR from 'swr';
import type { PlacesReply } from '../../../contract/daylight.js';
import type { Bounds } from '../../../core/math/bounds.js';
import { type Site, siteSchema } from '../../../core/stage/site.js';
import { zoneAt } from '../../../core/stage/timeZone.js';
import { NorthDial } from './NorthDial.js';
import { type FieldSpec, FormFields } from '../../forms/FormFields.js';
import { get } from '../../state/api.js';
import { NumberField, TextField } from '../../ui/controls.js';
import { Field } from '../../ui/Field.js';
import { HELP, LABELS, MESSAGES } from './daylightWords.js';

function PlaceSearch({ onPlace }: { onPlace: (place: PlacesReply[number]) => void }): ReactNode {
  const [words, setWords] = useState('');
  const { data } = useSWR<PlacesReply, Error>(words.trim().length > 1 ? `/places?q=${encodeURIComponent(words.trim())}` : null, get, {
    keepPreviousData: true,
  });
  const found = words.trim().length > 1 ? data : undefined;
  return (
    <div>
      <Field label={LABELS.findCity} help={HELP.findCity}>
        {(id, described) => (
          <input
            id={id}
            aria-describedby={described}
            className="h-7 w-full border-b border-graphite bg-transparent outline-offset-2"
            value={words}
            autoComplete="off"
            onChange={(e) => setWords(e.target.value)}
            onKeyDown={(e) => e.stopPropagation()}
          />
        )}
      </Field>
      {found?.length === 0 && <p className="text-sm text-ochre">{MESSAGES.noCityOfThat}</p>}
      {found && found.length > 0 && (
        <ul className="max-h-36 overflow-auto border border-rule" aria-label={LABELS.cities}>
          {found.map((p) => (
            <li key={`${p.name} ${p.latitude} ${p.longitude}`}>
              <button
                type="button"
                className="flex w-full justify-between gap-2 px-2 py-0.5 text-left hover:bg-paper"
                onClick={() => {
                  setWords('');
                  onPlace(p);
                }}
              >
                <span>{p.name}</span>
                <span className="truncate text-sm text-graphite">{p.country}</span>
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

const HEIGHT_AND_NORTH: readonly FieldSpec<Site>[] = [
  { kind: 'number', key: 'elevation', label: LABELS.elevation, help: HELP.elevation, quantity: 'length', unit: 'm', decimals: 1 },
  { kind: 'number', key: 'north', label: LABELS.trueNorth, help: HELP.trueNorth, quantity: 'angle', unit: '°', decimals: 2 },
];

/** Where the design stands on the earth. */
export function SiteFields({ site, bounds, onChange }: { site: Site; bounds: Bounds; onChange: (site: Site) => string | null }): ReactNode {
  const change = (values: Partial<Site>): string | null => {
    const next = siteSchema.safeParse({ ...site, ...values });
    return next.success ? onChange(next.data) : fieldProblem(next.error);
  };
  const own = zoneAt(site.latitude, site.longitude);
  return (
    <section className="flex flex-col gap-2 border-t border-rule pt-3" aria-label={LABELS.site}>
      <h2 className="font-semibold">
        {LABELS.site}
        {site.name && <span className="font-normal text-graphite"> · {site.name}</span>}
      </h2>
      <PlaceSearch
        onPlace={({ name, latitude, longitude, timeZone }) =>
          change({ name, latitude: Math.round(latitude * 1e4) / 1e4, longitude: Math.round(longitude * 1e4) / 1e4, timeZone })
        }
      />
      <div className="grid grid-cols-2 gap-x-3 gap-y-2">
        <NumberField
          label={LABELS.latitude}
          help={HELP.latitude}
          value={site.latitude}
          decimals={4}
          step={0.1}
          unit="°"
          onValue={(latitude) =>
            Math.abs(latitude) > 90 ? MESSAGES.from90To90 : change({ latitude, name: undefined, timeZone: zoneAt(latitude, site.longitude) })
          }
        />
        <NumberField
          label={LABELS.longitude}
          help={HELP.longitude}
          value={site.longitude}
          decimals={4}
          step={0.1}
          unit="°"
          onValue={(longitude) =>
            Math.abs(longitude) > 180 ? MESSAGES.from180To180 : change({ longitude, name: undefined, timeZone: zoneAt(site.latitude, longitude) })
          }
        />
        <FormFields fields={HEIGHT_AND_NORTH} values={site} put={change} />
      </div>
      <div className="flex items-center gap-3">
        <NorthDial north={site.north} bounds={bounds} onNorth={(north) => change({ north })} />
        <div className="min-w-0 flex-1">
          <TextField label={LABELS.timeZone} help={HELP.timeZone} value={site.timeZone} onValue={(timeZone) => change({ timeZone })} />
          {own !== site.timeZone && <p className="text-xs text-graphite">{MESSAGES.theTimeZoneOf(own)}</p>}
        </div>
      </div>
    </section>
  );
}
