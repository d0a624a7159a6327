/** The plan's cameras as USD, read by three.js' parser of the text form, beside the projections that frames are rendered by. */
import { Matrix4, Vector3 } from 'three';
import { USDAParser } from 'three/examples/jsm/loaders/usd/USDAParser.js';
import { describe, expect, it } from 'vitest';
import { LANDING } from '../../demo/sets.js';
import { northmere } from '../../demo/northmere.js';
import { modelBounds } from '../../src/core/model/model.js';
import type { Frame } from '../../src/core/frame/frame.js';
import { planFrames } from '../../src/core/planning/planFrames.js';
import { parseSet } from '../../src/core/plan/set.js';
import { planUsda } from '../../src/core/movie/usda.js';

const bounds = { min: [-1, 0, -1] as [number, number, number], max: [1, 1, 1] as [number, number, number] };
const set = parseSet({
  format: 'cold-easel.set',
  version: 2,
  name: 'Lamp "B"',
  sheet: { size: { width: 960, height: 540 }, rate: '30000/1001' },
  views: [
    { id: 'a', name: 'Three-quarter', eye: [3, 1.4, 4], target: [0, 0.4, 0], focalLength: 35, aperture: 2.8, focus: 4 },
    { id: 'b', name: 'Elevation', kind: 'parallel', eye: [0, 0.5, 3], target: [0, 0.5, 0], width: 2.4 },
    { id: 'c', name: '3rd: Uprights', eye: [2, 1.2, 3], target: [0, 0.2, 0], focalLength: 50, keepVerticals: true },
    { id: 'd', name: 'Around', kind: 'panorama', eye: [0, 1.6, 3], target: [0, 1.6, 0] },
    { id: 'e', name: 'Three+quarter', eye: [-3, 1.4, 4], target: [0, 0.4, 0], focalLength: 35, nearClipping: 0.5 },
  ],
  shots: [
    { id: 'stills', kind: 'still', views: ['a', 'b', 'c', 'd', 'e'] },
    { id: 'spin', name: 'Spin', kind: 'turntable', view: 'a', frames: 6, pivot: 'centre' },
    { id: 'orbit', name: 'Orbit', kind: 'turntable', view: 'c', frames: 5, degrees: 90, turns: ['camera'] },
  ],
});
const frames = planFrames(set, { bounds, scene: 'x' });

type Samples = { times: number[]; values: unknown[] };

function read(text: string) {
  const { specsByPath } = new USDAParser().parseData(text);
  const of = (path: string, name: string) => specsByPath[`/Plan/${path}.${name}`]?.fields;
  return {
    top: specsByPath['/']!.fields,
    prims: (specsByPath['/Plan']!.fields.primChildren ?? []) as string[],
    value: (path: string, name: string) => of(path, name)?.default,
    samples: (path: string, name: string) => of(path, name)?.timeSamples as Samples | undefined,
  };
}
const usd = read(planUsda(set, frames));
const numberOf = (path: string, name: string) => usd.value(path, name) as number;

/** Where a point comes out, -1..1 across and up, by a camera as USD defines it: looking along -Z, focal length and window in tenths of a metre. */
function project(path: string, world: unknown, point: Vector3): [number, number] {
  const matrix = new Matrix4().fromArray((world as number[]).slice(0, 16));
  const p = point.clone().applyMatrix4(matrix.invert());
  const [width, height] = [numberOf(path, 'horizontalAperture') / 10, numberOf(path, 'verticalAperture') / 10];
  const [across, up] = [numberOf(path, 'horizontalApertureOffset') / 10, numberOf(path, 'verticalApertureOffset') / 10];
  const scale = usd.value(path, 'projection') === 'orthographic' ? 1 : numberOf(path, 'focalLength') / 10 / -p.z;
  return [(p.x * scale - across) / (width / 2), (p.y * scale - up) / (height / 2)];
}

function expectSamePicture(path: string, world: unknown, { camera }: Frame): void {
  for (const place of [new Vector3(0, 0.4, 0), new Vector3(0.7, 1, -0.5), new Vector3(-0.8, 0.1, 0.6)]) {
    const clip = place
      .clone()
      .applyMatrix4(new Matrix4().fromArray(camera.viewMatrix))
      .applyMatrix4(new Matrix4().fromArray(camera.projectionMatrix));
    const [x, y] = project(path, world, place);
    expect(x).toBeCloseTo(clip.x, 6);
    expect(y).toBeCloseTo(clip.y, 6);
  }
}

describe('cameras as USD', () => {
  it('say metres, Y up and the rate', () => {
    expect(usd.top).toMatchObject({ defaultPrim: 'Plan', metersPerUnit: 1, upAxis: 'Y' });
    expect(usd.top.timeCodesPerSecond as number).toBeCloseTo(29.97002997, 8);
  });

  it('are a prim a view and a moving shot, by names that are valid and each once; a panorama is left out', () => {
    expect(usd.prims).toEqual(['Three_quarter', 'Elevation', '_3rd_Uprights', 'Three_quarter_2', 'Spin', 'Spin_subject', 'Orbit']);
  });

  it.each([
    ['Three_quarter', 0],
    ['Elevation', 1],
    ['_3rd_Uprights', 2],
    ['Three_quarter_2', 4],
  ])('%s shows points where the render has them', (path, index) => {
    expectSamePicture(path, usd.value(path, 'xformOp:transform'), frames[index]!);
  });

  it('carry focal length, stop, focus and near clipping', () => {
    expect(numberOf('Three_quarter', 'focalLength')).toBeCloseTo(0.35, 9);
    expect(numberOf('Three_quarter', 'fStop')).toBeCloseTo(2.8, 6);
    expect(numberOf('Three_quarter', 'focusDistance')).toBeCloseTo(4, 6);
    expect(usd.value('Three_quarter_2', 'clippingRange')).toEqual([0.5, 100000]);
    expect(usd.value('_3rd_Uprights', 'fStop')).toBeUndefined();
  });

  it('move with their shots, a sample a frame', () => {
    const own = frames.filter((f) => f.shot === 'orbit');
    const { times, values } = usd.samples('Orbit', 'xformOp:transform')!;
    expect(times).toEqual([1, 2, 3, 4, 5].map((t) => expect.closeTo(t, 5)));
    own.forEach((frame, i) => expectSamePicture('Orbit', values[i], frame));
  });

  it('turn what hangs under the subject', () => {
    const { values } = usd.samples('Spin_subject', 'xformOp:transform')!;
    expect(values).toHaveLength(6);
    // A sixth of a turn counterclockwise seen from above, about the middle.
    const turned = new Vector3(1, 0.5, 0).applyMatrix4(new Matrix4().fromArray((values[1] as number[]).slice(0, 16)));
    expect([turned.x, turned.y, turned.z]).toEqual([0.5, 0.5, -Math.sqrt(3) / 2].map((v) => expect.closeTo(v, 6)));
    expect(usd.samples('Spin', 'xformOp:transform')).toBeUndefined();
  });

  it('are there for the whole demo, and for a set without frames', () => {
    const landing = parseSet(LANDING);
    const planned = planFrames(landing, { bounds: modelBounds(northmere()), scene: 'n' });
    const { prims } = read(planUsda(landing, planned));
    expect(prims.length).toBeGreaterThanOrEqual(landing.shots.length);
    expect(read(planUsda(set, [])).prims).toEqual([]);
  });
});
