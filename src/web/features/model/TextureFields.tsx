/** Pictures on a finish of one's own: what each steers, how large it is, how it lies. */
import { type ReactNode } from 'react';
import { toast } from 'sonner';
import { X } from 'lucide-react';
import { type TextureReply } from '../../../contract/contract.js';
import { type MaterialTexture, materialTextureSchema, CUSTOM_TEXTURE_SLOTS } from '../../../core/materials/customMaterial.js';
import { type Mapping } from '../../../core/materials/material.js';
import { NumberField, Select } from '../../ui/controls.js';
import { UploadButton } from '../../ui/UploadButton.js';

const SLOT_WORDS: Record<MaterialTexture['slot'], string> = {
  base: 'colour',
  metalRough: 'roughness (green), metal (blue)',
  normal: 'normals',
  emission: 'glow',
  occlusion: 'occlusion (red)',
  transmission: 'clear (red)',
  coat: 'lacquer (red)',
  coatRoughness: 'lacquer roughness (green)',
  coatNormal: 'lacquer normals',
  sheen: 'shimmer',
  sheenRoughness: 'shimmer roughness (alpha)',
  specular: 'highlight (alpha)',
  specularColour: 'highlight colour',
  anisotropy: 'brushing (red, green; blue how much)',
  translucency: 'lets through (alpha)',
  translucentColour: 'colour that passes',
};
const MAPPING_WORDS: Record<Mapping, string> = {
  box: 'by a box',
  first: "by the model's",
  second: 'by its second',
};

interface TextureFieldsProps {
  pictures: MaterialTexture[];
  /** Returns what is wrong, or null. */
  onChange: (pictures: MaterialTexture[]) => string | null;
}

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
              label="Steers"
              help="What the picture multiplies."
              value={picture.slot}
              options={[picture.slot, ...free].map((s) => ({ value: s, label: SLOT_WORDS[s] }))}
              onValue={(slot) => change({ slot: slot as MaterialTexture['slot'] })}
            />
            <Select
              label="Lies"
              help="By a box around the part, for models without coordinates: each side shows the picture upright, in metres. Or by the model's own first or second coordinates."
              value={picture.mapping}
              options={Object.entries(MAPPING_WORDS).map(([value, label]) => ({ value, label }))}
              onValue={(mapping) => change({ mapping: mapping as Mapping })}
            />
            <button
              type="button"
              aria-label={`Take the picture for ${SLOT_WORDS[picture.slot]} off`}
              onClick={() => onChange(pictures.filter((_, k) => k !== i))}
            >
              <X size={14} aria-hidden />
            </button>
            <NumberField
              label="Picture width"
              help="Metres that one picture is wide; with the model's coordinates, units of them."
              value={picture.scale}
              quantity={picture.mapping === 'box' ? 'length' : 'number'}
              unit={picture.mapping === 'box' ? 'm' : ''}
              step={0.05}
              decimals={4}
              onValue={(scale) => change({ scale })}
            />
            <NumberField
              label="Turned"
              help="Degrees counterclockwise."
              value={picture.rotation}
              quantity="angle"
              unit="°"
              step={15}
              decimals={1}
              onValue={(rotation) => change({ rotation })}
            />
            {(['Moved across', 'Moved down'] as const).map((label, axis) => (
              <NumberField
                key={label}
                label={label}
                help="Shares of the picture's own width or height."
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
            label="Picture of the finish"
            onReply={({ file }) => {
              const problem = onChange([...pictures, materialTextureSchema.parse({ slot: free[0], file })]);
              if (problem) toast.error(problem);
            }}
          >
            Add a picture
          </UploadButton>
        </div>
      )}
    </div>
  );
}
