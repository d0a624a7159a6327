import { describe, expect, it } from 'vitest';
import { withFrame, ENGINE_VERSION } from './frame.js';
import { planFrames } from '../planning/planFrames.js';
import { hashOf } from '../base/hash.js';
import { changedGrounds, filesKeyOf, groundsOf, identityOf, masterKeyOf, pixelsKeyOf } from './identity.js';
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
        lines: { drawn: f.lines, form: 2 },
        scene: 'abc',
        engine: ENGINE_VERSION,
      };
      expect(f.identity).toBe(hashOf({ ...content, sampling: f.sampling }));
      // Seeds leave the design out, so that two designs have the same noise, and what is drawn over it.
      expect(f.seed).toBe(parseInt(hashOf({ ...content, scene: undefined, materials: undefined, lines: undefined }).slice(0, 8), 16));
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

describe('the grounds of a picture', () => {
  const [f] = frames;
  const texts = new WeakMap();
  const grounds = (change: Parameters<typeof withFrame>[1], model = 'abc', materials = 'm'): string =>
    groundsOf(withFrame(f!, change), { model, materials }, texts);

  it.each([
    ['size', { size: { width: 64, height: 36 } }],
    ['sampling', { sampling: { ...f!.sampling, samples: 9 } }],
    ['passes', { transparent: true }],
    ['grade', { grade: { ...f!.grade, exposure: 1 } }],
    ['light', { stage: { ...f!.stage, displayReferred: true } }],
    ['section', { section: undefined }],
    ['turn', { turn: { ...f!.turn!, rotation: 12 } }],
    ['lines', { lines: undefined }],
  ] satisfies [string, Parameters<typeof withFrame>[1]][])('name the %s where that alone changed', (ground, change) => {
    expect(changedGrounds(grounds({}), grounds(change))).toEqual([ground]);
  });

  it('name the model by its content, several at once, and nothing where nothing that makes pixels changed', () => {
    expect(changedGrounds(grounds({}), grounds({}, 'def'))).toEqual(['model']);
    expect(changedGrounds(grounds({}), grounds({}, 'abc', 'n'))).toEqual(['materials']);
    expect(changedGrounds(grounds({}), grounds({ pixelAspect: 2, camera: frames[1]!.camera, lines: undefined }))).toEqual(['size', 'lines']);
    expect(changedGrounds(grounds({}), grounds({ name: 'other', number: 7, index: 3 }))).toEqual([]);
    expect(changedGrounds('', grounds({}))).toEqual([]);
  });
});

describe('the key of a frame’s files', () => {
  const [f] = frames;
  const key = (change: Parameters<typeof withFrame>[1], pixels = 'abc'): string => filesKeyOf(withFrame(f!, change), pixels);
  const exr = [{ type: 'exr' as const, bits: 16 as const, quality: 100 }];

  it('is another with the grade, the types and what is burnt in, and the same under another name', () => {
    const own = key({});
    expect(key({ name: 'other', passNames: ['other'], number: 8, shot: 'other', view: 'w' })).toBe(own);
    for (const change of [{ grade: { ...f!.grade, exposure: 1 } }, { files: exr }, { legend: { corner: 'top left' as const, text: '12:00' } }])
      expect(key(change)).not.toBe(own);
  });

  it('is another of another shot where its files tell that', () => {
    expect(key({ files: exr, shot: 'other' })).not.toBe(key({ files: exr }));
    expect(key({ files: exr, identity: 'other' })).not.toBe(key({ files: exr }));
  });

  it('is another of other pixels, and goes by nothing else of the model', () => {
    expect(key({}, 'def')).not.toBe(key({}));
    expect(key({ identity: 'other' })).toBe(key({}));
  });
});

describe('keys of what is rendered', () => {
  const [f] = frames;
  const texts = new WeakMap();
  const design = { model: 'm', materials: 'n' };
  const pixels = (change: Parameters<typeof withFrame>[1], of = design): string => pixelsKeyOf(withFrame(f!, change), of, texts);
  const master = (change: Parameters<typeof withFrame>[1], of = design): string => masterKeyOf(withFrame(f!, change), of, texts);

  it('change with the design that is rendered', () => {
    for (const key of [pixels, master]) {
      expect(key({}, { model: 'm', materials: 'o' })).not.toBe(key({}));
      expect(key({}, { model: 'o', materials: 'n' })).not.toBe(key({}));
      expect(key({ camera: frames[1]!.camera, name: 'other' })).toBe(key({}));
      expect(key({ size: { width: 9, height: 9 } })).not.toBe(key({}));
    }
  });

  it('of a master leave out what is made of it afterwards', () => {
    const unfiltered = { sampling: { ...f!.sampling, denoise: !f!.sampling.denoise } };
    const red = { lines: { ...f!.lines!, colour: [1, 0, 0] as [number, number, number] } };
    for (const change of [unfiltered, red]) {
      expect(master(change)).toBe(master({}));
      expect(pixels(change)).not.toBe(pixels({}));
    }
    expect(master({ lines: { ...f!.lines!, width: 3 } })).toBe(master({}));
    expect(master({ lines: undefined })).not.toBe(master({}));
    expect(master({ sampling: { ...f!.sampling, samples: 7 } })).not.toBe(master({}));
  });
});
