/** Speed of the checks before a run: a thousand frames of a large model, a turntable of the demo, and an edit of one view. */
import { LAMP_SHOTS } from '../demo/sets.js';
import { tern } from '../demo/tern.js';
import { type Model, modelBounds, triangleCount } from '../src/core/model/model.js';
import { PlanCache } from '../src/core/planning/planCache.js';
import { planFrames } from '../src/core/planning/planFrames.js';
import { parseSet, type SetFile } from '../src/core/plan/set.js';
import { preflightPlan } from '../src/core/preflight/preflight.js';
import { loadKernelModule } from '../src/engine/node/assets.js';
import { checkPlan, type ProbeCache } from '../src/engine/probes/checkPlan.js';
import { SceneProber } from '../src/engine/probes/sceneProber.js';
import { compile } from '../src/engine/scene/compile.js';
import { displacedSphere } from './scenes.js';

/** What probing a set took. */
export interface PreflightRow {
  what: string;
  triangles: number;
  frames: number;
  /** Until the scene lies in memory and the first frame is probed. */
  first: number;
  /** For all frames after that. */
  seconds: number;
}

/** A plan of so many frames around the model, and what `edit` makes of it afterwards. */
interface PreflightCase {
  what: string;
  model: Model;
  set: SetFile;
  edit?: (set: SetFile) => SetFile;
}

/** Checks each case from a cold start; where there is an edit, what comes after that alone is measured. */
export async function measurePreflight(cases: readonly PreflightCase[]): Promise<PreflightRow[]> {
  const module = loadKernelModule();
  const rows: PreflightRow[] = [];
  for (const { what, model, set, edit } of cases) {
    const scene = compile(module, model);
    const bounds = modelBounds(model);
    const parts = model.parts.map(({ path, renderVisible, isContext, primitives }) => ({
      path,
      renderVisible,
      isContext,
      triangles: primitives.reduce((n, p) => n + model.meshes[p.mesh]!.indices.length / 3, 0),
    }));
    const none = (): never => {
      throw new Error('These models have no images of their own.');
    };
    const source = { hash: what, scene: () => scene, module: () => module, texture: none, picture: none };
    const prober = new SceneProber(module);
    const cache: ProbeCache = new Map();
    const plans = new PlanCache();
    const check = (file: SetFile, few = false) => {
      const frames = planFrames(file, { bounds, scene: what }, plans);
      return checkPlan(preflightPlan(file, few ? frames.slice(0, 1) : frames, { parts, bounds, scene: what }), prober, source, { cache });
    };
    const started = performance.now();
    await check(set, true);
    const first = (performance.now() - started) / 1000;
    if (edit) await check(set);
    const before = performance.now();
    const { frames } = await check(edit ? edit(set) : set);
    rows.push({ what, triangles: triangleCount(model), frames, first, seconds: (performance.now() - before) / 1000 });
  }
  return rows;
}

/** Frames of one shot around a model of this size, at the usual proportions. */
function aroundSet(frames: number, radius: number): SetFile {
  const eye = [2.2 * radius, 1.4 * radius, 2.6 * radius];
  return parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'Around',
    sheet: { size: { width: 1920, height: 1080 } },
    views: [{ id: 'v', name: 'V', eye, target: [0, 0, 0], focalLength: 40 }],
    shots: [{ id: 's', kind: 'turntable', view: 'v', frames }],
  });
}

/** What the aims are stated for. @param scale of the large model, 1 for a million triangles. */
export function preflightCases(scale: number): PreflightCase[] {
  const lamp = parseSet({ ...LAMP_SHOTS, shots: LAMP_SHOTS.shots.filter((s) => s.id === 'turntable') });
  const all = parseSet(LAMP_SHOTS);
  return [
    { what: 'large model', model: displacedSphere(Math.round(1000 * Math.sqrt(scale))), set: aroundSet(1000, 1) },
    { what: 'turntable of Tern', model: tern(), set: lamp },
    {
      what: 'one view of Tern edited',
      model: tern(),
      set: all,
      // A view that stills alone show: the turntable's frames stay as they are.
      edit: (set) => ({ ...set, views: set.views.map((v) => (v.id === 'front' ? { ...v, focalLength: v.focalLength + 1 } : v)) }),
    },
    {
      what: 'all of Tern in another quality',
      model: tern(),
      set: all,
      edit: (set) => ({ ...set, sheet: { ...set.sheet, quality: 'final' } }),
    },
    {
      what: 'all of Tern in other proportions',
      model: tern(),
      set: all,
      edit: (set) => ({ ...set, sheet: { ...set.sheet, size: { ...set.sheet.size, height: set.sheet.size.height + 20 } } }),
    },
  ];
}
