import { describe, expect, it } from 'vitest';
import { planFrames } from '../planning/planFrames.js';
import { parseSet } from '../plan/set.js';
import { csv } from '../base/csv.js';
import { decisionList, shotListCsv, sunTableCsv, timelineOtio } from './lists.js';

const set = (rate = '24') =>
  parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'Landing review',
    sheet: { rate },
    stage: { site: { latitude: 59.9, longitude: 19.3, timeZone: 'Europe/Mariehamn' } },
    views: [{ id: 'a', name: 'A', eye: [0, 1, 5], target: [0, 1, 0] }],
    shots: [
      { id: 'still', kind: 'still', views: ['a'] },
      { id: 'spin', name: 'Spin, slow', kind: 'turntable', view: 'a', frames: 72 },
      { id: 'off', kind: 'turntable', view: 'a', frames: 10, off: true },
      { id: 'sun', kind: 'sunStudy', view: 'a', dates: ['2026-06-21'], from: '10:00', to: '12:00', stepMinutes: 60 },
    ],
  });
const CONTEXT = { bounds: { min: [-1, 0, -1] as [number, number, number], max: [1, 2, 1] as [number, number, number] }, scene: 'abc' };
const frames = (rate?: string) => planFrames(set(rate), CONTEXT);

describe('lists of a plan', () => {
  it('have a row a shot that has frames', () => {
    const lines = shotListCsv(set(), frames()).trimEnd().split('\r\n');
    expect(lines).toHaveLength(4);
    expect(lines[2]).toBe('2,"Spin, slow",turntable,a,72,1,72,00:00:03:00,3,1920,1080,24,"Landing-review/Spin,-slow/Spin,-slow_beauty.0001",spin');
  });

  it('have a row a frame under the sun', () => {
    const lines = sunTableCsv(frames()).trimEnd().split('\r\n');
    expect(lines).toHaveLength(4);
    expect(lines[1]).toMatch(/^sun,1,2026-06-21,10:00,,\d+(\.\d+)?,\d+(\.\d+)?,\d+(\.\d+)?$/);
  });

  it('are a timeline whose clips name their pictures', () => {
    const timeline = JSON.parse(timelineOtio(set(), frames())) as {
      OTIO_SCHEMA: string;
      tracks: {
        children: {
          children: {
            name: string;
            source_range: { duration: { value: number; rate: number } };
            media_references: { DEFAULT_MEDIA: Record<string, unknown> };
          }[];
        }[];
      };
    };
    expect(timeline.OTIO_SCHEMA).toBe('Timeline.1');
    const clips = timeline.tracks.children[0]!.children;
    expect(clips.map((c) => [c.name, c.source_range.duration.value])).toEqual([
      ['Spin, slow', 72],
      ['sun', 3],
    ]);
    const media = clips[0]!.media_references.DEFAULT_MEDIA;
    // Prefix, padded number and suffix make the names that are rendered.
    expect(media).toMatchObject({ OTIO_SCHEMA: 'ImageSequenceReference.1', start_frame: 1, frame_zero_padding: 4, name_suffix: '.png' });
    expect(`${String(media.target_url_base)}${String(media.name_prefix)}${'1'.padStart(4, '0')}`).toBe(frames()[1]!.name);
  });

  it('are an edit list whose record times follow each other, in drop-frame counts where the rate has them', () => {
    const lines = decisionList(set(), frames()).split('\r\n');
    expect(lines.slice(0, 2)).toEqual(['TITLE: Landing review', 'FCM: NON-DROP FRAME']);
    expect(lines[3]).toBe('001  AX       V     C        00:00:00:00 00:00:03:00 00:00:00:00 00:00:03:00');
    expect(lines[4]).toBe('* FROM CLIP NAME: Spin,-slow');
    expect(lines[6]).toBe('002  AX       V     C        00:00:00:00 00:00:00:03 00:00:03:00 00:00:03:03');
    expect(decisionList(set('30000/1001'), frames('30000/1001'))).toContain('FCM: DROP FRAME');
  });
});

describe('comma-separated values', () => {
  it('are quoted where they must be, rounded to a millionth, and no formula', () => {
    expect(
      csv(
        ['a', 'b'],
        [
          ['x,y', 0.1 + 0.2],
          ['say "so"', null],
          ['=1+1', -3],
        ],
      ),
    ).toBe('a,b\r\n"x,y",0.3\r\n"say ""so""",\r\n\'=1+1,-3\r\n');
  });
});
