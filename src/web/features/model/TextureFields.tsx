/** Textures of a custom material: what each affects, how large it is, how it is mapped. */
import type { ReactNode } from 'react';
import { X } from 'lucide-react';
import type { TextureReply } from '../../../contract/contract.js';
import { type MaterialTexture, materialTextureSchema, CUSTOM_TEXTURE_SLOTS } from '../../../core/materials/customMaterial.js';
import type { Mapping } from '../../../core/materials/material.js';
import { NumberField, Select } from '../../ui/controls.js';
import { UploadButton } from '../../ui/UploadButton.js';
import { HELP, LABELS } from './materialWords.js';
import { toast } from '../../state/toast.js';

const SLOT_WORDS: Record<MaterialTexture['slot'], string> = {
  base: 'colour',
  metalRough: LABELS.roughnessGreenMetalnessBlue,
  normal: 'normals',
  emission: 'glow',
  occlusion: LABELS.occlusionRed,
  transmission: LABELS.transmissionRed,
  coat: LABELS.clearCoatRed,
  coatRoughness: LABELS.clearCoatRoughnessGreen,
  coatNormal: LABELS.clearCoatNormals,
  sheen: 'shimmer',
  sheenRoughness: LABELS.sheenRoughnessAlpha,
  specular: LABELS.specularAlpha,
  specularColour: LABELS.specularColour,
  anisotropy: LABELS.anisotropyRedGreenBlue,
  translucency: LABELS.diffuseTransmissionAlpha,
  translucentColour: LABELS.transmissionColour,
};
const MAPPING_WORDS: Record<Mapping, string> = {
  box: LABELS.boxMapping,
  first: LABELS.modelFirstSet,
  second: LABELS.modelSecondSet,
};

interface TextureFieldsProps {
  pictures: MaterialTexture[];
  /** Returns what is wrong, or null. */
  onChange: (pictures: MaterialTexture[]) => string | null;
}

/** Textures of a custom material, each with its size and place. */
export function TextureFields({ pictures, onChange }: TextureFieldsProps): ReactNode {
  const free = CUSTOM_TEXTURE_SLOTS.filter((s) => !pictures.some((p) => p.slot === s));
  return (
    <div className="flex flex-col gap-2">
      {pictures.map((picture, i) => {
        const change = (values: Partial<MaterialTexture>): string | null => onChange(pictures.map((p, k) => (k === i ? { ...p, ...values } : p)));
        return (
          <div key={picture.slot} className="grid grid-cols-[56px_minmax(0,1fr)_minmax(0,1fr)_16px] gap-2 border-t border-rule pt-2">
            <img src={`/api/textures/${picture.file}`} alt="" className="row-span-3 h-14 w-14 bg-mount object-cover" />
            <Select
              label={LABELS.affects}
              help={HELP.affects}
              value={picture.slot}
              options={[picture.slot, ...free].map((s) => ({ value: s, label: SLOT_WORDS[s] }))}
              onValue={(slot) => change({ slot: slot as MaterialTexture['slot'] })}
            />
            <Select
              label={LABELS.mapping}
              help={HELP.mapping}
              value={picture.mapping}
              options={Object.entries(MAPPING_WORDS).map(([value, label]) => ({ value, label }))}
              onValue={(mapping) => change({ mapping: mapping as Mapping })}
            />
            <button
              type="button"
              aria-label={LABELS.removeTheTextureFor(SLOT_WORDS[picture.slot])}
              onClick={() => onChange(pictures.filter((_, k) => k !== i))}
            >
              <X size={14} aria-hidden />
            </button>
            <NumberField
              label={LABELS.textureWidth}
              help={HELP.textureWidth}
              value={picture.scale}
              quantity={picture.mapping === 'box' ? 'length' : 'number'}
              unit={picture.mapping === 'box' ? 'm' : ''}
              step={0.05}
              decimals={4}
              onValue={(scale) => change({ scale })}
            />
            <NumberField
              label={LABELS.rotation}
              help={HELP.rotation}
              value={picture.rotation}
              quantity="angle"
              unit="°"
              step={15}
              decimals={1}
              onValue={(rotation) => change({ rotation })}
            />
            {([LABELS.offsetAcross, LABELS.offsetDown] as const).map((label, axis) => (
              <NumberField
                key={label}
                label={label}
                help={HELP.asAShareOf}
                value={picture.offset[axis]!}
                step={0.05}
                decimals={3}
                onValue={(v) => change({ offset: axis === 0 ? [v, picture.offset[1]] : [picture.offset[0], v] })}
              />
            ))}
          </div>
        );
      })}
      {free.length > 0 && (
        <div>
          <UploadButton<TextureReply>
            path="/textures"
            accept=".png,.jpg,.jpeg,.webp"
            label={LABELS.textureOfTheMaterial}
            onReply={({ file }) => {
              const problem = onChange([...pictures, materialTextureSchema.parse({ slot: free[0], file })]);
              if (problem) toast.error(problem);
            }}
          >
            {LABELS.addTexture}
          </UploadButton>
        </div>
      )}
    </div>
  );
}
