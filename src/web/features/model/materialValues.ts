/** The values of an own finish by what they are about, in the order in which a person meets them. */
import { type CustomMaterial } from '../../../core/materials/customMaterial.js';

type KeysOf<T> = { [K in keyof CustomMaterial]-?: Exclude<CustomMaterial[K], undefined> extends T ? K : never }[keyof CustomMaterial];
export type NumberKey = KeysOf<number>;
export type ColourKey = Exclude<KeysOf<string>, 'name'>;

export interface NumberValue {
  kind: 'number';
  key: NumberKey;
  label: string;
  help: string;
  /** Where nothing is said. */
  usual: number;
  unit?: string;
  step?: number;
}
export interface ColourValue {
  kind: 'colour';
  key: ColourKey;
  label: string;
  help: string;
  usual: string;
}

const number = (key: NumberKey, label: string, usual: number, help: string, more: Partial<NumberValue> = {}): NumberValue => ({
  kind: 'number',
  key,
  label,
  usual,
  help,
  ...more,
});
const colour = (key: ColourKey, label: string, usual: string, help: string): ColourValue => ({ kind: 'colour', key, label, usual, help });

/** What most finishes need stands first and open; the rest is folded. */
export const MAIN_VALUES: NumberValue[] = [
  number('metalness', 'Metal', 0, '1 for bare metal, 0 for all else.'),
  number('roughness', 'Roughness', 0.5, '0 mirrors, 1 is matt.'),
  number('transmission', 'Clear', 0, 'The share of light that enters: 1 for glass.'),
  number('ior', 'Index', 1.5, 'Refractive index: 1.5 glass, 1.33 water.'),
  number('coat', 'Lacquer', 0, 'A clear coat over it, 0 to 1.'),
  number('glow', 'Glow', 0, 'Strength of light that it gives.'),
];

export const MORE_VALUES: { title: string; values: (NumberValue | ColourValue)[] }[] = [
  {
    title: 'Highlight and brushing',
    values: [
      number('specular', 'Highlight', 1, 'Weight of the highlight of what is not metal.'),
      number('anisotropy', 'Brushed', 0, 'How much the highlight is drawn out along one way.'),
      number('anisotropyAngle', 'Brushed along', 0, 'Degrees from the tangent, counterclockwise.', { unit: '°', step: 15 }),
      colour('specularColour', 'Highlight colour', '#ffffff', 'Of what is not metal.'),
    ],
  },
  {
    title: 'Lacquer and cloth',
    values: [
      number('coatRoughness', 'Lacquer roughness', 0.1, '0 mirrors, 1 is matt.'),
      number('sheenRoughness', 'Shimmer roughness', 0, 'How wide the shimmer of cloth is.'),
      colour('sheen', 'Shimmer', '#000000', 'Of cloth, at grazing angles; black for none.'),
    ],
  },
  {
    title: 'Paper, glow, cut-outs',
    values: [
      number('translucency', 'Lets through', 0, 'The share of diffuse light that passes, as through paper.'),
      number('opacity', 'Opacity', 1, 'How much there is of it; less shows what stands behind.'),
      number('cutoff', 'Cut out below', 0, 'Nothing is there where the alpha of its picture is below this; 0 for no cutting.'),
      colour('translucentColour', 'Colour that passes', '#ffffff', 'Multiplies the colour of the surface.'),
      colour('glowColour', 'Glow colour', '#ffffff', 'White glows in the colour of the surface.'),
    ],
  },
  {
    title: 'Strength of pictures',
    values: [
      number('normalScale', 'Normals', 1, 'Of a picture of normals.'),
      number('coatNormalScale', 'Lacquer normals', 1, 'Of a picture of normals on the lacquer.'),
      number('occlusion', 'Occlusion', 1, 'Of a picture of occlusion, which quick pictures use.'),
    ],
  },
];
