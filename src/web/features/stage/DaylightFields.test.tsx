// @vitest-environment happy-dom
import { screen } from '@testing-library/react';
import { type ReactNode, useState } from 'react';
import { describe, expect, it } from 'vitest';
import { show } from '../../../../tests/support/render.js';
import { type Daylight, daylightSchema } from '../../../core/stage/daylight.js';
import { type Site, siteSchema } from '../../../core/stage/site.js';
import { DaylightFields } from './DaylightFields.js';
import { SiteFields } from './SiteFields.js';

let daylight: Daylight;
let site: Site;

/** Sun and sky on an island whose clocks go by Mariehamn's, and the place itself. */
function Stage(): ReactNode {
  const [light, setLight] = useState<Daylight>(daylightSchema.parse({ date: '2026-03-21', time: '12:00' }));
  const [place, setPlace] = useState<Site>(siteSchema.parse({ latitude: 60.1, longitude: 19.9, timeZone: 'Europe/Mariehamn' }));
  [daylight, site] = [light, place];
  return (
    <>
      <DaylightFields daylight={light} site={place} onChange={(next) => (setLight(next), null)} />
      <SiteFields site={place} bounds={{ min: [-1, 0, -1], max: [1, 1, 1] }} onChange={(next) => (setPlace(next), null)} />
    </>
  );
}

async function write(person: ReturnType<typeof show>, label: string, text: string): Promise<void> {
  const field = screen.getByLabelText(label);
  await person.clear(field);
  await person.type(field, `${text}{Enter}`);
}

describe('day and place of a stage', () => {
  it.each([
    ['Date', '2026-02-30', 'no such day'],
    ['Date', 'tomorrow', '2026-06-21'],
    ['Time', '25:00', '15:30'],
    ['Time zone', 'Europe/Nowhere', 'not a time zone'],
    ['Latitude', '91', 'From −90 to 90.'],
  ])('%s %s is refused in place', async (label, text, problem) => {
    const person = show(<Stage />);
    const before = JSON.stringify([daylight, site]);
    await write(person, label, text);
    expect(screen.getByRole('alert').textContent).toContain(problem);
    expect(JSON.stringify([daylight, site])).toBe(before);
  });

  it('refuses an hour that the clocks of the site skip', async () => {
    const person = show(<Stage />);
    await write(person, 'Date', '2026-03-29');
    await write(person, 'Time', '03:30');
    expect(screen.getByRole('alert').textContent).toContain('is skipped in Europe/Mariehamn');
    expect(daylight).toMatchObject({ date: '2026-03-29', time: '12:00' });
  });

  it('asks which of two hours is meant where clocks go back', async () => {
    const person = show(<Stage />);
    await write(person, 'Date', '2026-10-25');
    await write(person, 'Time', '3:30');
    expect(daylight.time).toBe('03:30');
    await person.click(screen.getByLabelText('Second occurrence'));
    expect(daylight.later).toBe(true);
  });

  it('says when the sun is below the horizon', async () => {
    const person = show(<Stage />);
    expect(screen.queryByText(/below the horizon/)).toBeNull();
    await write(person, 'Time', '23:30');
    expect(screen.getByText(/below the horizon/)).toBeTruthy();
  });

  it('follows the coordinates with the time zone, and names the one of the place where another is kept', async () => {
    const person = show(<Stage />);
    await write(person, 'Longitude', '-21.9');
    await write(person, 'Latitude', '64.1');
    expect(site.timeZone).toBe('Atlantic/Reykjavik');
    await write(person, 'Time zone', 'Europe/Mariehamn');
    expect(screen.getByText('The time zone of this place is Atlantic/Reykjavik.')).toBeTruthy();
  });
});
