/** Cuts written for other programs come back as the reels they were; what other programs write is read. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { groupByShotOutput } from '../frame/frame.js';
import { planFrames } from '../planning/planFrames.js';
import { parseSet } from '../plan/set.js';
import { parseRate } from '../units/rate.js';
import { decisionList, readCut, timelineOtio } from './lists.js';
import { plannedTake, reelSources, reelPlan } from './reel.js';
import { type Reel, reelSchema } from '../plan/reel.js';

const setAt = (rate = '24') =>
  parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'Landing review',
    sheet: { rate, size: { width: 64, height: 36 } },
    views: [
      { id: 'a', name: 'A', eye: [0, 1, 5], target: [0, 1, 0] },
      { id: 'b', name: 'B', eye: [5, 1, 0], target: [0, 1, 0] },
    ],
    shots: [
      { id: 'stills', name: 'Two stills', kind: 'still', views: ['a', 'b'] },
      { id: 'spin', name: 'Spin, slow', kind: 'turntable', view: 'a', frames: 72 },
      { id: 'back', kind: 'turntable', view: 'b', frames: 48, overrides: { rate: '12' } },
    ],
  });
const CONTEXT = { bounds: { min: [-1, 0, -1] as [number, number, number], max: [1, 2, 1] as [number, number, number] }, scene: 'abc' };
const set = setAt();
const frames = planFrames(set, CONTEXT);
const reel = (parts: object[]): Reel => reelSchema.parse({ id: 'cut', name: 'First cut', parts });

/** Every picture that a reel shows, in words. */
function shown(of: Reel, from = set, own = frames): string[] {
  const runs = groupByShotOutput(own);
  const footage = reelSources(from, (part) => plannedTake(from, runs, part).map((f) => f.number));
  const name = (part: number): string => {
    const { shot, variant = '', revision = '' } = of.parts[part]!;
    return `${shot}${variant}${revision}`;
  };
  return reelPlan(of, footage, parseRate(from.sheet.rate)).frames.map(
    (f) => `${name(f.part)} ${f.index}${f.into ? ` into ${name(f.into.part)} ${f.into.index} by ${f.into.share.toFixed(4)}` : ''}`,
  );
}

const WRITERS = { otio: timelineOtio, edl: decisionList };

describe.each(Object.entries(WRITERS))('a cut as %s', (kind, write) => {
  it('comes back with the same pictures: cuts, trims, fades, stills', () => {
    const whole = reel([
      { shot: 'spin', from: 5, to: 40 },
      { shot: 'stills', seconds: 1.5, fade: 12 },
      { shot: 'spin', from: 41, to: 72, fade: 8 },
      { shot: 'spin' },
    ]);
    const again = readCut(write(set, frames, whole), set, frames);
    expect(again.name).toBe('First cut');
    expect(shown(again)).toEqual(shown(whole));
  });

  it('and at another pace, and of a shot planned at another rate', () => {
    const whole = reel([{ shot: 'spin', speed: 2 }, { shot: 'back' }, { shot: 'spin', from: 1, to: 24, speed: 0.5 }]);
    const text = write(set, frames, whole);
    expect(shown(readCut(text, set, frames))).toEqual(shown(whole));
    if (kind === 'edl') expect(text).toContain('M2   AX             048.000');
  });

  it('whatever is cut', () => {
    const part = fc
      .record({
        shot: fc.constantFrom('spin', 'back', 'stills'),
        from: fc.integer({ min: 1, max: 2 }),
        fade: fc.constantFrom(0, 0, 3, 9),
        speed: fc.constantFrom(1, 1, 2),
      })
      .map((p) => (p.shot === 'stills' ? { ...p, speed: 1, seconds: 1 } : p));
    fc.assert(
      fc.property(fc.array(part, { minLength: 1, maxLength: 6 }), (parts) => {
        const whole = reel(parts);
        expect(shown(readCut(write(set, frames, whole), set, frames))).toEqual(shown(whole));
      }),
      { numRuns: 60, seed: 7 },
    );
  });

  it('in drop-frame counts', () => {
    const film = setAt('30000/1001');
    const own = planFrames(film, CONTEXT);
    const whole = reel([{ shot: 'spin' }, { shot: 'spin', from: 10, to: 60, fade: 5 }]);
    expect(shown(readCut(write(film, own, whole), film, own), film, own)).toEqual(shown(whole, film, own));
  });

  it('of other variants and revisions, of a still too', () => {
    const dressed = parseSet({
      ...set,
      materials: { variants: ['plain', 'dark'].map((id) => ({ id, name: id === 'dark' ? 'Dark oak' : 'Plain', swaps: [] })) },
      shots: set.shots.map((s) => (s.id === 'back' ? s : { ...s, variants: ['plain', 'dark'] })),
    });
    const own = planFrames(dressed, CONTEXT);
    const whole = reel([
      { shot: 'spin', variant: 'dark' },
      { shot: 'spin', variant: 'plain', from: 3, to: 9, revision: 'A' },
      { shot: 'stills', variant: 'dark', seconds: 1, fade: 2 },
      { shot: 'back', revision: 'B' },
    ]);
    // Two views, one variant: two pictures of a second each.
    expect(shown(whole, dressed, own)).toHaveLength(72 + 7 + 2 * 24 - 2 + 96);
    const text = write(dressed, own, whole);
    expect(text).toMatch(kind === 'edl' ? /Spin,-slow-Plain-revision-A/ : /Spin, slow Plain revision A/);
    const again = readCut(text, dressed, own);
    expect(shown(again, dressed, own)).toEqual(shown(whole, dressed, own));
    expect(again.parts[1]).toMatchObject({ shot: 'spin', variant: 'plain', revision: 'A', from: 3, to: 9 });
  });

  it('of the whole set is its moving shots one after another', () => {
    expect(shown(readCut(write(set, frames), set, frames))).toEqual(shown(reel([{ shot: 'spin' }, { shot: 'back' }])));
  });
});

