import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { offsetsSource, placesOf, strideOf } from './generate';
import { RECORDS } from './schema';

describe('the kernel’s offsets', () => {
  it('are those that the schema makes', () => {
    expect(readFileSync(new URL('offsets.ts', import.meta.url), 'utf8')).toBe(offsetsSource());
  });

  it.each(Object.entries(RECORDS))('%s: no name twice, and the stride holds all', (_, record) => {
    const places = placesOf(record);
    expect(new Set(places.map((p) => p.field[0])).size).toBe(places.length);
    expect(Math.max(...places.map((p) => p.offset))).toBeLessThan(strideOf(record));
  });

  // The kernel loads planes of nodes and vertices of packets with vectors of sixteen bytes.
  it.each(['NODE', 'BLOCK'])('%s: its vectors of four lie on sixteen bytes', (name) => {
    for (const { field, offset } of placesOf(RECORDS[name]!)) if (field[2] % 4 === 0) expect(offset % 16).toBe(0);
    expect(strideOf(RECORDS[name]!) % 16).toBe(0);
  });
});
