import type { ReactNode } from 'react';
import type { Bounds } from '../../../core/math/bounds.js';
import { type Daylight, daylightSchema } from '../../../core/stage/daylight.js';
import type { Site } from '../../../core/stage/site.js';
import type { StageSettings } from '../../../core/stage/stage.js';
import { Select } from '../../ui/controls.js';
import { DaylightFields } from './DaylightFields.js';
import { SiteFields } from './SiteFields.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Where the sun is first looked for, until a place is given. */
const FIRST_SITE: Site = { latitude: 59.9, longitude: 19.3, elevation: 4, north: 0, timeZone: 'Europe/Mariehamn' };

/** Whether a stage preset or daylight lights the subject, and when and where the daylight is. */
export function LightingFields(props: {
  stage: StageSettings;
  /** As the hand has it just now; undefined where a preset or an environment image lights. */
  daylight: Daylight | undefined;
  /** Of the subject with its plinth. */
  floor: Bounds;
  onChange(values: Partial<StageSettings>): string | null;
}): ReactNode {
  const { stage, daylight, floor, onChange: change } = props;
  const { site } = stage;
  return (
    <>
      <Select
        label={LABELS.lighting}
        help={HELP.lighting}
        value={daylight ? 'daylight' : 'ready'}
        options={[
          { value: 'ready', label: LABELS.stagePreset },
          { value: 'daylight', label: LABELS.daylight },
        ]}
        onValue={(next) => {
          if (next === 'daylight') change({ site: site ?? FIRST_SITE, daylight: daylightSchema.parse({}) });
          else change({ daylight: undefined });
        }}
      />
      {daylight && site && (
        <>
          <DaylightFields daylight={daylight} site={site} onChange={(next) => change({ daylight: next })} />
          {site.latitude === FIRST_SITE.latitude && site.longitude === FIRST_SITE.longitude && !site.name && (
            <p className="text-sm text-ochre">{MESSAGES.thisSiteIsA}</p>
          )}
          <SiteFields site={site} bounds={floor} onChange={(next) => change({ site: next })} />
        </>
      )}
    </>
  );
}
