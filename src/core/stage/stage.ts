/**
 * Stage presets: backdrop, environment, lights and base plane, scaled to the subject's bounds so that a
 * subject of any size stands in the same light.
 */
import * as z from 'zod';
import { type Bounds, type Vec3, centreOf, radiusOf } from '../math/bounds.js';
import { hexSchema, type Rgb, parseHex } from '../units/colour.js';
import { DAYLIGHT_UNIT, type DaylightLight, daylightOf, daylightSchema, sunPosition, skyBands } from './daylight.js';
import { libraryMaterial } from '../materials/library.js';
import type { Material } from '../materials/material.js';
import type { Light } from './light.js';
import { toLight, type UserLight, userLightSchema, ROOM_UNIT } from './userLight.js';
import { siteSchema } from './site.js';
import { PRESET_DEFINITIONS, type PresetDefinition, STAGE_PRESETS } from './presets.js';
import type { SkyLight } from './sky.js';
import { ENVIRONMENT_ENDINGS } from '../model/fileExtensions.js';

export { STAGE_PRESETS, type StagePreset } from './presets.js';
/** Names of environment images: no folder, and an ending of one. */
const ENVIRONMENT_FILE = new RegExp(`^[^/\\\\\\0]{1,200}\\.(${ENVIRONMENT_ENDINGS.join('|')})$`, 'i');

/** What the subject stands on. */
export const GROUND_KINDS = ['plane', 'shadow', 'none'] as const;

const MAX_USER_LIGHTS = 100;

/** What surrounds and lights the model. */
export const stageSchema = z
  .strictObject({
    preset: z.enum(STAGE_PRESETS).default('bright sweep'),
    /** Where the design stands, for daylight. */
    site: siteSchema.optional(),
    /** Sun and sky light instead of the stage preset's surround and lights. */
    daylight: daylightSchema.optional(),
    /** One colour behind everything, as #rrggbb in the finished picture; the stage preset's own backdrop where absent. Lights nothing. */
    backdrop: hexSchema.optional(),
    /** Colours behind everything from straight up through the level of the eye to straight down, as the finished picture has them. */
    backdropGradient: z.strictObject({ top: hexSchema, middle: hexSchema, bottom: hexSchema }).optional(),
    /** A picture flat behind everything, cropped to the frame and never squeezed; it lights nothing. */
    backdropImage: z
      .strictObject({
        /** Beside the set file; the application keeps it by content hash. */
        file: z.string().regex(/^[^/\\\0]{1,200}\.(png|jpe?g|webp)$/i, 'Name a .png, .jpg or .webp file, without a folder.'),
      })
      .optional(),
    ground: z
      .strictObject({
        /** A plane; a plane that shows shadows alone; or none. */
        kind: z.enum(GROUND_KINDS),
        /** Metres; the lowest point of the subject where absent. */
        height: z.number().min(-1e4).max(1e4).optional(),
        colour: hexSchema.optional(),
        /** Name of a material of the library, instead of a colour. */
        material: z
          .string()
          .refine((name) => libraryMaterial(name) !== undefined, 'This is not a material of the library; choose another.')
          .optional(),
        /** Metres from its middle to where it has faded; by the stage preset where absent. */
        radius: z.number().min(1e-3).max(1e5).optional(),
      })
      .optional(),
    /** An equirectangular picture that lights instead of the stage preset's surround and lights. */
    environment: z
      .strictObject({
        /** A Radiance, OpenEXR, PFM or TIFF file, beside the set file or kept by the application. */
        file: z.string().regex(ENVIRONMENT_FILE, 'Name a .hdr, .exr, .pfm or .tif file, without a folder.'),
        /** Degrees, counterclockwise seen from above. */
        rotation: z.number().min(-360).max(360).default(0),
        strength: z.number().min(0).max(1000).default(1),
        /** The camera sees it; else it sees the backdrop. */
        visible: z.boolean().default(true),
      })
      .optional(),
    /** Lights that the model's file brings shine. */
    modelLights: z.boolean().default(false),
    /** Paths of parts whose lights stay off all the same. */
    modelLightsOff: z.array(z.string().min(1).max(1000)).max(1000).optional(),
    /** Lights that are added to whatever else lights. */
    lights: z.array(userLightSchema).max(MAX_USER_LIGHTS).optional(),
  })
  .superRefine((stage, context) => {
    if (stage.backdrop && stage.backdropGradient)
      context.addIssue({ code: 'custom', path: ['backdropGradient'], message: 'A backdrop is one colour or a gradient; remove one of the two.' });
    if (!stage.daylight) return;
    try {
      sunPosition(stage.daylight, stage.site);
    } catch (e) {
      context.addIssue({ code: 'custom', path: stage.site ? ['daylight', 'time'] : ['site'], message: (e as Error).message });
    }
  });

