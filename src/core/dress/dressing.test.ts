import { describe, expect, it } from 'vitest';
import { dress, type DressingChoice, dressingOf, dressingSchema, finishOfOwn, fits, unknownFinish } from './dressing.js';
import { UNDRESSED, withParts, withSwap } from './edit.js';
import { LIBRARY, libraryFinish } from './library.js';

const PARTS = [
  { path: 'House', inPicture: true, finishes: [] },
  { path: 'House/Walls', inPicture: true, finishes: ['Brick'] },
  { path: 'House/Walls/Window glass', inPicture: true, finishes: ['Grey', 'Brick'] },
  { path: 'House/Helper', inPicture: false, finishes: ['Grey'] },
  { path: 'House B', inPicture: true, finishes: ['Grey'] },
];
const choice = (values: unknown): DressingChoice => dressingSchema.parse(values);
const dressed = (values: unknown) => dress(PARTS, choice(values));

describe('dressing', () => {
  it('leaves everything as it is where nothing is said', () => {
    expect(dress(PARTS, UNDRESSED).map((d) => [d.inPicture, d.onDesk, d.finishes])).toEqual([
      [true, true, []],
      [true, true, [null]],
      [true, true, [null, null]],
      [false, false, [null]],
      [true, true, [null]],
    ]);
    expect(dressingOf(undefined)).toBeUndefined();
    expect(dressingOf(UNDRESSED)).toBeUndefined();
  });

  it('goes for all below, unless that is set itself', () => {
    const out = dressed({
      parts: [
        { path: 'House', picture: false, desk: false },
        { path: 'House/Walls/Window glass', picture: true },
      ],
    });
    expect(out.map((d) => d.inPicture)).toEqual([false, false, true, false, true]);
    expect(out.map((d) => d.onDesk)).toEqual([false, false, false, false, true]);
  });

  it('takes names that only begin alike for others', () => {
    expect(dressed({ parts: [{ path: 'House', picture: false }] })[4]!.inPicture).toBe(true);
  });

  it('puts finishes on by part, by rule and by swap, in this order of weight', () => {
    const rules = [
      { match: '*', finish: 'pine' },
      { match: '*GLASS*', finish: 'clear glass, pane' },
    ];
    expect(dressed({ rules }).map((d) => d.finishes)).toEqual([[], ['pine'], ['clear glass, pane', 'clear glass, pane'], ['pine'], ['pine']]);
    expect(dressed({ rules, parts: [{ path: 'House/Walls', finish: 'ash' }] })[2]!.finishes).toEqual(['ash', 'ash']);
    // Swaps are of whatever is worn by then, one after the other.
    expect(
      dressed({
        rules,
        swaps: [
          { from: 'pine', to: 'oak, oiled' },
          { from: 'oak, oiled', to: 'Brick' },
        ],
      })[1]!.finishes,
    ).toEqual([null]);
  });

  it('wears the swaps of one variant on top', () => {
    const values = { swaps: [{ from: 'Grey', to: 'pine' }], variants: [{ id: 'dark', name: 'Dark', swaps: [{ from: 'pine', to: 'walnut' }] }] };
    expect(dressingOf(choice(values))!.swaps).toHaveLength(1);
    const dark = dressingOf(choice({ ...values, variant: 'dark' }))!;
    expect(dress(PARTS, dark)[4]!.finishes).toEqual(['walnut']);
    expect(dark.id).not.toBe(dressingOf(choice(values))!.id);
    expect(() => dressingOf(choice({ ...values, variant: 'light' }))).toThrow('There is no variant "light"');
  });

  it('is known by what changes pixels: the desk is not among it', () => {
    const a = dressingOf(choice({ parts: [{ path: 'House', finish: 'pine' }] }))!;
    const b = dressingOf(
      choice({
        parts: [
          { path: 'House', finish: 'pine', desk: false },
          { path: 'House B', desk: false },
        ],
      }),
    )!;
    expect(b.id).toBe(a.id);
  });

  it('says which finish nobody knows', () => {
    const ask = (values: unknown, model: string[]) => unknownFinish(dressingOf(choice(values))!, model);
    expect(ask({ parts: [{ path: 'x', finish: 'pine' }] }, [])).toBeNull();
    expect(ask({ parts: [{ path: 'x', finish: 'Grey' }] }, ['Grey'])).toBeNull();
    expect(ask({ rules: [{ match: '*', finish: 'Mine' }], finishes: [{ name: 'Mine', colour: '#ffffff' }] }, [])).toBeNull();
    expect(ask({ swaps: [{ from: 'Grey', to: 'unobtainium' }] }, ['Grey'])).toBe('unobtainium');
  });
});

describe('patterns of names', () => {
  it.each([
    ['*glass*', 'Window glass 2', true],
    ['glass', 'Glass', true],
    ['glass', 'Glass shade', false],
    ['leg ?', 'leg a', false],
    ['a.b*', 'a.bc', true],
    ['a.b*', 'axbc', false],
    ['(*)', '(left)', true],
  ])('%s on %s', (pattern, name, expected) => expect(fits(pattern, name)).toBe(expected));
});

describe('edits', () => {
  it('drop what says nothing any more', () => {
    const one = withParts(undefined, ['a', 'b'], { picture: false });
    expect(one.parts).toEqual([
      { path: 'a', picture: false },
      { path: 'b', picture: false },
    ]);
    expect(withParts(one, ['a'], { picture: undefined }).parts).toEqual([{ path: 'b', picture: false }]);
    expect(withParts(one, ['a'], { finish: 'pine' }).parts[0]).toEqual({ path: 'a', picture: false, finish: 'pine' });
  });

  it('swap in the worn variant, or for good', () => {
    expect(withSwap(undefined, 'Grey', 'pine').swaps).toEqual([{ from: 'Grey', to: 'pine' }]);
    const worn = choice({ variants: [{ id: 'v', name: 'V', swaps: [] }], variant: 'v' });
    const next = withSwap(worn, 'Grey', 'pine');
    expect([next.swaps, next.variants[0]!.swaps]).toEqual([[], [{ from: 'Grey', to: 'pine' }]]);
    expect(withSwap(next, 'Grey', 'Grey').variants[0]!.swaps).toEqual([]);
  });
});

describe('the library', () => {
  it('has about fifty finishes, each name once, all physically possible', () => {
    expect(LIBRARY.length).toBeGreaterThanOrEqual(40);
    expect(new Set(LIBRARY.map((l) => l.finish.name)).size).toBe(LIBRARY.length);
    for (const { finish, group } of LIBRARY) {
      for (const c of finish.base) expect(c).toBeLessThanOrEqual(1);
      for (const key of ['metalness', 'roughness', 'transmission', 'coat', 'translucency'] as const) {
        expect(finish[key], finish.name).toBeGreaterThanOrEqual(0);
        expect(finish[key], finish.name).toBeLessThanOrEqual(1);
      }
      expect(Math.max(...finish.emission) > 0, finish.name).toBe(group === 'light');
    }
    expect(libraryFinish('pine')!.metalness).toBe(0);
    expect(libraryFinish('unobtainium')).toBeUndefined();
  });

  it('does not hide finishes of one’s own', () => {
    const mine = finishOfOwn(dressingSchema.parse({ finishes: [{ name: 'Mine', colour: '#ff0000', glow: 2 }] }).finishes[0]!);
    expect(mine.base).toEqual([1, 0, 0]);
    expect(mine.emission).toEqual([2, 0, 0]);
  });
});
