/** The values of an own material by what they are about, in the order in which a person meets them. */
import type { CustomMaterial } from '../../../core/materials/customMaterial.js';
import { HELP, LABELS } from './materialWords.js';

type KeysOf<T> = { [K in keyof CustomMaterial]-?: Exclude<CustomMaterial[K], undefined> extends T ? K : never }[keyof CustomMaterial];
/** Numbers of a material. */
export type NumberKey = KeysOf<number>;
/** Colours of a material. */
export type ColourKey = Exclude<KeysOf<string>, 'name'>;

/** A number of a material, as it is shown. */
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
/** A colour of a material, as it is shown. */
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

/** What most materials need stands first and open; the rest is folded. */
export const MAIN_VALUES: NumberValue[] = [
  number('metalness', LABELS.metalness, 0, HELP.metalness),
  number('roughness', LABELS.roughness, 0.5, HELP.roughness),
  number('transmission', LABELS.transmission, 0, HELP.theShareOfLight),
  number('ior', LABELS.refractiveIndex, 1.5, HELP.refractiveIndex),
  number('coat', LABELS.clearCoat, 0, HELP.strengthOfAClear),
  number('glow', LABELS.emission, 0, HELP.strengthOfTheLight),
];

/** Values that few materials need, in groups. */
export const MORE_VALUES: { title: string; values: (NumberValue | ColourValue)[] }[] = [
  {
    title: LABELS.specularAndAnisotropy,
    values: [
      number('specular', LABELS.specular, 1, HELP.weightOfTheReflection),
      number('anisotropy', LABELS.anisotropy, 0, HELP.howMuchTheHighlight),
      number('anisotropyAngle', LABELS.anisotropyAngle, 0, HELP.degreesFromTheTangent, { unit: '°', step: 15 }),
      colour('specularColour', LABELS.specularColour, '#ffffff', HELP.ofNonMetals),
    ],
  },
  {
    title: LABELS.clearCoatAndCloth,
    values: [
      number('coatRoughness', LABELS.clearCoatRoughness, 0.1, HELP.roughness),
      number('sheenRoughness', LABELS.sheenRoughness, 0, HELP.widthOfTheSheen),
      colour('sheen', LABELS.sheen, '#000000', HELP.theShimmerOfCloth),
    ],
  },
  {
    title: LABELS.translucencyEmissionOpacity,
    values: [
      number('translucency', LABELS.diffuseTransmission, 0, HELP.theShareOfDiffuse),
      number('opacity', LABELS.opacity, 1, HELP.opacity),
      number('cutoff', LABELS.alphaCutoff, 0, HELP.whereTheTexturesAlpha),
      colour('translucentColour', LABELS.transmissionColour, '#ffffff', HELP.multipliesTheSurfaceColour),
      colour('glowColour', LABELS.emissionColour, '#ffffff', HELP.whiteEmitsInThe),
    ],
  },
  {
    title: LABELS.textureStrength,
    values: [
      number('normalScale', LABELS.normals, 1, HELP.strengthOfTheNormal),
      number('coatNormalScale', LABELS.clearCoatNormals, 1, HELP.strengthOfTheNormalMap),
      number('occlusion', LABELS.occlusion, 1, HELP.strengthOfTheOcclusion),
    ],
  },
];
