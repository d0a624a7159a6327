/**
 * Settings that change nothing in the present state, and why: one rule a setting, so that the interface and the checks
 * before a run say the same.
 */
import { resolveSampling } from '../frame/settings.js';
import type { Grade } from '../image/grade.js';
import { kindOf, type Shot } from '../shots/kinds.js';
import type { StageSettings } from '../stage/stage.js';
import type { SetFile } from './set.js';

/** What a setting belongs to. */
export interface SettingOwners {
  sheet: SetFile['sheet'];
  shot: Shot;
  stage: StageSettings;
}

interface Rule<O extends keyof SettingOwners> {
  /** Whether it is set to something else than its default, so that somebody may wait for its effect. */
  isSet(owner: SettingOwners[O]): boolean;
  /** Why it changes nothing, as a clause; null where it does. */
  idle(owner: SettingOwners[O], set: SetFile): string | null;
}

const rule = <O extends keyof SettingOwners>(_: O, isSet: Rule<O>['isSet'], idle: Rule<O>['idle']): Rule<O> => ({ isSet, idle });

/** The rate of a new format sheet: nobody waits for the effect of what nobody set. */
const DEFAULT_RATE = '24';
const STILLS_ALONE = 'the set has stills only';
const hasMoving = (set: SetFile): boolean => set.shots.length === 0 || set.shots.some((s) => kindOf(s).moving);
/** Grades of shots, or of the set where there is no shot. */
const gradesOf = (set: SetFile): Grade[] => (set.shots.length > 0 ? set.shots.map((s) => s.grade ?? set.grade) : [set.grade]);
const isSky = (stage: StageSettings): boolean => stage.daylight !== undefined;

/** Rules by what the setting belongs to and its name there. */
export const NO_EFFECT_RULES = {
  'sheet.rate': rule(
    'sheet',
    (s) => s.rate !== DEFAULT_RATE,
    (_, set) => (hasMoving(set) ? null : STILLS_ALONE),
  ),
  'sheet.shutter': rule(
    'sheet',
    (s) => s.shutter > 0,
    (_, set) => (hasMoving(set) ? null : STILLS_ALONE),
  ),
  'sheet.lines': rule(
    'sheet',
    (s) => s.lines !== undefined,
    (s) => (s.passes.includes('beauty') || s.passes.includes('lines') ? null : 'neither beauty nor lines are among the passes'),
  ),
  'sheet.lineStyle': rule(
    'sheet',
    (s) => s.lines !== undefined,
    (_, set) => (gradesOf(set).every((g) => g.lines) ? 'the grade draws lines another way' : null),
  ),
  'sheet.denoise': rule(
    'sheet',
    (s) => resolveSampling(s.quality).mode === 'traced',
    (s, set) => {
      const { denoise } = resolveSampling(s.quality);
      const isOther = gradesOf(set).every((g) => g.denoise === !denoise);
      return isOther ? `the grade ${denoise ? 'leaves noise unfiltered' : 'filters noise'}` : null;
    },
  ),
  'shot.rate': rule(
    'shot',
    (s) => s.overrides?.rate !== undefined,
    (s) => (kindOf(s).moving ? null : 'a still has no rate'),
  ),
  'shot.shutter': rule(
    'shot',
    (s) => (s.overrides?.shutter ?? 0) > 0,
    (s) => (kindOf(s).moving ? null : 'a still does not move'),
  ),
  'stage.environment': rule(
    'stage',
    (s) => s.environment !== undefined,
    (s) => (isSky(s) ? 'the stage is lit by daylight' : null),
  ),
  'stage.backdrop': rule(
    'stage',
    (s) => s.backdrop !== undefined || s.backdropGradient !== undefined,
    (s) => (s.environment?.visible && !isSky(s) ? 'the environment image is shown as the backdrop' : s.backdropImage ? 'an image covers it' : null),
  ),
  'stage.turbidity': rule(
    'stage',
    (s) => s.daylight !== undefined,
    (s) => (s.daylight?.sky === 'overcast' ? 'an overcast sky is grey' : null),
  ),
  'stage.date': rule(
    'stage',
    (s) => s.daylight !== undefined,
    (s) => (s.daylight?.manualSun ? 'the sun is placed by hand' : null),
  ),
  'stage.groundHeight': rule(
    'stage',
    (s) => s.ground?.height !== undefined,
    (s) => (s.ground?.kind === 'none' ? 'there is no ground' : null),
  ),
  'stage.groundColour': rule(
    'stage',
    (s) => s.ground?.colour !== undefined,
    (s) => (s.ground?.material ? 'the ground has a material' : s.ground?.kind === 'shadow' ? 'the ground shows shadows alone' : null),
  ),
} as const;

/** A key of {@link NO_EFFECT_RULES}. */
export type Setting = keyof typeof NO_EFFECT_RULES;
type OwnerOf<S extends Setting> = S extends `${infer O}.${string}` ? (O extends keyof SettingOwners ? O : never) : never;

/** Why a setting of its owner changes nothing now, as a clause; null where it does, or is not set. */
export function noEffect<S extends Setting>(setting: S, owner: SettingOwners[OwnerOf<S>], set: SetFile): string | null {
  const { isSet, idle } = NO_EFFECT_RULES[setting] as unknown as Rule<OwnerOf<S>>;
  return isSet(owner) ? idle(owner, set) : null;
}
