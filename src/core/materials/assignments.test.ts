import { describe, expect, it } from 'vitest';
import {
  resolveMaterials,
  type MaterialAssignments,
  compileAssignments,
  materialAssignmentsSchema,
  compileWildcard,
  firstMissingMaterial,
} from './assignments.js';
import { toMaterial, customMaterialSchema } from './customMaterial.js';
import { NO_ASSIGNMENTS, assignFaceGroup, renameMaterial, assignParts, addSwap } from './editAssignments.js';
import { DEFAULT_MATERIAL, type Material } from './material.js';
import { parseHex } from '../units/colour.js';
import { LIBRARY, libraryMaterial } from './library.js';

const PARTS = [
  { path: 'House', renderVisible: true, materials: [] },
  { path: 'House/Walls', renderVisible: true, materials: ['Brick'] },
  { path: 'House/Walls/Window glass', renderVisible: true, materials: ['Grey', 'Brick'] },
  { path: 'House/Helper', renderVisible: false, materials: ['Grey'] },
  { path: 'House B', renderVisible: true, materials: ['Grey'] },
];
const choice = (values: unknown): MaterialAssignments => materialAssignmentsSchema.parse(values);
const resolved = (values: unknown) => resolveMaterials(PARTS, choice(values));

describe('assigning materials', () => {
  it('leaves everything as it is where nothing is said', () => {
    expect(resolveMaterials(PARTS, NO_ASSIGNMENTS).map((d) => [d.renderVisible, d.viewportVisible, d.materials])).toEqual([
      [true, true, []],
      [true, true, [null]],
      [true, true, [null, null]],
      [false, false, [null]],
      [true, true, [null]],
    ]);
    expect(compileAssignments(undefined)).toBeUndefined();
    expect(compileAssignments(NO_ASSIGNMENTS)).toBeUndefined();
  });

  it('goes for all below, unless that is set itself', () => {
    const out = resolved({
      parts: [
        { path: 'House', renderVisible: false, viewportVisible: false },
        { path: 'House/Walls/Window glass', renderVisible: true },
      ],
    });
    expect(out.map((d) => d.renderVisible)).toEqual([false, false, true, false, true]);
    expect(out.map((d) => d.viewportVisible)).toEqual([false, false, false, false, true]);
  });

  it('takes names that only begin alike for others', () => {
    expect(resolved({ parts: [{ path: 'House', renderVisible: false }] })[4]!.renderVisible).toBe(true);
  });

  it('puts finishes on by part, by rule and by swap, in this order of weight', () => {
    const rules = [
      { match: '*', material: 'pine' },
      { match: '*GLASS*', material: 'clear glass, pane' },
    ];
    expect(resolved({ rules }).map((d) => d.materials)).toEqual([[], ['pine'], ['clear glass, pane', 'clear glass, pane'], ['pine'], ['pine']]);
    expect(resolved({ rules, parts: [{ path: 'House/Walls', material: 'ash' }] })[2]!.materials).toEqual(['ash', 'ash']);
    // Swaps are of whatever is in use by then, one after the other.
    expect(
      resolved({
        rules,
        swaps: [
          { from: 'pine', to: 'oak, oiled' },
          { from: 'oak, oiled', to: 'Brick' },
        ],
      })[1]!.materials,
    ).toEqual([null]);
  });

  it('apply the swaps of one variant last', () => {
    const values = { swaps: [{ from: 'Grey', to: 'pine' }], variants: [{ id: 'dark', name: 'Dark', swaps: [{ from: 'pine', to: 'walnut' }] }] };
    expect(compileAssignments(choice(values))!.swaps).toHaveLength(1);
    const dark = compileAssignments(choice({ ...values, variant: 'dark' }))!;
    expect(resolveMaterials(PARTS, dark)[4]!.materials).toEqual(['walnut']);
    expect(dark.id).not.toBe(compileAssignments(choice(values))!.id);
    expect(() => compileAssignments(choice({ ...values, variant: 'light' }))).toThrow('There is no variant "light"');
  });

  it('is known by what changes pixels: the desk is not among it', () => {
    const a = compileAssignments(choice({ parts: [{ path: 'House', material: 'pine' }] }))!;
    const b = compileAssignments(
      choice({
        parts: [
          { path: 'House', material: 'pine', viewportVisible: false },
          { path: 'House B', viewportVisible: false },
        ],
      }),
    )!;
    expect(b.id).toBe(a.id);
  });

  it('says which finish nobody knows', () => {
    const ask = (values: unknown, model: string[]) => firstMissingMaterial(compileAssignments(choice(values))!, model);
    expect(ask({ parts: [{ path: 'x', material: 'pine' }] }, [])).toBeNull();
    expect(ask({ parts: [{ path: 'x', material: 'Grey' }] }, ['Grey'])).toBeNull();
    expect(ask({ rules: [{ match: '*', material: 'Mine' }], materials: [{ name: 'Mine', colour: '#ffffff' }] }, [])).toBeNull();
    expect(ask({ swaps: [{ from: 'Grey', to: 'unobtainium' }] }, ['Grey'])).toBe('unobtainium');
  });
});