/** What {@link stageSchema} reads. */
export type StageSettings = z.infer<typeof stageSchema>;

/** Colours of a backdrop, linear, from above to below. */
export interface Gradient {
  top: Rgb;
  middle: Rgb;
  bottom: Rgb;
}

/** A stage in metres and linear light, as a frame carries it. */
export interface Stage {
  /** What lights: radiance from the zenith, the horizon and below. */
  environment: Gradient;
  /** What the eye sees where nothing stands. */
  backdrop: Gradient;
  /** The backdrop, of colour or picture, is no light but comes out of the frame's own grade as it is. */
  displayReferred?: boolean;
  lights: Light[];
  /** Base plane, whole up to the inner radius and gone from the outer one; shadow-only: it catches shadows and nothing else. */
  base: {
    height: number;
    x: number;
    z: number;
    inner: number;
    outer: number;
    colour: Rgb;
    roughness: number;
    material?: Material;
    shadowCatcher?: boolean;
  } | null;
  /** Lights that the model's file brings shine. */
  modelLights?: boolean;
  /** Paths of parts whose lights do not. */
  modelLightsOff?: string[];
  /** File of the picture that stands flat behind everything the camera sees. */
  picture?: string;
  /** An equirectangular picture that lights instead of the surround: which, by content hash, turned by degrees counterclockwise from above. */
  image?: { id: string; rotation: number; strength: number; visible: boolean };
  /** A sky that lights instead of surround and image; the camera sees it, or the backdrop. */
  sky?: SkyLight & { visible: boolean };
}

function scaled([top, middle, bottom, k]: [string, string, string, number]): Gradient {
  const one = (hex: string): Rgb => parseHex(hex).map((c) => c * k) as Rgb;
  return { top: one(top), middle: one(middle), bottom: one(bottom) };
}

/** Direction to azimuth and altitude in degrees; azimuth 0 is +Z, growing clockwise seen from above. */
function direction(azimuth: number, altitude: number): Vec3 {
  const a = (azimuth * Math.PI) / 180;
  const h = (altitude * Math.PI) / 180;
  return [-Math.sin(a) * Math.cos(h), Math.sin(h), Math.cos(a) * Math.cos(h)];
}

/** Of a stage without a plane of its own, what a chosen ground takes. */
const DEFAULT_GROUND = { colour: '#b9b8b4', roughness: 0.8, inner: 2.2, outer: 9 };

function groundOf({ ground }: Partial<StageSettings>, preset: PresetDefinition, bounds: Bounds): Stage['base'] {
  const own = preset.base ?? (ground && DEFAULT_GROUND);
  if (!own || ground?.kind === 'none') return null;
  const centre = centreOf(bounds);
  const radius = Math.max(radiusOf(bounds), 1e-3);
  return {
    height: ground?.height ?? bounds.min[1],
    x: centre[0],
    z: centre[2],
    inner: ground?.radius ? (ground.radius * own.inner) / own.outer : own.inner * radius,
    outer: ground?.radius ?? own.outer * radius,
    colour: parseHex(ground?.colour ?? own.colour),
    roughness: own.roughness,
    ...(ground?.material && { material: libraryMaterial(ground.material)! }),
    ...(ground?.kind === 'shadow' && { shadowCatcher: true }),
  };
}

/** The stage under daylight: its own surround and lights give way to sun and sky. */
export function applyDaylight(stage: Stage, { sky, light }: Pick<DaylightLight, 'sky' | 'light'>, seen: boolean, own: UserLight[] = []): Stage {
  const { image: _, ...kept } = stage;
  const bands = skyBands(sky);
  return {
    ...kept,
    environment: bands,
    backdrop: seen ? bands : stage.backdrop,
    lights: [...(light ? [light] : []), ...own.map((l) => toLight(l, DAYLIGHT_UNIT))],
    sky: { ...sky, visible: seen },
  };
}

