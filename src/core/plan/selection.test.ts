import { describe, expect, it } from 'vitest';
import { everyNth, parseRate } from '../units/rate.js';
import { formatRanges, formatSelections, frameStride, hasSelectionWords, parseSelections, selectFrames, selectPlannedFrames } from './selection.js';

describe('frame selection', () => {
  const numbers = Array.from({ length: 60 }, (_, i) => i + 1);
  it('reads ranges, single numbers, steps and the last', () => {
    expect(selectFrames('1-3, 35, 40-60 every 5, last', numbers)).toEqual([1, 2, 3, 35, 40, 45, 50, 55, 60]);
    expect(formatRanges([1, 2, 3, 35, 60])).toBe('1-3, 35, 60');
    expect(selectFrames('all', numbers)).toEqual(numbers);
    expect(selectFrames('first every 20', numbers)).toEqual([1, 21, 41]);
    expect(selectFrames('none', numbers)).toEqual([]);
  });
  it('takes words for what became of frames, beside numbers and by shot', () => {
    const words = { missing: [4, 5], failed: [2], stale: [], 'not accepted': [1, 2, 3] };
    expect(selectFrames('failed, 9', numbers, words)).toEqual([2, 9]);
    expect(selectFrames('Not  Accepted, missing', numbers, words)).toEqual([1, 2, 3, 4, 5]);
    expect(selectFrames('stale', numbers, words)).toEqual([]);
    expect(() => selectFrames('failed', numbers)).toThrow('known of the batches of a project alone');
    expect([hasSelectionWords('spin: 1-4; failed'), hasSelectionWords('spin: stale, 2; none'), hasSelectionWords('1-4 every 2')]).toEqual([
      true,
      true,
      false,
    ]);
    const frames = ['a', 'b'].flatMap((shot) => [1, 2, 3, 4, 5].map((number) => ({ shot, number })));
    const chosen = selectPlannedFrames(frames, 'a: missing; 1', new Map([['a', words]]));
    expect(chosen.map((f) => `${f.shot}${f.number}`)).toEqual(['a4', 'a5', 'b1']);
  });
  it('means what is there by numbers that the shot lacks', () => {
    expect(selectFrames('58-99', numbers)).toEqual([58, 59, 60]);
    expect(selectFrames('99, 2', numbers)).toEqual([2]);
    expect(selectFrames('50-last', [1, 2, 3])).toEqual([]);
  });
  it.each([
    ['9-3', 'runs backwards'],
    ['x', 'not a frame selection'],
    ['1-5 every 0', 'every 0'],
  ])('%s is refused', (text, message) => {
    expect(() => selectFrames(text, numbers)).toThrow(message);
  });
});

describe('a selection over a whole plan', () => {
  const row = (shot: string, n: number) => Array.from({ length: n }, (_, i) => ({ shot, number: i + 1 }));
  const frames = [...row('spin', 12), ...row('still', 3)];
  it('goes by each run’s own numbers', () => {
    expect(selectPlannedFrames(frames, 'first every 5, last').map((f) => `${f.shot} ${f.number}`)).toEqual([
      'spin 1',
      'spin 6',
      'spin 11',
      'spin 12',
      'still 1',
      'still 3',
    ]);
    expect(selectPlannedFrames(frames, 'all')).toEqual(frames);
    expect(selectPlannedFrames(frames, '2-5').map((f) => `${f.shot} ${f.number}`)).toEqual([
      'spin 2',
      'spin 3',
      'spin 4',
      'spin 5',
      'still 2',
      'still 3',
    ]);
    expect(() => selectPlannedFrames(frames, '40-50')).toThrow('"40-50" chooses no frame: spin has 1 to 12, still has 1 to 3.');
    expect(() => selectPlannedFrames(frames, '5-2')).toThrow('spin: "5-2" runs backwards; write 2-5.');
  });
  it('has one of its own for a shot, in all its sizes', () => {
    const sized = [...frames, ...row('still@64x64', 3)];
    const names = (text: string) => selectPlannedFrames(sized, text).map((f) => `${f.shot} ${f.number}`);
    expect(names('spin: 3-4; last')).toEqual(['spin 3', 'spin 4', 'still 3', 'still@64x64 3']);
    expect(names('spin: none')).toEqual(['still 1', 'still 2', 'still 3', 'still@64x64 1', 'still@64x64 2', 'still@64x64 3']);
    expect(() => names('spun: 1')).toThrow('There is no shot "spun"; the plan has spin, still.');
    expect(() => names('spin: 1; spin: 2')).toThrow('twice');
    expect(() => names('1; 2')).toThrow('"2" belongs to no shot');
    expect(formatSelections({ others: 'all', shots: new Map([['spin', '1-4']]) })).toBe('spin: 1-4');
    expect(formatSelections({ others: 'first', shots: new Map([['spin', 'first']]) })).toBe('first');
    expect(parseSelections('spin: 1-4; first')).toEqual({ others: 'first', shots: new Map([['spin', '1-4']]) });
  });
  it('tells the step of an even one, and the rate that shows it at its pace', () => {
    expect(frameStride([1, 6, 11])).toBe(5);
    expect([frameStride([1, 2, 4]), frameStride([7]), frameStride([])]).toEqual([1, 1, 1]);
    expect([everyNth('24', 3), everyNth('30000/1001', 2), everyNth('25', 1), everyNth('24', 36)]).toEqual(['24/3', '30000/2002', '25', '1']);
    expect(parseRate('30000/2002').denominator).toBe(2002);
  });
});