describe('groups of faces', () => {
  const two = ['House/Walls/Window glass'];
  it("take the material given to them, the others the part's", () => {
    const one = assignFaceGroup(assignParts(undefined, two, { material: 'pine' }), two[0]!, 2, 'ash');
    expect(resolveMaterials(PARTS, one)[2]!.materials).toEqual(['pine', 'ash']);
    // As the viewport asks, mesh by mesh.
    expect(resolveMaterials([{ ...PARTS[2]!, materials: ['Brick'], first: 1 }], one)[0]!.materials).toEqual(['ash']);
    // What hangs below, and other parts, are not meant.
    expect(resolveMaterials([{ path: `${two[0]}/x`, renderVisible: true, materials: ['a', 'b'] }], one)[0]!.materials).toEqual(['pine', 'pine']);
    expect(firstMissingMaterial(compileAssignments(assignFaceGroup(one, two[0]!, 1, 'unobtainium'))!, [])).toBe('unobtainium');
  });

  it('are taken back one by one', () => {
    const both = assignFaceGroup(assignFaceGroup(undefined, 'a', 2, 'ash'), 'a', 1, 'pine');
    expect(both.parts).toEqual([
      {
        path: 'a',
        faces: [
          { group: 1, material: 'pine' },
          { group: 2, material: 'ash' },
        ],
      },
    ]);
    expect(assignFaceGroup(assignFaceGroup(both, 'a', 1, undefined), 'a', 2, undefined).parts).toEqual([]);
  });

  it('are known by what they change', () => {
    const plain = assignParts(undefined, ['a'], { renderVisible: true });
    expect(compileAssignments(assignFaceGroup(plain, 'a', 1, 'ash'))!.id).not.toBe(compileAssignments(plain)!.id);
  });
});

describe('finishes of one’s own', () => {
  const made = (values: Record<string, unknown>) => toMaterial(customMaterialSchema.parse({ name: 'Mine', colour: '#808080', ...values }));
  it('can say everything that the engine knows', () => {
    const all = made({
      specular: 0.5,
      specularColour: '#ff0000',
      sheen: '#00ff00',
      sheenRoughness: 0.3,
      anisotropy: 0.6,
      anisotropyAngle: 90,
      translucentColour: '#0000ff',
      glow: 3,
      glowColour: '#ff0000',
      unlit: true,
      normalScale: 2,
      coatNormalScale: 0.5,
      occlusion: 0.25,
    });
    expect(all).toMatchObject({ specular: 0.5, specularColour: [1, 0, 0], sheen: [0, 1, 0], sheenRoughness: 0.3, anisotropy: 0.6 });
    expect(all).toMatchObject({
      translucentColour: [0, 0, 1],
      emission: [3, 0, 0],
      unlit: true,
      normalScale: 2,
      coatNormalScale: 0.5,
      occlusion: 0.25,
    });
    expect(all.anisotropyAngle).toBeCloseTo(Math.PI / 2, 12);
    // Every value of a finish but its textures can be steered.
    const steered = new Set(
      Object.keys(all).filter((k) => JSON.stringify(all[k as keyof Material]) !== JSON.stringify(DEFAULT_MATERIAL[k as keyof Material])),
    );
    const more = [
      'metalness',
      'roughness',
      'transmission',
      'ior',
      'thin',
      'coat',
      'coatRoughness',
      'translucency',
      'absorption',
      'alpha',
      'alphaMode',
      'cutoff',
    ];
    expect(Object.keys(DEFAULT_MATERIAL).filter((k) => !steered.has(k) && !more.includes(k))).toEqual(['textures']);
  });

  it('a tint is the colour after its depth, by Beer and Lambert', () => {
    const { absorption } = made({ tint: { colour: '#ff8080', depth: 0.02 } });
    const colour = parseHex('#ff8080');
    absorption.forEach((a, i) => expect(Math.exp(-a * 0.02)).toBeCloseTo(colour[i]!, 9));
  });

  it('less than whole lets through what stands behind; a cut-out cuts', () => {
    expect(made({ opacity: 0.4 })).toMatchObject({ alpha: 0.4, alphaMode: 'blend' });
    expect(made({ opacity: 1 }).alphaMode).toBe('opaque');
    expect(made({ cutoff: 0.3 })).toMatchObject({ cutoff: 0.3, alphaMode: 'mask' });
    // What a form leaves undefined is as usual.
    expect(toMaterial({ ...customMaterialSchema.parse({ name: 'x', colour: '#ffffff' }), specular: undefined }).specular).toBe(1);
  });

  it('keep their wearers when they are renamed', () => {
    const before = assignFaceGroup(addSwap(assignParts(undefined, ['a'], { material: 'Mine' }), 'Grey', 'Mine'), 'b', 1, 'Mine');
    const next = renameMaterial({ ...before, rules: [{ match: '*', material: 'Mine' }] }, 'Mine', 'Ours');
    expect(JSON.stringify(next)).not.toContain('Mine');
    expect(JSON.stringify(next).match(/Ours/g)).toHaveLength(4);
  });
});

