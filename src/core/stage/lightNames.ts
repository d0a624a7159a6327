/** What the lights of a frame's stage are called. */
import type { Stage, StageSettings } from './stage.js';
import { enabledLights } from './stage.js';

/** What people call a light of a frame's stage. */
export interface NamedLight {
  name: string;
  /** Id of the light in the set; absent of the sun and of a preset's lights. */
  id?: string;
}

/** In the order of the stage: those of the set come last, before them the sun or the preset's. */
export function lightNames({ lights }: Pick<Stage, 'lights'>, settings: Partial<Pick<StageSettings, 'lights'>>): NamedLight[] {
  const own = enabledLights(settings);
  const others = lights.length - own.length;
  return lights.map((light, i): NamedLight => {
    const user = i >= others ? own[i - others] : undefined;
    if (user) return { name: user.name, id: user.id };
    return { name: light.kind === 'sun' ? 'Sun' : `Preset light ${i + 1}` };
  });
}
