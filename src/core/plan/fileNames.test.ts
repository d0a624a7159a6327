import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { slugify, fillPattern, nameProblem, patternProblem, compileNamePattern, withTokens } from './fileNames.js';
import { printSize, readSizes, scaledSize } from './sizes.js';

describe('names of frames in a row', () => {
  const patterns = fc.array(fc.constantFrom('{shot}', '{view}', '{frame:4}', '{frame}', '{pass}', '{date}', '_', '/x', '.'), {
    minLength: 1,
    maxLength: 8,
  });
  const words = fc.record({
    shot: fc.string({ maxLength: 5 }),
    view: fc.constantFrom('A', 'B'),
    pass: fc.constant('beauty'),
    date: fc.constantFrom('2026-06-21', undefined),
  });

  it('are those that each frame would have by itself', () => {
    fc.assert(
      fc.property(patterns, fc.array(words, { minLength: 1, maxLength: 6 }), (parts, rows) => {
        const pattern = parts.join('');
        const name = compileNamePattern(pattern);
        rows.forEach((values, number) => expect(name(values, number)).toBe(fillPattern(pattern, { ...values, number })));
      }),
    );
  });
});

describe('tokens that tell frames apart', () => {
  it('stand behind the last view or shot, and only where they are missing', () => {
    expect(withTokens('{set}/{shot}/{view}_{pass}', ['variant', 'size'])).toBe('{set}/{shot}/{view}_{variant}_{size}_{pass}');
    expect(withTokens('{set}/{shot}/{shot}_{pass}.{frame:4}', ['size'])).toBe('{set}/{shot}/{shot}_{size}_{pass}.{frame:4}');
    expect(withTokens('{size}/{view}', ['size'])).toBe('{size}/{view}');
    expect(withTokens('picture', ['date'])).toBe('{date}_picture');
  });
  it('leave the pattern one that can be used', () => {
    for (const pattern of ['{view}', 'a/{frame:3}', '{shot}.{frame}'])
      expect(patternProblem(withTokens(pattern, ['variant', 'date', 'time', 'size']), false)).toBeNull();
  });
});

describe('words in file names', () => {
  it.each([
    ['Ansicht / Süd', 'Ansicht-Süd'],
    ['..hidden..', 'hidden'],
    ['a:b*c?"d"<e>|f', 'a-b-c-d-e-f'],
    ['   ', 'unnamed'],
  ])('%s', (text, word) => {
    expect(slugify(text)).toBe(word);
  });
});

describe('sizes', () => {
  it('are read from a line, or it is said which word is none', () => {
    expect(readSizes('1920x1080, 1080 × 1080;640X360')).toEqual([
      { width: 1920, height: 1080 },
      { width: 1080, height: 1080 },
      { width: 640, height: 360 },
    ]);
    expect(readSizes('')).toEqual([]);
    expect(readSizes('1920x1080, wide')).toBe('"wide" is not a size; write it as 1920x1080.');
  });
  it('on paper go by dots an inch: A4 across at 300 is 3508 by 2480', () => {
    expect(printSize(297, 210)).toEqual({ width: 3508, height: 2480 });
    expect(scaledSize({ width: 1921, height: 3 }, 0.5)).toEqual({ width: 961, height: 2 });
  });
});

describe('names that every common system takes', () => {
  it.each(['Landing/spin/spin_beauty.0001', 'Größe/日本語/a', 'console/auxiliary/com10', 'a.b.c/d'])('%s is one', (name) => {
    expect(nameProblem(name)).toBeNull();
  });

  it.each([
    ['CON/a', '"CON" is a name that some systems keep'],
    ['a/nul', '"nul" is a name'],
    ['a/Lpt1.0001', '"Lpt1" is a name'],
    ['a./b', 'ends in a dot or a blank'],
    ['a /b', 'ends in a dot or a blank'],
    ['a/b.', 'ends in a dot or a blank'],
    ['a\u0007b', 'control characters'],
    ['a\u202egpj', 'direction marks'],
    ['x'.repeat(246), 'has 246 bytes, and 245 is the most'],
    // Bytes count, not letters.
    ['日'.repeat(82), 'has 246 bytes'],
    [Array.from({ length: 9 }, () => 'x'.repeat(99)).join('/'), 'it has 899 bytes, and 800 is the most'],
  ])('%s is none', (name, why) => {
    expect(nameProblem(name)).toContain(why);
  });

  it('takes the longest part that there may be', () => {
    expect(nameProblem('x'.repeat(245))).toBeNull();
    expect(nameProblem(`${'日'.repeat(81)}ab`)).toBeNull();
  });

  it('leaves direction marks out of words', () => {
    expect(slugify('view\u202egpj.exe')).toBe('viewgpj.exe');
  });
});
