/** Settings that change nothing in the present state. */
import { NO_EFFECT_RULES, noEffect as reasonOf, type Setting, type SettingOwners } from '../../plan/noEffect.js';
import type { Finding, Found } from '../finding.js';

/** What the settings are called. */
const LABELS: Record<Setting, string> = {
  'sheet.rate': 'Frame rate',
  'sheet.shutter': 'Shutter angle',
  'sheet.lines': 'Lines',
  'sheet.lineStyle': 'Line width and colour',
  'sheet.denoise': 'Denoise',
  'shot.rate': 'Frame rate',
  'shot.shutter': 'Shutter angle',
  'stage.environment': 'Environment image',
  'stage.backdrop': 'Backdrop',
  'stage.turbidity': 'Turbidity',
  'stage.date': 'Date',
  'stage.groundHeight': 'Ground height',
  'stage.groundColour': 'Ground colour',
};

/** Settings that change nothing in the present state of others. */
export const noEffect: Finding = {
  id: 'no-effect',
  title: 'Settings without effect',
  area: 'format',
  needs: 'plan',
  inspect: ({ set }) => {
    const found: Found[] = [];
    const ask = <O extends keyof SettingOwners>(kind: O, owner: SettingOwners[O], run?: string): void => {
      for (const setting of (Object.keys(NO_EFFECT_RULES) as Setting[]).filter((s) => s.startsWith(`${kind}.`))) {
        const why = reasonOf(setting, owner as never, set);
        if (why)
          found.push({ severity: 'note', ...(run && { run }), message: `${LABELS[setting]}: no effect, since ${why}.`, about: { setting, why } });
      }
    };
    ask('sheet', set.sheet);
    for (const shot of set.shots) if (!shot.off) ask('shot', shot, shot.id);
    for (const stage of [set.stage, ...(set.stages ?? []).map((s) => s.stage)]) ask('stage', stage);
    return found;
  },
};
