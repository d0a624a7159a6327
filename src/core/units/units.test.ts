import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { formatHex, parseHex, toDisplay, toLinear } from './colour.js';
import { formatNumber, parseField } from './field.js';
import { frameTime, framesOfDuration, parseRate, rateName, readRate } from './rate.js';

describe('colour', () => {
  it('reads and writes hex through linear light', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 0xffffff }), (n) => {
        const hex = `#${n.toString(16).padStart(6, '0')}`;
        expect(formatHex(parseHex(hex))).toBe(hex);
      }),
    );
  });

  it('refuses what is not a colour', () => {
    expect(() => parseHex('red')).toThrow('"red" is not a colour');
  });

  it('goes there and back', () => {
    fc.assert(fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (c) => Math.abs(toLinear(toDisplay(c)) - c) < 1e-6));
  });
});

describe('field arithmetic', () => {
  it.each([
    ['1920*2', 'number', 3840],
    ['1/3', 'number', 1 / 3],
    ['2*(3+4)', 'number', 14],
    ['-5 + 2', 'number', -3],
    ['1920 px', 'number', 1920],
    ['90 s', 'time', 90],
    ['1.5 min', 'time', 90],
    ['250 ms', 'time', 0.25],
    ['6 ft 2 in', 'length', 1.8796],
    ['40 cm', 'length', 0.4],
    ['1,65', 'length', 1.65],
    ['1/4 turn', 'angle', 1 / 1440],
    ['0.25 turn', 'angle', 90],
    ['3.5 cm', 'focal', 35],
  ] as const)('%s as %s is %f', (text, quantity, value) => {
    expect(parseField(text, quantity)).toBeCloseTo(value, 9);
  });

  it.each([
    ['', 'Write a number.'],
    ['3 +', 'ends early'],
    ['(2', 'not closed'],
    ['4 apples', '"apples" is not a unit here'],
    ['1/0', 'divides by zero'],
    ['2 3', 'more here than one number'],
    ['process.exit()', 'is not understood here'],
    ['px', 'A number is missing'],
    ['1e999', 'too large'],
  ])('%j is refused: %s', (text, message) => {
    expect(() => parseField(text)).toThrow(message);
  });

  it('reads what it writes', () => {
    fc.assert(fc.property(fc.double({ min: -1e6, max: 1e6, noNaN: true }), (v) => Math.abs(parseField(formatNumber(v)) - v) <= 0.0005 + 1e-9));
  });

  it('never returns what is not a number', () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        try {
          return Number.isFinite(parseField(text));
        } catch {
          return true;
        }
      }),
    );
  });
});

describe('rate', () => {
  it('keeps the NTSC rates as exact rationals', () => {
    expect(parseRate('29.97')).toEqual({ numerator: 30000, denominator: 1001 });
    expect(frameTime(30000, parseRate('29.97'))).toBe(1001);
    expect(rateName('24000/1001')).toBe('23.976');
  });

  it('counts frames of a duration', () => {
    expect(framesOfDuration(5, parseRate('24'))).toBe(120);
    expect(framesOfDuration(1001, parseRate('30000/1001'))).toBe(30000);
  });

  it.each([
    ['29.97', '30000/1001'],
    [' 25 ', '25'],
    ['12.5', '25/2'],
    ['24.000', '24'],
    ['18.333', '18333/1000'],
    ['24000/1001', '24000/1001'],
  ])('reads %s as %s', (typed, kept) => {
    expect(readRate(typed)).toBe(kept);
  });

  it.each(['0.5', '300', 'film', '24.1234'])('does not read %s', (typed) => {
    expect(() => readRate(typed)).toThrow('is not a frame rate');
  });

  it.each(['0', 'fast', '24/0', '-24', '1000'])('refuses %s', (text) => {
    expect(() => parseRate(text)).toThrow('is not a frame rate');
  });
});
