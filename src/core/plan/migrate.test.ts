import { describe, expect, it } from 'vitest';
import { migrate } from './migrate.js';
import { parseSet } from './set.js';

const steps = {
  1: (f: Record<string, unknown>) => ({ ...f, title: f.name, name: undefined }),
  2: (f: Record<string, unknown>) => ({ ...f, title: String(f.title).toUpperCase() }),
};

describe('files of earlier versions', () => {
  it('are brought up step by step, and those of the present one stay', () => {
    expect(migrate({ version: 1, name: 'a' }, 3, steps, 'set')).toEqual({ version: 3, title: 'A' });
    expect(migrate({ version: 2, title: 'b' }, 3, steps, 'set')).toEqual({ version: 3, title: 'B' });
    const now = { version: 3, title: 'c' };
    expect(migrate(now, 3, steps, 'set')).toBe(now);
  });

  it('of later versions, and of those that nothing leads on from, are refused with the remedy', () => {
    expect(() => migrate({ version: 4 }, 3, steps, 'set')).toThrow(
      'this set is of version 4, and this application reads up to 3. Update the application',
    );
    expect(() => migrate({ version: 0 }, 3, steps, 'set')).toThrow('there is no migration from version 0');
    expect(() => parseSet({ format: 'cold-easel.set', version: 7, name: 'x' })).toThrow(/version 7, .* reads up to 2/);
  });

  it('what is no such file is left to its schema', () => {
    for (const odd of [null, 4, 'x', [], { version: 'one' }, {}]) expect(migrate(odd, 3, steps, 'set')).toBe(odd);
    expect(() => parseSet({ format: 'cold-easel.set', name: 'x' })).toThrow('version');
  });
});
