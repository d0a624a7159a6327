import { describe, expect, it } from 'vitest';
import { MeshMaker, modelOf } from '../core/model/meshMaker.js';
import { computeWorldMatrices } from '../core/model/model.js';
import { checkBudget, MAX_NESTING, MAX_PARTS, TextureBudget } from './budget.js';
import { ModelError } from './format.js';

const sheet = () => modelOf('sheet', [{ mesh: new MeshMaker().quad([0, 0, 0], [1, 0, 0], [0, 1, 0]).mesh() }]);

describe('the budget of textures', () => {
  it('gives each its size as long as there is room, then halves, and says so', () => {
    const said: string[] = [];
    const budget = new TextureBudget(100 * 100 + 60 * 60, (line) => said.push(line));
    expect(budget.take('a.png', 100, 100)).toEqual({ width: 100, height: 100 });
    expect(said).toEqual([]);
    expect(budget.take('b.png', 100, 100)).toEqual({ width: 50, height: 50 });
    expect(said).toEqual(['The texture "b.png" is 100 × 100 and is reduced to 50 × 50: all textures together may have 13,600 texels.']);
  });

  it('sets texels aside for those to come, and still gives what fits in all its size', () => {
    const twelve = new TextureBudget(undefined, undefined, 12);
    const sides = Array.from({ length: 12 }, () => twelve.take('plate.png', 8192, 8192).width);
    expect(sides).toEqual([8192, 8192, 8192, 4096, 4096, 4096, 2048, 2048, 2048, 1024, 1024, 1024]);
    const sixteen = new TextureBudget(undefined, undefined, 16);
    expect(Array.from({ length: 16 }, () => sixteen.take('plate.png', 4096, 4096).width)).toEqual(Array.from({ length: 16 }, () => 4096));
  });

  it('refuses where even a small one does not fit', () => {
    const budget = new TextureBudget(10);
    expect(() => budget.take('a.png', 4096, 4096)).toThrow(ModelError);
  });
});

describe('the budget of a model', () => {
  it('takes a plain one', () => expect(() => checkBudget(sheet(), 'a.glb')).not.toThrow());

  it.each([
    [9e7, true],
    [1.1e8, false],
    [1e38, false],
    [Infinity, false],
  ])('a part at %d m is taken: %s', (x, taken) => {
    const model = sheet();
    model.parts[0]!.world[12] = x;
    if (taken) expect(() => checkBudget(model, 'a.glb')).not.toThrow();
    else expect(() => checkBudget(model, 'a.glb')).toThrow(/"a\.glb": the part .* from the origin; 1e\+8 m is the most/);
  });

  it('refuses too deep a tree, too many parts and too many instances, each with its number', () => {
    const deep = sheet();
    const [part] = deep.parts;
    deep.parts = Array.from({ length: MAX_NESTING + 2 }, (_, i) => ({ ...part!, parent: i - 1, primitives: [] }));
    computeWorldMatrices(deep.parts);
    expect(() => checkBudget(deep, 'a.glb')).toThrow('nested more than 500 deep');
    const many = sheet();
    many.parts = Array.from({ length: MAX_PARTS + 1 }, () => ({ ...part!, primitives: [] }));
    expect(() => checkBudget(many, 'a.glb')).toThrow('200,001 parts; 200,000 is the most');
    const instances = modelOf('grid', [{ mesh: { positions: new Float32Array(9), indices: new Uint32Array(3 * 2000) } }]);
    const [use] = instances.parts[0]!.primitives;
    instances.parts[0]!.primitives = Array.from({ length: 100_001 }, () => use!);
    expect(() => checkBudget(instances, 'a.glb')).toThrow('200,002,000 triangles with its instances');
  });
});
