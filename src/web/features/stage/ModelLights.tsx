import type { ReactNode } from 'react';
import type { StageSettings } from '../../../core/stage/stage.js';
import { Checkbox } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Which of the lights that the model brings are on. */
export function ModelLights(props: {
  stage: StageSettings;
  /** Lights in the model, and the paths of those that can be told apart. */
  count: number | undefined;
  paths: readonly string[];
  onChange(values: Partial<StageSettings>): string | null;
}): ReactNode {
  const { stage, count, paths, onChange: change } = props;
  return (
    <section className="border-t border-rule pt-3">
      <Checkbox label={LABELS.modelLights} help={HELP.modelLights} checked={stage.modelLights} onChecked={(modelLights) => change({ modelLights })} />
      {stage.modelLights &&
        paths.length > 1 &&
        paths.map((path) => (
          <Checkbox
            key={path}
            label={path}
            help={HELP.oneModelLight}
            checked={!stage.modelLightsOff?.includes(path)}
            onChecked={(on) => {
              const off = [...(stage.modelLightsOff ?? []).filter((p) => p !== path), ...(on ? [] : [path])];
              change({ modelLightsOff: off.length > 0 ? off : undefined });
            }}
          />
        ))}
      {count === 0 && stage.modelLights && <p className="text-sm text-ochre">{MESSAGES.noEffectThisModel}</p>}
    </section>
  );
}
