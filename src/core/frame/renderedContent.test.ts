import { describe, expect, it } from 'vitest';
import { compileAssignments, materialAssignmentsSchema } from '../materials/assignments.js';
import { customMaterialSchema } from '../materials/customMaterial.js';
import { LIBRARY } from '../materials/library.js';
import { type ModelContent, renderedContent } from './renderedContent.js';

const part = (path: string, values: Partial<ModelContent['parts'][number]> = {}): ModelContent['parts'][number] => ({
  ...{ path, renderVisible: true, isContext: false, shape: `shape of ${path}`, materials: [{ name: 'Grey', hash: 'grey' }] },
  ...values,
});
const model = (parts: ModelContent['parts']): ModelContent => ({ parts, materials: { Grey: 'grey', Blue: 'blue' }, lights: 'lights' });
const lamp = model([part('Lamp/Foot'), part('Lamp/Arm'), part('Helper')]);
const assigned = (values: object) => compileAssignments(materialAssignmentsSchema.parse(values));
const hidden = assigned({ parts: [{ path: 'Helper', renderVisible: false }] });

describe('what a frame renders of its model', () => {
  it('leaves out what does not render: its shape and its material', () => {
    const other = model([part('Lamp/Foot'), part('Lamp/Arm'), part('Helper', { shape: 'another', materials: [{ name: 'Blue', hash: 'blue' }] })]);
    expect(renderedContent(other, hidden)).toEqual(renderedContent(lamp, hidden));
    expect(renderedContent(model(lamp.parts.slice(0, 2)), hidden)).toEqual(renderedContent(lamp, hidden));
    expect(renderedContent(other, undefined).model).not.toBe(renderedContent(lamp, undefined).model);
    expect(renderedContent(other, undefined).materials).not.toBe(renderedContent(lamp, undefined).materials);
  });

  it('tells shapes from materials', () => {
    const bent = model([part('Lamp/Foot'), part('Lamp/Arm', { shape: 'bent' }), part('Helper')]);
    expect(renderedContent(bent, undefined)).toEqual({ ...renderedContent(lamp, undefined), model: renderedContent(bent, undefined).model });
    const blue = model([part('Lamp/Foot'), part('Lamp/Arm', { materials: [{ name: 'Grey', hash: 'another grey' }] }), part('Helper')]);
    expect(renderedContent(blue, undefined)).toEqual({ ...renderedContent(lamp, undefined), materials: renderedContent(blue, undefined).materials });
  });

  it('counts a custom material where something wears it, and not otherwise', () => {
    const own = (roughness: number) => customMaterialSchema.parse({ name: 'Own', colour: '#336699', roughness });
    const withOwn = (roughness: number, parts: object[]) => renderedContent(lamp, assigned({ parts, materials: [own(roughness)] }));
    const grey = [{ path: 'Lamp/Foot', material: LIBRARY[0]!.material.name }];
    expect(withOwn(0.2, grey)).toEqual(withOwn(0.7, grey));
    const worn = [{ path: 'Lamp/Foot', material: 'Own' }];
    expect(withOwn(0.2, worn).materials).not.toBe(withOwn(0.7, worn).materials);
    const onHidden = [{ path: 'Helper', material: 'Own', renderVisible: false }];
    expect(withOwn(0.2, onHidden)).toEqual(withOwn(0.7, onHidden));
  });

  it('counts what the parts turn with, the lights, and the plinth’s material', () => {
    const context = assigned({ parts: [{ path: 'Lamp/Arm', isContext: true }] });
    expect(renderedContent(lamp, context).model).not.toBe(renderedContent(lamp, undefined).model);
    expect(renderedContent({ ...lamp, lights: 'brighter' }, undefined).model).not.toBe(renderedContent(lamp, undefined).model);
    const [a, b] = LIBRARY;
    expect(renderedContent(lamp, undefined, a!.material.name).materials).not.toBe(renderedContent(lamp, undefined, b!.material.name).materials);
    expect(renderedContent(lamp, undefined, a!.material.name).materials).not.toBe(renderedContent(lamp, undefined).materials);
  });

  it('goes by what is worn in the end, whatever way it is put on', () => {
    const swapped = assigned({ swaps: [{ from: 'Grey', to: 'Blue' }] });
    const put = assigned({ rules: [{ match: '*', material: 'Blue' }] });
    expect(renderedContent(lamp, swapped)).toEqual(renderedContent(lamp, put));
  });
});
