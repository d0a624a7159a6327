import { describe, expect, it } from 'vitest';
import { shotListCsv, sunTableCsv } from '../movie/lists.js';
import { groupByShotOutput } from '../frame/frame.js';
import { planFrames } from '../planning/planFrames.js';
import { importShotList, importSunTable } from './importTables.js';
import { parseSet, type SetFile } from '../plan/set.js';

const planned = (): SetFile =>
  parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'Set',
    sheet: { sizes: [{ id: 'square', width: 400, height: 400, framing: 'keepHeight' }] },
    stage: { site: { latitude: 59.9, longitude: 19.3, timeZone: 'Europe/Mariehamn' } },
    views: [{ id: 'a', name: 'A', eye: [0, 1, 5], target: [0, 1, 0] }],
    shots: [
      { id: 'still', kind: 'still', views: ['a'] },
      { id: 'spin', name: 'Spin', kind: 'turntable', view: 'a', frames: 24 },
      { id: 'sun', name: 'Sun', kind: 'sunStudy', view: 'a', dates: ['2026-06-21', '2026-12-21'], from: '10:00', to: '12:00', stepMinutes: 60 },
    ],
  });
const CONTEXT = { bounds: { min: [-1, 0, -1] as [number, number, number], max: [1, 2, 1] as [number, number, number] }, scene: 'abc' };
const framesIn = (set: SetFile) => planFrames(set, CONTEXT);
const made = (set: SetFile): Set<string> => new Set(framesIn(set).map((f) => f.shot));
const lines = (text: string): string[] => text.trimEnd().split('\r\n');

describe('a list of shots', () => {
  it('that was not changed changes nothing', () => {
    const set = planned();
    const taken = importShotList(set, shotListCsv(set, framesIn(set)), made(set));
    expect(taken.changes).toEqual([]);
    expect(taken.set).toEqual(set);
  });

  it('sorted anew, with a shot renamed and another struck out, does so in the set', () => {
    const set = planned();
    const [head, ...rows] = lines(shotListCsv(set, framesIn(set)));
    expect(rows).toHaveLength(6);
    const list = [
      head!,
      ...rows.filter((r) => r.endsWith(',sun')).map((r) => r.replace('Sun', '"Sun, four seasons"')),
      ...rows.filter((r) => r.endsWith(',still')),
    ];
    const { set: after, changes } = importShotList(set, list.join('\n').replaceAll(',', ';').replace('Sun; four', 'Sun, four'), made(set));
    expect(after.shots.map((s) => [s.id, s.name, s.off])).toEqual([
      ['sun', 'Sun, four seasons', undefined],
      ['still', undefined, undefined],
      ['spin', 'Spin', true],
    ]);
    expect(changes).toEqual([
      '"Sun" is called "Sun, four seasons".',
      '"Spin" is not in the list, so it is switched off.',
      'The shots are in the order of the list.',
    ]);
    // And back again: a shot that stands in a row is on.
    const back = importShotList(after, shotListCsv(set, framesIn(set)), made(after));
    expect(back.set.shots.map((s) => [s.id, s.off])).toEqual([
      ['still', undefined],
      ['spin', undefined],
      ['sun', undefined],
    ]);
  });

  it.each([
    ['shot,frames\nSpin,24\n', 'The table has no column "id"'],
    ['shot,id\nHarbour,harbour\n', 'Line 2: "Harbour" is no shot of this set'],
    ['shot,id\n', 'The list has no shots'],
    ['shot,id\n"Spin,spin\n', 'A quote in the table does not end'],
  ])('at fault is refused, and says where: %s', (text, reason) => {
    expect(() => importShotList(planned(), text, made(planned()))).toThrow(reason);
  });
});

describe('a table of suns', () => {
  const suns = (set: SetFile) => (shot: string) => (groupByShotOutput(framesIn(set)).get(shot) ?? []).map((f) => f.sun ?? {});
  it('that was not changed changes nothing', () => {
    const set = planned();
    const taken = importSunTable(set, sunTableCsv(framesIn(set).filter((f) => !f.shot.includes('@'))), suns(set));
    expect(taken).toEqual({ set, changes: [] });
  });

  it('with other dates and times gives the study these', () => {
    const set = planned();
    const rows = ['09:30', '10:00', '10:30'].flatMap((time) => ['2026-03-20', '2026-09-23'].map((date) => `sun,1,${date},${time}`));
    const { set: after, changes } = importSunTable(set, ['shot,frame,date,time', ...rows].join('\n'), suns(set));
    expect(after.shots[2]).toMatchObject({ dates: ['2026-03-20', '2026-09-23'], from: '09:30', to: '10:30', stepMinutes: 30 });
    expect(changes).toEqual(['"Sun" has 2 dates from 09:30 to 10:30.']);
    const got = framesIn(after)
      .filter((f) => f.shot === 'sun')
      .map((f) => `${f.sun!.date} ${f.sun!.time}`);
    expect(got.sort()).toEqual(rows.map((r) => r.slice(6).replace(',', ' ')).sort());
  });

  it('off the steps of the clock goes by number', () => {
    const text = ['shot,date,time', 'sun,2026-06-21,10:10', 'sun,2026-06-21,10:35', 'sun,2026-06-21,11:00'].join('\n');
    const { set } = importSunTable(planned(), text, suns(planned()));
    expect(set.shots[2]).toMatchObject({ count: 3, from: '10:10', to: '11:00' });
    const times = framesIn(set)
      .filter((f) => f.shot === 'sun')
      .map((f) => f.sun!.time);
    expect(times).toEqual(['10:10', '10:35', '11:00']);
  });

  it.each([
    ['sun,2026-06-21,10:00\nsun,2026-06-21,10:30\nsun,2026-06-21,12:00', 'are not evenly spaced'],
    ['sun,2026-06-21,10:00\nsun,2026-12-21,11:00', 'has other times on 2026-12-21'],
    ['sun,21.6.2026,10:00', 'is no date and time'],
    ['moon,2026-06-21,10:00', 'which is not in this set'],
  ])('that no study can say is refused: %s', (rows, reason) => {
    expect(() => importSunTable(planned(), `shot,date,time\n${rows}`, suns(planned()))).toThrow(reason);
  });
});
