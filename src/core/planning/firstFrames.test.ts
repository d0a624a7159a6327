import { expect, test } from 'vitest';
import { firstFrames } from './firstFrames.js';

const spin = Array.from({ length: 9 }, (_, i) => ({ shot: 'spin', kind: 'turntable', number: i + 1 }));
const stills = Array.from({ length: 4 }, (_, i) => ({ shot: 'still', kind: 'still', number: i + 1 }));
const numbers = (count: number, frames = [...spin, ...stills]): string[] => [...firstFrames(frames, count)].map((f) => `${f.shot} ${f.number}`);

test('are first, middle and last of what moves, and every view of a still', () => {
  expect(numbers(3)).toEqual(['spin 1', 'spin 5', 'spin 9', 'still 1', 'still 2', 'still 3', 'still 4']);
  expect(numbers(1, spin)).toEqual(['spin 1']);
  expect(numbers(2, spin)).toEqual(['spin 1', 'spin 9']);
  expect(numbers(4, spin)).toEqual(['spin 1', 'spin 4', 'spin 6', 'spin 9']);
});

test('are all where a shot has no more, and none where none are asked for', () => {
  expect(numbers(20, spin)).toHaveLength(9);
  expect(numbers(0)).toEqual([]);
});
