/** A share of the frames is probed elsewhere: the answers are the same, whoever gives them. */
import { describe, expect, it } from 'vitest';
import { box, planOfModel } from '../../../tests/support/checkModel.js';
import { wantedProbes } from '../../core/preflight/preflight.js';
import { loadKernelModule } from '../node/assets.js';
import { compile } from '../scene/compile.js';
import { type ProbeHelper, probePlan } from './checkPlan.js';
import { SceneProber } from './sceneProber.js';

const module = loadKernelModule();
type Plan = ReturnType<typeof planOfModel>['plan'];
const PIECES = [{ name: 'Box', mesh: box([-1, 0, -1], [1, 2, 1]) }];
const views = [{ id: 'v', name: 'V', eye: [3, 2, 6], target: [0, 1, 0] }];
const { model, plan } = planOfModel(PIECES, { views, shots: [{ id: 'spin', kind: 'turntable', view: 'v', frames: 60 }] });
const SHOTS = { views, shots: [{ id: 'spin', kind: 'turntable', view: 'v', frames: 4 }] };
const { frames } = plan.outputs[0]!;
const scene = compile(module, model);
const none = (): never => {
  throw new Error('This scene has no images.');
};
const source = { hash: 'box', scene: () => scene, module: () => module, texture: none, picture: none };

/** Probes in this thread, in its own time, and notes what it was asked. */
function helping(asked: number[]): ProbeHelper {
  const prober = new SceneProber(module);
  const wanted = wantedProbes(plan);
  return async (indices) => {
    asked.push(...indices);
    await new Promise((resolve) => setImmediate(resolve));
    return Promise.all(indices.map((i) => prober.probe(wanted[i]!, source)));
  };
}

describe('frames probed by two', () => {
  it('have the answers of one, each once', async () => {
    const alone = await probePlan(plan, new SceneProber(module), source);
    const asked: number[] = [];
    const both = await probePlan(plan, new SceneProber(module), source, { helper: helping(asked) });
    expect(both).toEqual(alone);
    expect([...both.keys()]).toEqual(frames);
    expect(asked.length).toBeGreaterThan(15);
    expect(asked.length).toBeLessThan(60);
    expect(new Set(asked).size).toBe(asked.length);
  });

  it('are probed by the first where the other breaks down', async () => {
    const alone = await probePlan(plan, new SceneProber(module), source);
    const left = await probePlan(plan, new SceneProber(module), source, { helper: () => Promise.reject(new Error('gone')) });
    expect(left).toEqual(alone);
  });

  it('are left where nobody waits any more, and those that are known are not asked again', async () => {
    const cache = new Map();
    const stop = new AbortController();
    const asked: number[] = [];
    const own = new SceneProber(module);
    const stopped = probePlan(plan, own, source, { cache, helper: helping(asked), signal: stop.signal, onProgress: () => stop.abort() });
    await expect(stopped).rejects.toThrow('aborted');
    const known = cache.size;
    expect(known).toBeLessThan(60);
    const again: number[] = [];
    await probePlan(plan, own, source, { cache, helper: helping(again) });
    expect(again.length).toBeLessThanOrEqual(60 - known);
  });

  it('few of them are not worth a helper', async () => {
    const asked: number[] = [];
    const few = { ...plan, outputs: [{ ...plan.outputs[0]!, frames: frames.slice(0, 10) }] };
    expect((await probePlan(few, new SceneProber(module), source, { helper: helping(asked) })).size).toBe(10);
    expect(asked).toEqual([]);
  });

  it.each([
    ['more samples', { quality: 'final' }],
    ['a quick quality', { quality: 'quick' }],
    ['more pixels of the same proportions', { size: { width: 1920, height: 1080 } }],
    ['other passes and files', { passes: ['beauty', 'depth'], files: [{ type: 'exr' }] }],
  ])('are not asked again for %s, since the answers would be the same', async (_, sheet) => {
    const small = { size: { width: 640, height: 360 }, quality: 'draft' };
    const [before, after] = [small, { ...small, ...sheet }].map((own) => planOfModel(PIECES, { ...SHOTS, sheet: own }).plan) as [Plan, Plan];
    const cache = new Map();
    const known = await probePlan(before, new SceneProber(module), source, { cache });
    const size = cache.size;
    await probePlan(after, new SceneProber(module), source, { cache });
    expect(cache.size).toBe(size);
    const anew = await probePlan(after, new SceneProber(module), source);
    expect([...anew.values()]).toEqual([...known.values()]);
  });

  it.each([
    ['other proportions', { sheet: { size: { width: 640, height: 400 }, quality: 'draft' } }],
    ['another stage', { stage: { preset: 'dark sweep' } }],
    ['fewer interfaces', { sheet: { size: { width: 640, height: 360 }, quality: { samples: 16, depth: { refractionDepth: 3 } } } }],
  ])('are asked again for %s', async (_, changes) => {
    const sheet = { size: { width: 640, height: 360 }, quality: 'draft' };
    const cache = new Map();
    await probePlan(planOfModel(PIECES, { ...SHOTS, sheet }).plan, new SceneProber(module), source, { cache });
    const size = cache.size;
    await probePlan(planOfModel(PIECES, { ...SHOTS, sheet, ...changes }).plan, new SceneProber(module), source, { cache });
    expect(cache.size).toBe(2 * size);
  });
});
