import { describe, expect, it } from 'vitest';
import { closedHall } from '../../../bench/scenes.js';
import { unionRegion, renderSteps, takeFollowing, tilesOfRegion } from './renderSteps.js';
import { frameFor } from '../../../tests/support/trace.js';

const hall = closedHall(1);
const view = { eye: [-7, 1.7, -13.9] as [number, number, number], target: [0, 1.9, 4] as [number, number, number], width: 200, height: 100 };
const frame = (samples: number, denoise: boolean) => {
  const plain = frameFor(hall, { ...view, samples });
  return { ...plain, sampling: { ...plain.sampling, samples, denoise } };
};
const told = (samples: number, denoise: boolean, options = {}): string[] =>
  renderSteps(frame(samples, denoise), options).map(({ type, from, to }) => (type === 'trace' ? `${from}..${to}` : type));

describe('the stages of a frame', () => {
  it('takes all samples at once where nothing is denoised', () => {
    expect(told(48, false)).toEqual(['0..48', 'average']);
  });

  it('looks at what pixels need after a third of the samples of a denoised picture', () => {
    expect(told(48, true).slice(0, 4)).toEqual(['0..16', 'foresee', 'share', '16..48']);
  });

  it('comes to the same place in rounds that double', () => {
    const rounds = told(48, true, { onRound: () => {} }).filter((s) => s.includes('..') || s === 'foresee' || s === 'share');
    expect(rounds).toEqual(['0..1', '1..2', '2..4', '4..8', '8..16', 'foresee', 'share', '16..32', '32..48']);
    const odd = told(50, true, { onRound: () => {} }).filter((s) => s.includes('..') || s === 'foresee' || s === 'share');
    expect(odd.slice(4, 9)).toEqual(['8..16', '16..17', 'foresee', 'share', '17..34']);
  });

  it('goes on from beyond that place by what was foreseen before', () => {
    expect(told(48, true, { resume: { samples: 20 } }).slice(0, 2)).toEqual(['share', '20..48']);
    expect(told(48, true, { resume: { samples: 16 } }).slice(0, 3)).toEqual(['foresee', 'share', '16..48']);
    expect(told(48, true, { resume: { samples: 8 } }).slice(0, 4)).toEqual(['8..16', 'foresee', 'share', '16..48']);
  });

  it('cuts sampling into the tiles that a region meets, and development into all', () => {
    const region = { x: 40, y: 10, width: 30, height: 20 };
    const tiles = tilesOfRegion({ type: 'foresee', from: 0, to: 0 }, 1, frame(48, true), 32, { region });
    expect(tiles.map(({ x, y }) => [x, y])).toEqual([
      [32, 0],
      [64, 0],
    ]);
    expect(unionRegion(tiles)).toEqual({ x: 32, y: 0, width: 64, height: 32 });
    const whole = unionRegion(tilesOfRegion({ type: 'finish', from: 0, to: 0 }, 1, frame(48, true), 32, { region }));
    expect(whole).toEqual({ x: 0, y: 0, width: 200, height: 100 });
  });

  it('lets a worker go on by itself where its tile is the whole picture', () => {
    const steps = (size: { width: number; height: number }, options = {}) => {
      const plain = { ...frame(48, true), size };
      const [first, ...stages] = renderSteps(plain, options);
      const tiles = (s: (typeof stages)[number]) => tilesOfRegion(s, 1, plain, 32, options);
      const then = takeFollowing(stages, tiles(first!)[0]!, tiles);
      return { then: then!.map(({ type }) => type), left: stages.map(({ type }) => type) };
    };
    // What the host does itself, and samples that may be ended before they are begun, are not left to the worker.
    expect(steps({ width: 32, height: 16 })).toMatchObject({
      then: ['foresee'],
      left: ['share', 'trace', 'prepare', 'smooth', ...new Array(5).fill('level'), 'finish'],
    });
    expect(steps({ width: 32, height: 16 }, { enough: {} })).toMatchObject({ then: [] });
    expect(steps({ width: 64, height: 16 })).toMatchObject({ then: [] });
    const develop = { resume: { samples: 47 } };
    expect(steps({ width: 32, height: 16 }, develop).then).toEqual([]);
  });
});
