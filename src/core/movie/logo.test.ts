import { expect, it } from 'vitest';
import { logoPlace } from './logo.js';

const frame = { width: 1920, height: 1080 };

it.each([
  ['top left', 58, 58],
  ['top right', 1632, 58],
  ['bottom left', 58, 907],
  ['bottom right', 1632, 907],
] as const)('a logo stands in the %s corner, its margin away from both edges', (corner, left, top) => {
  // 12 % of 1920 are 230 pixels, of which a logo of 2 to 1 takes half as height.
  expect(logoPlace(frame, { width: 600, height: 300 }, { corner, width: 0.12, margin: 0.03 })).toEqual({ width: 230, height: 115, left, top });
});

it('keeps its proportions and stays within the frame, however large it is asked for', () => {
  expect(logoPlace(frame, { width: 100, height: 400 }, { corner: 'top left', width: 1, margin: 0.05 })).toEqual({
    width: 222,
    height: 888,
    left: 96,
    top: 96,
  });
  expect(logoPlace({ width: 16, height: 16 }, { width: 4000, height: 10 }, { corner: 'bottom right', width: 0.01, margin: 0 })).toEqual({
    width: 1,
    height: 1,
    left: 15,
    top: 15,
  });
});
