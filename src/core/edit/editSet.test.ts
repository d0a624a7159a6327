import { describe, expect, it } from 'vitest';
import type { Bounds } from '../math/bounds.js';
import { transformedBounds, modelTransformSchema } from '../model/modelTransform.js';
import { freeId, freeName, newShot, withoutView, withTransform, withShot, withView } from './editSet.js';
import { subjectBounds, planFrames } from '../planning/planFrames.js';
import { emptySet, parseSet, type SetFile } from '../plan/set.js';

const model: Bounds = { min: [-1, 0, -2], max: [1, 3, 2] };
const view = {
  id: 'a',
  name: 'A',
  kind: 'perspective' as const,
  eye: [4, 2, 6] as [number, number, number],
  target: [0, 1, 0] as [number, number, number],
  focalLength: 50,
  keepVerticals: false,
};
const planned = (): SetFile => withShot(withView(emptySet('Set'), view), { id: 's', kind: 'still', views: ['a'] });

const BOUNDS = { min: [-1, 0, -1] as [number, number, number], max: [1, 2, 1] as [number, number, number] };

describe('names and ids', () => {
  it('are readable, free of signs, and never taken twice', () => {
    expect(freeId('Café – Südseite (2)', [])).toBe('cafe-sudseite-2');
    expect(freeId('View', ['view', 'view-2'])).toBe('view-3');
    expect(freeId('…', [])).toBe('item');
    expect(freeName('Still', ['Still', 'Still 2'])).toBe('Still 3');
  });
});

describe('views and shots', () => {
  it('are put in place of those with their id, or at the end', () => {
    const set = planned();
    expect(withView(set, { ...view, name: 'Other' }).views.map((v) => v.name)).toEqual(['Other']);
    expect(withView(set, { ...view, id: 'b' }).views.map((v) => v.id)).toEqual(['a', 'b']);
    expect(withShot(set, { id: 's', kind: 'still', views: ['a'], name: 'Named' }).shots).toHaveLength(1);
  });
  it('a view that a shot needs stays, and the shot is named', () => {
    expect(() => withoutView(planned(), 'a')).toThrow('The view is used by the shot "s"; remove it there first.');
    expect(withoutView({ ...planned(), shots: [] }, 'a').views).toEqual([]);
  });
  it('a new shot has its kind’s defaults and a name of its own', () => {
    const set = planned();
    const one = newShot(set, 'turntable', 'a', BOUNDS);
    const two = newShot(withShot(set, one), 'turntable', 'a', BOUNDS);
    expect(one.name).not.toBe(two.name);
    expect(one.id).not.toBe(two.id);
    expect(() => parseSet(withShot(withShot(set, one), two))).not.toThrow();
  });
});

describe('standing the model up another way', () => {
  const place = modelTransformSchema.parse({ scale: 0.5, ground: true, plinth: { height: 0.2 } });
  it('takes reference bounds with it that are the model’s own', () => {
    const set = { ...planned(), reference: model };
    const stood = withTransform(set, place, model);
    expect(stood.reference).toEqual(transformedBounds(place, model));
    // And back: undoing by hand gives the same set.
    expect(withTransform(stood, modelTransformSchema.parse({}), model)).toEqual({ ...set, transform: undefined });
  });
  it('leaves reference bounds of an earlier revision alone', () => {
    const frozen: Bounds = { min: [0, 0, 0], max: [9, 9, 9] };
    expect(withTransform({ ...planned(), reference: frozen }, place, model).reference).toEqual(frozen);
  });
  it('is part of what makes the pixels, and the stage’s ground lies at the plinth’s foot', () => {
    const context = { bounds: model, scene: 'h' };
    const [before] = planFrames(planned(), context);
    const [after] = planFrames(withTransform(planned(), place, model), context);
    expect(after!.identity).not.toBe(before!.identity);
    expect(after!.transform!.plinth!.bounds.min[1]).toBeCloseTo(0.2, 12);
    expect(after!.stage.base!.height).toBeCloseTo(0, 12);
    expect(subjectBounds(withTransform(planned(), place, model), model).min[1]).toBeCloseTo(0.2, 12);
    // A place that changes nothing is none.
    expect(planFrames(withTransform(planned(), modelTransformSchema.parse({}), model), context)[0]!.identity).toBe(before!.identity);
  });
  it('a grade is no part of it: the same light, developed otherwise', () => {
    const context = { bounds: model, scene: 'h' };
    const brighter = parseSet({ ...planned(), grade: { exposure: 2 } });
    expect(planFrames(brighter, context)[0]!.identity).toBe(planFrames(planned(), context)[0]!.identity);
    expect(planFrames(brighter, context)[0]!.grade.exposure).toBe(2);
  });
  it('but where a backdrop comes out of the grade as it is: that is traced for it', () => {
    const context = { bounds: model, scene: 'h' };
    const of = (grade: object) =>
      planFrames(parseSet({ ...planned(), stage: { preset: 'bright sweep', backdrop: '#ffffff' }, grade }), context)[0]!.identity;
    expect(of({ exposure: 2 })).not.toBe(of({}));
    expect(of({ curve: 'toe' })).not.toBe(of({}));
    expect(of({ glow: { strength: 0.2, reach: 0.05 } })).toBe(of({}));
  });
});
