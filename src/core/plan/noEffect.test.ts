import { describe, expect, it } from 'vitest';
import { noEffect } from './noEffect.js';
import { parseSet, type SetFile } from './set.js';

const set = (values: object = {}): SetFile =>
  parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 's',
    views: [
      { id: 'a', name: 'A', eye: [0, 1, 9], target: [0, 1, 0], focus: 3 },
      { id: 'p', name: 'P', kind: 'parallel', eye: [0, 1, 9], target: [0, 1, 0], width: 3 },
    ],
    shots: [{ id: 's', kind: 'still', views: ['a'], overrides: { shutter: 180 } }],
    ...values,
  });
const turn = { id: 't', kind: 'turntable', view: 'a', frames: 4 };

describe('settings without effect', () => {
  it('say why, and nothing where they have one', () => {
    const still = set({ sheet: { shutter: 180 } });
    expect(noEffect('sheet.shutter', still.sheet, still)).toBe('the set has stills only');
    const moving = set({ sheet: { shutter: 180 }, shots: [turn] });
    expect(noEffect('sheet.shutter', moving.sheet, moving)).toBeNull();
    // What is not set is waited for by nobody.
    expect(noEffect('sheet.shutter', set().sheet, set())).toBeNull();
    expect(noEffect('shot.shutter', still.shots[0]!, still)).toBe('a still does not move');
  });

  it('of a sheet, where the grade of the set says otherwise', () => {
    const lines = { width: 2, colour: '#000000' };
    const plain = set({ sheet: { lines, quality: 'review' } });
    expect(noEffect('sheet.lineStyle', plain.sheet, plain)).toBeNull();
    expect(noEffect('sheet.denoise', plain.sheet, plain)).toBeNull();
    const graded = set({ sheet: { lines, quality: 'review' }, grade: { lines, denoise: false } });
    expect(noEffect('sheet.lineStyle', graded.sheet, graded)).toBe('the grade draws lines another way');
    expect(noEffect('sheet.denoise', graded.sheet, graded)).toBe('the grade leaves noise unfiltered');
    // A shot whose grade says nothing of them has those of the sheet.
    const own = { id: 's', kind: 'still', views: ['a'], grade: {} };
    const mixed = set({ sheet: { lines, quality: 'review' }, grade: { lines, denoise: false }, shots: [own] });
    expect(noEffect('sheet.lineStyle', mixed.sheet, mixed)).toBeNull();
    expect(noEffect('sheet.denoise', mixed.sheet, mixed)).toBeNull();
    const same = set({ sheet: { quality: 'review' }, grade: { denoise: true } });
    expect(noEffect('sheet.denoise', same.sheet, same)).toBeNull();
  });

  it('of a stage follow what lights it', () => {
    const lit = (stage: object): SetFile => set({ stage });
    const reason = (
      setting: 'stage.turbidity' | 'stage.environment' | 'stage.backdrop' | 'stage.date' | 'stage.groundColour',
      stage: object,
    ): string | null => {
      const s = lit(stage);
      return noEffect(setting, s.stage, s);
    };
    const site = { latitude: 60, longitude: 19, timeZone: 'Europe/Mariehamn' };
    expect(reason('stage.turbidity', { site, daylight: { sky: 'overcast' } })).toBe('an overcast sky is grey');
    expect(reason('stage.turbidity', { site, daylight: {} })).toBeNull();
    expect(reason('stage.date', { daylight: { manualSun: { azimuth: 0, altitude: 30 } } })).toBe('the sun is placed by hand');
    expect(reason('stage.environment', { site, daylight: {}, environment: { file: 'a.hdr' } })).toBe('the stage is lit by daylight');
    expect(reason('stage.backdrop', { backdrop: '#ffffff', environment: { file: 'a.hdr' } })).toBe('the environment image is shown as the backdrop');
    expect(reason('stage.groundColour', { ground: { kind: 'shadow', colour: '#ffffff' } })).toBe('the ground shows shadows alone');
    expect(reason('stage.groundColour', { ground: { kind: 'plane', colour: '#ffffff' } })).toBeNull();
  });
});
