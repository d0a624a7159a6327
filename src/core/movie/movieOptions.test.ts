/** Which frames a movie shows, in what order, and through what fade. */
import { describe, expect, it } from 'vitest';
import { parseRate } from '../units/rate.js';
import { fillLine, type LineWords, MAX_MOVIE_FRAMES, movieOptionsSchema, movieSteps } from './movieOptions.js';

const rate = parseRate('25');
const numbers = [1, 2, 3, 4, 5, 6];
const shown = (options: object, of = numbers): number[] => movieSteps(of, movieOptionsSchema.parse(options), rate).map((s) => of[s.index]!);

describe('the frames of a movie', () => {
  it('are all of the shot, or those between two numbers', () => {
    expect(shown({})).toEqual(numbers);
    expect(shown({ from: 2, to: 4 })).toEqual([2, 3, 4]);
    expect(shown({ from: 11 }, [1, 11, 21])).toEqual([11, 21]);
    expect(() => shown({ from: 7 })).toThrow('There is no frame from 7 to the last.');
    expect(movieOptionsSchema.safeParse({ from: 4, to: 2 }).success).toBe(false);
  });
  it('go there and back without a stop at either end, also several times', () => {
    expect(shown({ to: 4, play: 'thereAndBack' })).toEqual([1, 2, 3, 4, 3, 2]);
    expect(shown({ to: 3, play: 'thereAndBack', loops: 2 })).toEqual([1, 2, 3, 2, 1, 2, 3, 2]);
    expect(shown({ to: 2, loops: 3 })).toEqual([1, 2, 1, 2, 1, 2]);
  });
  it('are passed over or repeated by the speed', () => {
    expect(shown({ speed: 2 })).toEqual([1, 3, 5]);
    expect(shown({ speed: 0.5, to: 3 })).toEqual([1, 1, 2, 2, 3, 3]);
    expect(shown({ speed: 10 })).toEqual([1]);
  });
  it('stand still before and after for the stated time', () => {
    expect(shown({ to: 2, holdFirst: 0.08, holdLast: 0.04 })).toEqual([1, 1, 1, 2, 2]);
  });
  it('come out of a colour and go into it evenly', () => {
    const steps = movieSteps(
      Array.from({ length: 11 }, (_, i) => i),
      movieOptionsSchema.parse({ fadeIn: 0.16, fadeOut: 0.08 }),
      rate,
    );
    expect(steps.map((s) => s.share)).toEqual([0, 0.25, 0.5, 0.75, 1, 1, 1, 1, 1, 0.5, 0]);
  });
  it('are not more than an hour of them', () => {
    const many = Array.from({ length: 20_000 }, (_, i) => i);
    expect(() => shown({ loops: 20 }, many)).toThrow(`more than ${MAX_MOVIE_FRAMES} frames`);
  });
});

describe('the line over a movie', () => {
  const words: LineWords = {
    project: 'Tern',
    set: 'Review',
    shot: 'Spin',
    view: '',
    revision: 'B',
    frame: '0007',
    timecode: '00:00:00:06',
    date: '',
    time: '',
    size: '1920 × 1080',
  };
  it('has its tokens filled in, and no gaps where one is empty', () => {
    expect(fillLine('{project} {revision} {view} · {timecode}', words)).toBe('Tern B · 00:00:00:06');
    expect(fillLine('own words', words)).toBe('own words');
  });
  it('names a token that is not known', () => {
    expect(() => fillLine('{shotname}', words)).toThrow('{shotname} is no token; use {project}');
  });
});
