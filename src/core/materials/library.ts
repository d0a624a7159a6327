/** Materials that ship with the application, named by material. Colours are measured by nobody: they are set by eye. */
import { absorptionOf, DEFAULT_MATERIAL, type Material } from './material.js';
import { parseHex, type Rgb } from '../units/colour.js';

/** A material that ships with the application. */
export interface LibraryMaterial {
  group: 'metal' | 'timber' | 'stone and earth' | 'glass' | 'plastic' | 'paint' | 'textile and paper' | 'light';
  material: Material;
}

type Values = Partial<Omit<Material, 'name' | 'base' | 'emission' | 'sheen'>> & { emission?: string; strength?: number; sheen?: string };

function defineMaterial(
  group: LibraryMaterial['group'],
  name: string,
  base: string,
  { emission, strength = 1, sheen, ...values }: Values,
): LibraryMaterial {
  return {
    group,
    material: {
      ...DEFAULT_MATERIAL,
      name,
      base: parseHex(base),
      ...values,
      ...(emission && { emission: parseHex(emission).map((c) => c * strength) as Rgb }),
      ...(sheen && { sheen: parseHex(sheen) }),
    },
  };
}

const metal = (name: string, base: string, roughness: number, more: Values = {}): LibraryMaterial =>
  defineMaterial('metal', name, base, { metalness: 1, roughness, ...more });
const timber = (name: string, base: string, roughness = 0.55, more: Values = {}): LibraryMaterial =>
  defineMaterial('timber', name, base, { roughness, ...more });
const earth = (name: string, base: string, roughness: number, more: Values = {}): LibraryMaterial =>
  defineMaterial('stone and earth', name, base, { roughness, ...more });
const glass = (name: string, values: Values): LibraryMaterial =>
  defineMaterial('glass', name, '#ffffff', { roughness: 0, transmission: 1, ior: 1.52, ...values });
const plastic = (name: string, base: string, roughness: number, more: Values = {}): LibraryMaterial =>
  defineMaterial('plastic', name, base, { roughness, ...more });
const paint = (name: string, base: string, more: Values = {}): LibraryMaterial =>
  defineMaterial('paint', name, base, { roughness: 0.6, coat: 0.6, coatRoughness: 0.25, ...more });
const cloth = (name: string, base: string, sheen: string, more: Values = {}): LibraryMaterial =>
  defineMaterial('textile and paper', name, base, { roughness: 0.9, specular: 0.3, sheen, sheenRoughness: 0.5, ...more });

/** All materials that ship, by group. */
export const LIBRARY: readonly LibraryMaterial[] = [
  metal('polished steel', '#c9cbcc', 0.06),
  metal('brushed steel', '#b9bbbc', 0.32, { anisotropy: 0.7 }),
  metal('blackened steel', '#3c3d40', 0.42),
  metal('galvanised steel', '#a9adb0', 0.48),
  metal('weathering steel', '#8a4a2c', 0.85, { metalness: 0.25 }),
  metal('cast aluminium', '#b4b6b8', 0.5),
  metal('anodised aluminium', '#c3c5c8', 0.28),
  metal('polished brass', '#e3b968', 0.08),
  metal('brushed brass', '#cfa55a', 0.34, { anisotropy: 0.6 }),
  metal('copper', '#d98a66', 0.22),
  metal('patinated copper', '#6fa08f', 0.8, { metalness: 0.15 }),
  metal('bronze', '#8d6b45', 0.35),
  metal('chrome', '#d6d9dc', 0.02),
  timber('pine', '#d9b27c'),
  timber('oak, oiled', '#b98a55', 0.5),
  timber('ash', '#dcc49c'),
  timber('walnut', '#6b4630', 0.48),
  timber('larch, silvered', '#9b968c', 0.75),
  timber('birch plywood', '#e0c79a', 0.45, { coat: 0.3, coatRoughness: 0.3 }),
  timber('charred timber', '#1d1b1a', 0.7),
  earth('concrete', '#a6a49f', 0.85),
  earth('dark concrete', '#6d6c6a', 0.85),
  earth('granite', '#7d7b7a', 0.5, { coat: 0.25, coatRoughness: 0.1 }),
  earth('limestone', '#cfc5b0', 0.75),
  earth('slate', '#43484d', 0.6),
  earth('red brick', '#96482f', 0.85),
  earth('terracotta', '#b5633f', 0.8),
  earth('white porcelain', '#f1efea', 0.12, { coat: 1, coatRoughness: 0.03 }),
  glass('clear glass, pane', { thin: true }),
  glass('clear glass, solid', {}),
  glass('green-edged glass, solid', { absorption: absorptionOf(parseHex('#b9e3cf'), 0.02) }),
  glass('smoked glass, pane', { thin: true, base: parseHex('#8d8a86') } as Values),
  glass('frosted glass, pane', { thin: true, roughness: 0.35 }),
  glass('amber glass, solid', { absorption: absorptionOf(parseHex('#e09a3a'), 0.012) }),
  glass('water', { ior: 1.333, absorption: absorptionOf(parseHex('#a8cfd2'), 1) }),
  plastic('white plastic, matt', '#ecebe8', 0.55),
  plastic('white plastic, glossy', '#efeeec', 0.18),
  plastic('black plastic, matt', '#1f2022', 0.5),
  plastic('black rubber', '#161616', 0.85, { specular: 0.5 }),
  plastic('opal acrylic', '#f6f4ef', 0.3, { translucency: 0.6 }),
  paint('white paint', '#efeeea'),
  paint('light grey paint', '#c3c5c6'),
  paint('graphite paint', '#3a3d41'),
  paint('signal red paint', '#b3282d'),
  paint('deep blue paint', '#1f3a5f'),
  paint('moss green paint', '#4e5f3a'),
  cloth('wool felt, grey', '#7b7a78', '#bdbcb9'),
  cloth('linen', '#cfc3ad', '#e6dfd0'),
  cloth('lampshade paper', '#f2ead9', '#000000', { translucency: 0.7, roughness: 0.8 }),
  defineMaterial('light', 'warm light', '#ffffff', { emission: '#ffdcae', strength: 12 }),
  defineMaterial('light', 'neutral light', '#ffffff', { emission: '#fff4e6', strength: 12 }),
];

/** How the sheet of swatches is laid out: balls in a row, pixels of each. */
export const SWATCH = { columns: 10, side: 72 };

const BY_NAME = new Map(LIBRARY.map(({ material }) => [material.name, material]));

/** The material of that name; undefined where none is called so. */
export function libraryMaterial(name: string): Material | undefined {
  return BY_NAME.get(name);
}
