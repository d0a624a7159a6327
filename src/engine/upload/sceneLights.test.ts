import { describe, expect, it } from 'vitest';
import type { Frame } from '../../core/frame/frame.js';
import { fitStagePreset, stageSchema, type StageSettings } from '../../core/stage/stage.js';
import type { SceneData } from './sceneData.js';
import { modelLights } from './sceneLights.js';

const AT = (x: number): number[] => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, 0, 0, 1];
const data = {
  scene: {
    parts: [
      { path: 'Lamp/Bulb', world: AT(1), isContext: false },
      { path: 'Lamp/Night light', world: AT(2), isContext: false },
    ],
    lights: [
      { kind: 'point', part: 0, intensity: [1, 1, 1] },
      { kind: 'point', part: 1, intensity: [1, 1, 1] },
    ],
  },
} as unknown as SceneData;

const lit = (values: Partial<StageSettings>): number[] => {
  const stage = fitStagePreset(stageSchema.parse(values), { min: [0, 0, 0], max: [1, 1, 1] });
  return modelLights(data, { stage } as Frame).map((l) => ('centre' in l ? l.centre[0]! : NaN));
};

describe('lights of a model', () => {
  it('shine where the stage has them on, but for those that it has off', () => {
    expect(lit({})).toEqual([]);
    expect(lit({ modelLights: true })).toEqual([1, 2]);
    expect(lit({ modelLights: true, modelLightsOff: ['Lamp/Bulb'] })).toEqual([2]);
    // Off alone turns nothing on.
    expect(lit({ modelLightsOff: ['Lamp/Bulb'] })).toEqual([]);
  });
});