/** The stage with all that lights from afar turned by degrees, counterclockwise seen from above: environment image, sky and sun. */
export function rotateEnvironment(stage: Stage, degrees: number): Stage {
  const a = (degrees * Math.PI) / 180;
  const turn = ([x, y, z]: Vec3): Vec3 => [x * Math.cos(a) + z * Math.sin(a), y, z * Math.cos(a) - x * Math.sin(a)];
  return {
    ...stage,
    ...(stage.image && { image: { ...stage.image, rotation: stage.image.rotation + degrees } }),
    ...(stage.sky && { sky: { ...stage.sky, sun: turn(stage.sky.sun) } }),
    lights: stage.lights.map((l) => (l.kind === 'sun' && !l.added ? { ...l, direction: turn(l.direction) } : l)),
  };
}

/** Unit vector to the sun that lights a stage; undefined where none does. */
export function directionToSun({ lights }: Pick<Stage, 'lights'>): Vec3 | undefined {
  const sun = lights.find((l) => l.kind === 'sun' && !l.added);
  return sun?.kind === 'sun' ? (sun.direction.map((c) => -c) as Vec3) : undefined;
}

/** Added lights that are on. */
export function enabledLights({ lights }: Partial<Pick<StageSettings, 'lights'>>): UserLight[] {
  return (lights ?? []).filter((l) => l.on);
}

/** Whether the camera sees the sky, or a backdrop in front of it. */
export function isSkyVisible({
  backdrop,
  backdropGradient,
  backdropImage,
}: Partial<Pick<StageSettings, 'backdrop' | 'backdropGradient' | 'backdropImage'>>): boolean {
  return backdrop === undefined && backdropGradient === undefined && backdropImage === undefined;
}

/** The stage with the daylight of its choice, where it has any. Throws as daylightOf does. */
export function resolveStage(choice: Partial<StageSettings> & Pick<StageSettings, 'preset'>, bounds: Bounds, picture?: string): Stage {
  const stage = fitStagePreset(choice, bounds, picture);
  return choice.daylight ? applyDaylight(stage, daylightOf(choice.daylight, choice.site), isSkyVisible(choice), enabledLights(choice)) : stage;
}

/**
 * The chosen stage laid around the subject's bounds, without its daylight. `picture` is the content hash of its surround's
 * file, where that has a name of its own.
 */
export function fitStagePreset(choice: Pick<StageSettings, 'preset'> & Partial<StageSettings>, bounds: Bounds, picture?: string): Stage {
  const preset = PRESET_DEFINITIONS[choice.preset];
  const centre = centreOf(bounds);
  const radius = Math.max(radiusOf(bounds), 1e-3);
  const { environment, backdrop, backdropGradient } = choice;
  const stops = backdropGradient ?? (backdrop && { top: backdrop, middle: backdrop, bottom: backdrop });
  return {
    environment: scaled(preset.environment),
    backdrop: stops ? { top: parseHex(stops.top), middle: parseHex(stops.middle), bottom: parseHex(stops.bottom) } : scaled(preset.backdrop),
    ...(environment && {
      image: { id: picture ?? environment.file, rotation: environment.rotation, strength: environment.strength, visible: environment.visible },
    }),
    ...(choice.backdropImage && { picture: choice.backdropImage.file }),
    ...(!isSkyVisible(choice) && { displayReferred: true }),
    ...(choice.modelLights && { modelLights: true }),
    ...(choice.modelLights && choice.modelLightsOff && choice.modelLightsOff.length > 0 && { modelLightsOff: choice.modelLightsOff }),
    // An environment image holds its lights already.
    lights: [
      ...(environment ? [] : preset.lights).map((l): Light => {
        const d = direction(l.azimuth, l.altitude);
        const across = Math.hypot(d[0], d[2]) || 1;
        const e = l.edge * radius;
        // u × v points back to the subject.
        const u: Vec3 = [(-d[2] / across) * e, 0, (d[0] / across) * e];
        const v: Vec3 = [(-d[1] * d[0] * e) / across, across * e, (-d[1] * d[2] * e) / across];
        return {
          kind: 'rectangle' as const,
          centre: centre.map((c, i) => c + d[i]! * l.distance * radius) as Vec3,
          u,
          v,
          radiance: parseHex(l.colour).map((c) => c * l.radiance) as Rgb,
        };
      }),
      ...enabledLights(choice).map((l) => toLight(l, ROOM_UNIT)),
    ],
    base: groundOf(choice, preset, bounds),
  };
}
