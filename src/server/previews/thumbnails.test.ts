import { describe, expect, it, vi } from 'vitest';
import { parseSet } from '../../core/plan/set.js';
import type { RenderOptions } from '../../engine/scheduler/job.js';
import type { ServerContext } from '../context.js';
import type { PlanSet, Project, Revision } from '../db/models.js';
import { renderThumbnail } from './thumbnails.js';

const file = parseSet({
  format: 'cold-easel.set',
  version: 2,
  name: 'Set',
  views: [{ id: 'v', name: 'V', eye: [0, 1, 5], target: [0, 0, 0] }],
  shots: [{ id: 'spin', kind: 'turntable', view: 'v', frames: 8 }],
});
const bounds = { min: [-1, 0, -1], max: [1, 1, 1] };
const project = { id: 1, name: 'P' } as Project;
const set = { id: 1, file: JSON.stringify(file) } as PlanSet;
const revision = { id: 1, hash: 'abc', letter: 'A', digest: JSON.stringify({ bounds, hash: 'abc', name: 'M' }) } as Revision;

/** A pool that draws nothing, but says what it was asked. */
function context() {
  const asked: RenderOptions[] = [];
  const render = vi.fn(
    (_key: string, _load: unknown, _frame: unknown, options: RenderOptions) =>
      new Promise((_resolve, reject) => {
        asked.push(options);
        options.signal!.addEventListener('abort', () => reject(new Error('stopped')));
      }),
  );
  const store = { thumbnail: () => 'nowhere', exists: () => Promise.resolve(false), source: () => ({}) };
  return { asked, context: { pool: { render }, store, config: { thumbnailSamples: 12 } } as unknown as ServerContext };
}

const settled = () => new Promise((resolve) => setTimeout(resolve, 5));

describe('small frames', () => {
  it('are drawn once for all who ask, until the last of them has gone', async () => {
    const { asked, context: c } = context();
    const [one, two] = [new AbortController(), new AbortController()];
    const ask = (gone: AbortController) =>
      renderThumbnail(c, project, set, revision, { shot: 'spin', index: 1 }, 96, gone.signal).catch((e: Error) => e.message);
    const [first, second] = [ask(one), ask(two)];
    await settled();
    expect(asked).toHaveLength(1);
    one.abort();
    await settled();
    expect(asked[0]!.signal!.aborted).toBe(false);
    two.abort();
    expect(await Promise.all([first, second])).toEqual(['stopped', 'stopped']);
    expect(asked[0]!.signal!.aborted).toBe(true);
    // Whoever comes back has it drawn anew, and one that cannot go away keeps it.
    const back = new AbortController();
    void ask(back);
    void renderThumbnail(c, project, set, revision, { shot: 'spin', index: 1 }, 96).catch(() => undefined);
    await settled();
    back.abort();
    await settled();
    expect(asked).toHaveLength(2);
    expect(asked[1]!.signal!.aborted).toBe(false);
  });

  it('of a strip go before the larger ones, and both before frames of a batch', async () => {
    const { asked, context: c } = context();
    void renderThumbnail(c, project, set, revision, { view: 'v' }, 320).catch(() => undefined);
    void renderThumbnail(c, project, set, revision, { shot: 'spin', index: 2 }, 96).catch(() => undefined);
    await settled();
    const [large, strip] = asked.map((a) => a.priority!);
    expect(strip!).toBeGreaterThan(large!);
    expect(large!).toBeGreaterThan(0);
  });
});