describe('an edit list of another program', () => {
  const list = (...lines: string[]): string => ['TITLE: Review cut 2', 'FCM: NON-DROP FRAME', '', ...lines].join('\n');
  it('is read by clip names as file names, with its sound passed over', () => {
    const cut = readCut(
      list(
        '001  SPIN     V     C        00:00:00:12 00:00:01:12 01:00:00:00 01:00:01:00  ',
        '* FROM CLIP NAME:  Spin_slow.mov',
        '002  SOUND    AA    C        00:00:00:00 00:00:01:00 01:00:00:00 01:00:01:00',
        '003  BACK     V     C        00:00:00:00 00:00:00:00 01:00:01:00 01:00:01:00',
        '003  SPIN     V     D    012 00:00:01:12 00:00:02:12 01:00:01:00 01:00:02:00',
        '* FROM CLIP NAME: SPIN, SLOW',
        '* TO CLIP NAME: Spin slow',
      ),
      set,
      frames,
    );
    expect(cut.name).toBe('Review cut 2');
    // The clip before a dissolve goes on under it.
    expect(cut.parts).toMatchObject([
      { shot: 'spin', from: 13, to: 48, fade: 0 },
      { shot: 'spin', from: 37, to: 60, fade: 12 },
    ]);
  });
  it.each([
    [
      '001  X  V  C  00:00:00:00 00:00:01:00 00:00:00:00 00:00:01:00\n* FROM CLIP NAME: Harbour',
      'The clip "Harbour" is not a moving shot of this set',
    ],
    ['001  X  V  C  00:00:00:00 00:00:09:00 00:00:00:00 00:00:09:00\n* FROM CLIP NAME: Spin slow', 'shows frames 1 to 216 of its shot, which has 72'],
    ['001  X  V  C  00:00:00:30 00:00:09:00 00:00:00:00 00:00:09:00', 'Line 4 of the edit list has the time "00:00:00:30"'],
    ['001  X  V  W001 012 00:00:00:00 00:00:01:00 00:00:00:00 00:00:01:00', 'has a wipe'],
    ['001  X  V  C  00:00:00:00 00:00:01:00 00:00:00:00 00:00:01:00\nM2   X   -024.0   00:00:00:00', 'plays its clip backwards'],
    ['nothing of the kind', 'holds no events'],
  ])('that cannot be a reel is refused with its reason: %.30s', (lines, reason) => {
    expect(() => readCut(list(lines), set, frames)).toThrow(reason);
  });
});

describe('a timeline of another program', () => {
  const time = (value: number, rate = 24) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate });
  const clip = (name: string, start: number, duration: number, more: object = {}) => ({
    OTIO_SCHEMA: 'Clip.1',
    name,
    source_range: { OTIO_SCHEMA: 'TimeRange.1', start_time: time(start * 2, 48), duration: time(duration) },
    media_reference: null,
    ...more,
  });
  const timeline = (...children: object[]): string =>
    JSON.stringify({
      OTIO_SCHEMA: 'Timeline.1',
      name: 'Cut 3',
      tracks: {
        OTIO_SCHEMA: 'Stack.1',
        children: [
          { OTIO_SCHEMA: 'Track.1', kind: 'Audio', children: [] },
          { OTIO_SCHEMA: 'Track.1', kind: 'Video', children },
        ],
      },
    });
  const dissolve = (before: number, after: number) => ({ OTIO_SCHEMA: 'Transition.1', in_offset: time(before), out_offset: time(after) });

  it('may have its dissolve on both sides of the cut, times at other rates, and older clips', () => {
    const cut = readCut(timeline(clip('Spin, slow', 0, 24), dissolve(4, 6), clip('spin slow', 30, 20)), set, frames);
    // The first goes on by 6, the second begins 4 earlier.
    expect(cut.parts).toMatchObject([
      { from: 1, to: 30, fade: 0 },
      { from: 27, to: 50, fade: 10 },
    ]);
  });
  it.each([
    ['{"OTIO_SCHEMA": "Clip.2"}', 'not an OpenTimelineIO timeline'],
    ['{"tracks": ', 'it is not JSON'],
    [timeline(), 'no clips on its first video track'],
    [timeline({ OTIO_SCHEMA: 'Gap.1' }), 'has a gap'],
    [timeline({ OTIO_SCHEMA: 'Stack.1', children: [] }), 'has a Stack among its clips'],
    [timeline(clip('Spin, slow', 0, 9, { effects: [{ OTIO_SCHEMA: 'LinearTimeWarp.1', time_scalar: -1 }] })), 'plays backwards'],
    [timeline({ OTIO_SCHEMA: 'Clip.2', name: 'Spin, slow' }), 'does not say which of its frames'],
    [
      timeline(clip('Spin, slow', 0, 9, { source_range: { start_time: { value: 'x', rate: 24 }, duration: time(3) } })),
      'a time that is not a number',
    ],
  ])('that cannot be a reel is refused with its reason: %.40s', (text, reason) => {
    expect(() => readCut(text, set, frames)).toThrow(reason);
  });
});
