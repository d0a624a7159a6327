import { describe, expect, it } from 'vitest';
import { withFrame, ENGINE_VERSION } from './frame.js';
import { planFrames } from '../planning/planFrames.js';
import { hashOf } from '../base/hash.js';
import { identityOf } from './identity.js';
import { parseSet } from '../plan/set.js';

const set = parseSet({
  format: 'cold-easel.set',
  version: 2,
  name: 'Set',
  sheet: { shutter: 180, passes: ['beauty', 'depth'], lines: { width: 1 } },
  section: { planes: [{ normal: [1, 0, 0], offset: 0.2 }] },
  views: [{ id: 'v', name: 'V', eye: [0, 1, 5], target: [0, 0, 0] }],
  shots: [
    { id: 'spin', kind: 'turntable', view: 'v', frames: 5, turns: ['subject', 'environment'] },
    { id: 'round', kind: 'turntable', view: 'v', frames: 5, turns: ['camera'] },
    { id: 'still', kind: 'still', views: ['v'] },
  ],
});
const frames = planFrames(set, { bounds: { min: [0, 0, 0], max: [1, 1, 1] }, scene: 'abc' });

describe('the identity of a frame', () => {
  it('is the hash of the canonical JSON of its content, however that is put together', () => {
    const seenBy = ({ kind, eye, viewMatrix, projectionMatrix, lens }: (typeof frames)[0]['camera']) => ({
      kind,
      eye,
      viewMatrix,
      projectionMatrix,
      lens,
    });
    for (const f of frames) {
      const content = {
        camera: seenBy(f.camera),
        shutter: f.shutter && { camera: seenBy(f.shutter.camera), rotation: f.shutter.rotation },
        section: f.section,
        materials: f.materials?.id,
        transform: f.transform,
        turn: f.turn && { rotation: f.turn.rotation, pivot: f.turn.pivot, what: [...f.turn.what].sort() },
        stage: f.stage,
        grade: f.stage.displayReferred ? { ...f.grade, glow: undefined } : undefined,
        size: f.size,
        pixelAspect: f.pixelAspect,
        passes: f.passes,
        transparent: f.transparent,
        lines: f.lines,
        scene: 'abc',
        engine: ENGINE_VERSION,
      };
      expect(f.identity).toBe(hashOf({ ...content, sampling: f.sampling }));
      expect(f.seed).toBe(parseInt(hashOf(content).slice(0, 8), 16));
    }
    expect(new Set(frames.map((f) => f.identity)).size).toBe(frames.length);
  });

  it('changes with what makes pixels, and with nothing else', () => {
    const [f] = frames;
    const again = (change: Parameters<typeof withFrame>[1]): string => identityOf(withFrame(f!, change), 'abc', new WeakMap());
    expect(again({})).toBe(f!.identity);
    expect(again({ name: 'other', index: 9, number: 9, time: 3 })).toBe(f!.identity);
    for (const change of [
      { pixelAspect: 2 },
      { transparent: true },
      { size: { width: 9, height: 9 } },
      { stage: { ...f!.stage }, sampling: { ...f!.sampling, samples: 7 } },
    ])
      expect(again(change)).not.toBe(f!.identity);
    expect(identityOf(f!, 'other scene', new WeakMap())).not.toBe(f!.identity);
  });
});
