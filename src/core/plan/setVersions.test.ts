import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { deliveryFrom1, stageFrom1 } from './setVersions.js';
import { planFrames } from '../planning/planFrames.js';
import { parseSet, SET_VERSION } from './set.js';

const file = (name: string): unknown => JSON.parse(readFileSync(`tests/support/sets/version-1-${name}.json`, 'utf8')) as unknown;
const CONTEXT = { bounds: { min: [-1, 0, -1] as [number, number, number], max: [1, 2, 1] as [number, number, number] }, scene: 'abc' };

/** Every key of version 1 that has another name since. */
const FORMER_KEYS =
  /"(dressing|otherwise|uprights|ready|surround|modelLamps|lamps|backdropPicture|interfaces|outlierLimit|finish|finishes|shows|without|near|free|seen|picture|desk|pictures|places|place|mostSeconds|mostFrames)":/;

describe('set files of version 1', () => {
  it.each(['landing', 'tern', 'everything'])('%s is read, planned and written as version 2', (name) => {
    const set = parseSet(file(name));
    expect(set.version).toBe(SET_VERSION);
    expect(planFrames({ ...set, shots: set.shots }, CONTEXT).length).toBeGreaterThan(0);
    const text = JSON.stringify(set);
    expect(text).not.toMatch(FORMER_KEYS);
    expect(parseSet(JSON.parse(text))).toEqual(set);
  });

  it('keep what they say, under the new names', () => {
    const set = parseSet(file('everything'));
    expect(set.transform).toMatchObject({ up: '+z', heading: 30, plinth: { height: 0.2, material: 'white paint' } });
    expect(set.materials).toEqual({
      parts: [{ path: 'A/B', renderVisible: false, viewportVisible: true, material: 'walnut', faces: [{ group: 2, material: 'own red' }] }],
      rules: [{ match: '*glass*', material: 'clear glass, pane' }],
      materials: [expect.objectContaining({ name: 'own red', textureFiles: [expect.objectContaining({ slot: 'base', file: 'oak.png' })] })],
      swaps: [{ from: 'walnut', to: 'own red' }],
      variants: [{ id: 'dark', name: 'Dark', swaps: [{ from: 'walnut', to: 'blackened steel' }] }],
      variant: 'dark',
    });
    expect(set.stage).toMatchObject({
      preset: 'open sky',
      backdropImage: { file: 'hills.jpg' },
      ground: { kind: 'plane', material: 'walnut' },
      environment: { file: 'room.hdr', rotation: 20, visible: false },
      modelLights: true,
      lights: [{ id: 'key', kind: 'spot' }],
      daylight: { manualSun: { azimuth: 200, altitude: 30 } },
    });
    expect(set.stages?.[0]?.stage).toMatchObject({ preset: 'bright sweep', modelLights: true });
    expect(set.sheet.quality).toMatchObject({ depth: { bounces: 3, refractionDepth: 7 }, fireflyClamp: 2 });
    expect(set.views[0]).toMatchObject({
      keepVerticals: true,
      nearClipping: 0.5,
      overrides: { variant: 'dark', stage: 'noon', section: 'cut', hiddenParts: ['A/C'] },
    });
    const [stills, spin, path, walk] = set.shots;
    expect(stills).toMatchObject({ overrides: { quality: { depth: { bounces: 2, refractionDepth: 3 }, fireflyClamp: 0 } } });
    expect(spin).toMatchObject({ turns: ['subject', 'lights', 'environment'] });
    expect(path).toMatchObject({
      path: {
        points: [
          { azimuth: 120, altitude: 20 },
          { azimuth: 240, altitude: 25 },
        ],
        frames: 3,
      },
    });
    expect(walk).toMatchObject({ keepVerticals: true });
    expect(set.delivery).toMatchObject({ maxSeconds: 20, maxFrames: 500 });
  });

  it('leaves what is no object for the schema to refuse', () => {
    expect(stageFrom1(7)).toBe(7);
    expect(deliveryFrom1(null)).toBe(null);
    expect(() => parseSet({ ...(file('tern') as object), views: 'none' })).toThrow('views: give a list.');
    expect(() => parseSet({ ...(file('tern') as object), dressing: 'none' })).toThrow('materials: give an object.');
  });
});
