import { parseHTML } from 'linkedom';
import { describe, expect, it } from 'vitest';
import { sunStudyHtml } from './sunStudyHtml.js';

describe('the page of a sun study', () => {
  const cell = (date: string, time: string, altitude: number) => ({ date, time, altitude, azimuth: 180, image: 'data:,x' });
  const { document } = parseHTML(
    sunStudyHtml('Light <on> the "quay"', [cell('2026-12-21', '12:00', 6.6), cell('2026-06-21', '12:00', 53.1), cell('2026-06-21', '09:00', 39.2)]),
  );
  it('has dates down and hours across, and leaves a cell empty where the sun is not up', () => {
    const rows = [...document.querySelectorAll('tr')].map((r) => [...r.children].map((c) => c.textContent));
    expect(rows).toEqual([
      ['', '09:00', '12:00'],
      ['2026-06-21', '39.2° up, 180°', '53.1° up, 180°'],
      ['2026-12-21', '', '6.6° up, 180°'],
    ]);
    expect(document.querySelectorAll('img')).toHaveLength(3);
  });
  it('writes any title', () => {
    expect(document.querySelector('h1')!.textContent).toBe('Light <on> the "quay"');
  });
});