describe('patterns of names', () => {
  it.each([
    ['*glass*', 'Window glass 2', true],
    ['glass', 'Glass', true],
    ['glass', 'Glass shade', false],
    ['leg ?', 'leg a', false],
    ['a.b*', 'a.bc', true],
    ['a.b*', 'axbc', false],
    ['(*)', '(left)', true],
  ])('%s on %s', (pattern, name, expected) => expect(compileWildcard(pattern)(name)).toBe(expected));
});

describe('edits', () => {
  it('drop what says nothing any more', () => {
    const one = assignParts(undefined, ['a', 'b'], { renderVisible: false });
    expect(one.parts).toEqual([
      { path: 'a', renderVisible: false },
      { path: 'b', renderVisible: false },
    ]);
    expect(assignParts(one, ['a'], { renderVisible: undefined }).parts).toEqual([{ path: 'b', renderVisible: false }]);
    expect(assignParts(one, ['a'], { material: 'pine' }).parts[0]).toEqual({ path: 'a', renderVisible: false, material: 'pine' });
  });

  it('swap in the active variant, or for good', () => {
    expect(addSwap(undefined, 'Grey', 'pine').swaps).toEqual([{ from: 'Grey', to: 'pine' }]);
    const before = choice({ variants: [{ id: 'v', name: 'V', swaps: [] }], variant: 'v' });
    const next = addSwap(before, 'Grey', 'pine');
    expect([next.swaps, next.variants[0]!.swaps]).toEqual([[], [{ from: 'Grey', to: 'pine' }]]);
    expect(addSwap(next, 'Grey', 'Grey').variants[0]!.swaps).toEqual([]);
  });
});

describe('the library', () => {
  it('has about fifty finishes, each name once, all physically possible', () => {
    expect(LIBRARY.length).toBeGreaterThanOrEqual(40);
    expect(new Set(LIBRARY.map((l) => l.material.name)).size).toBe(LIBRARY.length);
    for (const { material, group } of LIBRARY) {
      for (const c of material.base) expect(c).toBeLessThanOrEqual(1);
      for (const key of ['metalness', 'roughness', 'transmission', 'coat', 'translucency'] as const) {
        expect(material[key], material.name).toBeGreaterThanOrEqual(0);
        expect(material[key], material.name).toBeLessThanOrEqual(1);
      }
      expect(Math.max(...material.emission) > 0, material.name).toBe(group === 'light');
    }
    expect(libraryMaterial('pine')!.metalness).toBe(0);
    expect(libraryMaterial('unobtainium')).toBeUndefined();
  });

  it('does not hide finishes of one’s own', () => {
    const mine = toMaterial(materialAssignmentsSchema.parse({ materials: [{ name: 'Mine', colour: '#ff0000', glow: 2 }] }).materials[0]!);
    expect(mine.base).toEqual([1, 0, 0]);
    expect(mine.emission).toEqual([2, 0, 0]);
  });
});
