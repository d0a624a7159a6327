import { describe, expect, it } from 'vitest';
import { BOUNDS, setOf } from '../../../tests/support/preflight.js';
import type { SetFile } from '../plan/set.js';
import { planFrames } from '../planning/planFrames.js';
import { applyPatch } from './patch.js';
import { unplannable } from './unplannable.js';

const context = { bounds: BOUNDS, scene: 'scene' };

function findingOf(set: SetFile): ReturnType<typeof unplannable>['findings'][number] {
  try {
    planFrames(set, context);
  } catch (e) {
    return unplannable(e as Error, set, context).findings[0]!;
  }
  throw new Error('This set can be planned.');
}

const spin = (id: string, name?: string) => ({ id, kind: 'turntable', view: 'front', frames: 3, ...(name && { name }) });

describe('a set that cannot be planned', () => {
  it.each([
    ['shots of one name', { shots: [spin('a', 'Spin'), spin('b', 'spin'), spin('c', 'SPIN')] }, 'names-alike', 'Number same-named shots'],
    [
      'a pattern without the pass',
      { sheet: { passes: ['beauty', 'depth'], names: { still: '{view}', moving: '{shot}.{frame}' } } },
      'names-alike',
      'Add what tells frames apart',
    ],
    [
      'patterns without the shot',
      { shots: [spin('a'), spin('b')], sheet: { names: { still: '{view}', moving: 'all.{frame}' } } },
      'names-alike',
      'Add the shot to names',
    ],
    ['a reserved name', { sheet: { names: { still: 'aux/{view}', moving: '{shot}.{frame}' } } }, 'name-unwritable', 'Use the standard names'],
    [
      'an endless pattern',
      { name: 'long'.repeat(20), sheet: { names: { still: '{set}{set}{set}{set}{view}', moving: '{shot}.{frame}' } } },
      'name-unwritable',
      'Use the standard names',
    ],
  ])('by %s names the fault and offers what mends it', (_, changes, check, label) => {
    const set = setOf(changes);
    const found = findingOf(set);
    expect([found.check, found.severity, found.fix!.label]).toEqual([check, 'fault', label]);
    const mended = applyPatch(set, found.fix!.patch);
    expect(planFrames(mended, context).length).toBe(mended.shots.length * (mended.shots[0]!.kind === 'still' ? 1 : 3));
  });

  it('has no fix where no pattern helps', () => {
    const found = findingOf(setOf({ name: 'x'.repeat(60), shots: [{ id: 'still', kind: 'still', views: ['front'], name: 'con' }] }));
    expect(found).toMatchObject({ check: 'name-unwritable', run: 'still', shotName: 'con', blocks: true });
    expect(found.fix).toBeUndefined();
  });

  it('for another reason says just that', () => {
    expect(unplannable(new Error('The set has too many frames.'), setOf(), context).findings).toMatchObject([
      { check: 'no-plan', title: 'Set cannot be planned', message: 'The set has too many frames.' },
    ]);
  });
});
