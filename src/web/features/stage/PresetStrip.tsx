import type { ReactNode } from 'react';
import { STAGE_PRESETS, type StageSettings } from '../../../core/stage/stage.js';
import { Thumbnail } from '../../ui/Thumbnail.js';
import { LABELS } from './words.js';

/** The stage presets, each as the subject looks on it. */
export function PresetStrip(props: {
  chosen: StageSettings['preset'];
  /** Address of the small render on a preset. */
  picture(preset: string): string;
  onChoose(preset: StageSettings['preset']): void;
}): ReactNode {
  const { chosen, picture, onChoose } = props;
  return (
    <div className="flex flex-wrap gap-x-2.5 gap-y-2 border-t border-ink p-[18px]" role="radiogroup" aria-label={LABELS.stagePresets}>
      {STAGE_PRESETS.map((ready) => (
        <button
          key={ready}
          type="button"
          role="radio"
          aria-checked={chosen === ready}
          onClick={() => onChoose(ready)}
          className={`w-[130px] border-b-[3px] pb-1 text-left ${chosen === ready ? 'border-madder font-semibold' : 'border-transparent'}`}
        >
          <span className="flex h-[74px] items-center justify-center bg-mount">
            <Thumbnail src={picture(ready)} alt="" className="size-full object-contain" />
          </span>
          <span className="pt-1">{ready}</span>
        </button>
      ))}
    </div>
  );
}
