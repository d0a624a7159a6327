/** How set files of earlier versions, and presets made of their pieces, are brought up to the present one. */
import type { Json, MigrationStep } from './migrate.js';

const isObject = (value: unknown): value is Json => typeof value === 'object' && value !== null && !Array.isArray(value);

/** The object with keys renamed and values rewritten; whatever is no object is left for the schema to refuse. */
function rewrite(
  value: unknown,
  keys: Readonly<Record<string, string>>,
  values: Readonly<Record<string, (value: unknown) => unknown>> = {},
): unknown {
  if (!isObject(value)) return value;
  return Object.fromEntries(Object.entries(value).map(([key, v]) => [keys[key] ?? key, values[key] ? values[key](v) : v]));
}

const each =
  (change: (item: unknown) => unknown) =>
  (value: unknown): unknown =>
    Array.isArray(value) ? value.map(change) : value;

/** Version 1 to 2 of a quality: also that of a preset. */
export const qualityFrom1 = (quality: unknown): unknown =>
  rewrite(quality, { outlierLimit: 'fireflyClamp' }, { depth: (depth) => rewrite(depth, { interfaces: 'refractionDepth' }) });

const passesFrom1 = each((pass) => (pass === 'finishes' ? 'materials' : pass));

/** Version 1 to 2 of a format sheet, and of what a shot overrides of it. */
export const sheetFrom1 = (sheet: unknown): unknown => rewrite(sheet, {}, { quality: qualityFrom1, passes: passesFrom1 });

/** Version 1 to 2 of a stage. */
export const stageFrom1 = (stage: unknown): unknown =>
  rewrite(
    stage,
    { ready: 'preset', surround: 'environment', modelLamps: 'modelLights', lamps: 'lights', backdropPicture: 'backdropImage' },
    {
      surround: (environment) => rewrite(environment, { seen: 'visible' }),
      ground: (ground) => rewrite(ground, { finish: 'material' }),
      daylight: (daylight) => rewrite(daylight, { free: 'manualSun' }),
    },
  );

/** Version 1 to 2 of what the client asks for. */
export const deliveryFrom1 = (delivery: unknown): unknown =>
  rewrite(delivery, { mostSeconds: 'maxSeconds', mostFrames: 'maxFrames' }, { passes: passesFrom1 });

const assignmentsFrom1 = (dressing: unknown): unknown =>
  rewrite(
    dressing,
    { finishes: 'materials' },
    {
      parts: each((part) =>
        rewrite(
          part,
          { picture: 'renderVisible', desk: 'viewportVisible', finish: 'material' },
          { faces: each((face) => rewrite(face, { finish: 'material' })) },
        ),
      ),
      rules: each((rule) => rewrite(rule, { finish: 'material' })),
      finishes: each((material) => rewrite(material, { pictures: 'textureFiles' })),
    },
  );

const viewFrom1 = (view: unknown): unknown =>
  rewrite(
    view,
    { uprights: 'keepVerticals', near: 'nearClipping', shows: 'overrides' },
    { shows: (shows) => rewrite(shows, { without: 'hiddenParts' }) },
  );

const TURNS_FROM_1: Readonly<Record<string, string>> = { lamps: 'lights', surround: 'environment' };

const shotFrom1 = (shot: unknown): unknown =>
  rewrite(
    shot,
    { otherwise: 'overrides', uprights: 'keepVerticals' },
    {
      otherwise: sheetFrom1,
      turns: each((what) => (typeof what === 'string' ? (TURNS_FROM_1[what] ?? what) : what)),
      path: (path) => rewrite(path, { places: 'points' }),
    },
  );

/** Version 1 to 2: the keys became the words that the trade and the literature use. */
const from1: MigrationStep = (file) =>
  rewrite(
    file,
    { dressing: 'materials', place: 'transform' },
    {
      sheet: sheetFrom1,
      stage: stageFrom1,
      stages: each((named) => rewrite(named, {}, { stage: stageFrom1 })),
      dressing: assignmentsFrom1,
      place: (transform) => rewrite(transform, {}, { plinth: (plinth) => rewrite(plinth, { finish: 'material' }) }),
      views: each(viewFrom1),
      shots: each(shotFrom1),
      delivery: deliveryFrom1,
    },
  ) as Json;

/** `SET_MIGRATIONS[v]` takes version v to v + 1. A change of the set file's meaning adds its step here. */
export const SET_MIGRATIONS: Readonly<Record<number, MigrationStep>> = { 1: from1 };
