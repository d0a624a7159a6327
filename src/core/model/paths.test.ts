import { describe, expect, it } from 'vitest';
import { isBelow, isWithin, withinAll } from './paths.js';

const parts = [
  { path: 'Tern', parent: -1 },
  { path: 'Tern/Head', parent: 0 },
  { path: 'Tern/Head/Shade', parent: 1 },
  { path: 'Tern/Header', parent: 0 },
  { path: 'Base', parent: -1 },
];

describe('paths of parts', () => {
  it('are below their parents, and not below those whose names only begin alike', () => {
    expect(parts.map((p) => isBelow(p.path, 'Tern/Head'))).toEqual([false, true, true, false, false]);
  });

  it.each([[[]], [['Tern']], [['Tern/Head', 'Base']], [['Tern/Head/Shade']], [['Head', 'Tern/He']]])(
    'within %j: the same one by one and all at once',
    (tops) => {
      const chosen = new Set(tops);
      const one = parts.map((p) => isWithin(p.path, chosen));
      expect(withinAll(parts, chosen)).toEqual(one);
      expect(one).toEqual(parts.map((p) => tops.some((top) => isBelow(p.path, top))));
    },
  );
});
