/** Questions about the sun that need the model: answered by kernel rays against the set as it stands. */
import cities from 'city-timezones';
import type { ClearanceReply } from '../contract/clearance.js';
import type { PlacesReply } from '../contract/daylight.js';
import type { Bounds, Vec3 } from '../core/math/bounds.js';
import { withPlinth } from '../core/model/modelTransform.js';
import { subjectBounds } from '../core/planning/planFrames.js';
import { viewFrame } from '../core/planning/previewFrame.js';
import { MIN_CLEARANCE, clearances, nearestClearPoint, type NearestDistance } from '../core/shots/walkthrough/clearance.js';
import { type Floor, floorOf, floorRays } from '../core/stage/floor.js';
import type { Site } from '../core/stage/site.js';
import {
  exposureLevel,
  gridAround,
  groundHeights,
  type GroundHours,
  groundHours,
  isExposureDay,
  type Silhouette,
  silhouette,
  sunHours,
  sunSteps,
} from '../core/stage/sunHours.js';
import { fitStagePreset } from '../core/stage/stage.js';
import { defaultView } from '../core/camera/defaultView.js';
import { SceneQueries } from '../engine/queries/sceneQueries.js';
import { resolveScene } from '../engine/scene/resolveScene.js';
import { loadKernelModule } from '../engine/node/assets.js';
import type { ServerContext } from './context.js';
import type { PlanSet, Project, Revision } from './db/models.js';
import { ServerError } from './errors.js';
import { digestOfRevision, planContext } from './revisions.js';
import { setFileOf } from './sets.js';

const MAX_PLACES = 12;
/** Points of a path whose rays are asked together. */
const CONCURRENT_POINTS = 100;
const plain = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();

/** Cities whose names begin with the words, the largest first. */
export function findPlaces(words: string): PlacesReply {
  const asked = plain(words);
  return cities.cityMapping
    .filter((c) => plain(c.city).startsWith(asked) || plain(c.city_ascii).startsWith(asked))
    .sort((a, b) => b.pop - a.pop)
    .slice(0, MAX_PLACES)
    .map((c) => ({ name: c.city, country: c.country, latitude: c.lat, longitude: c.lng, timeZone: c.timezone }));
}

/** The set's design as rays meet it; the last one asked is kept, since questions come in rows. */
let latest: { key: string; queries: SceneQueries } | null = null;

async function queriesOf({ store }: ServerContext, project: Project, set: PlanSet, revision: Revision): Promise<SceneQueries> {
  const file = setFileOf(set);
  const { size, pixelAspect } = file.sheet;
  const view = defaultView(subjectBounds(file, digestOfRevision(revision).bounds), size, pixelAspect);
  // Light does not matter to the rays.
  const stage = { ...file.stage, daylight: undefined, environment: undefined, backdropImage: undefined };
  const frame = viewFrame({ ...file, stage }, view, planContext(project, revision), { width: 16, height: 16 }, 1);
  const { key, load } = resolveScene(frame, store.source(revision.hash));
  if (latest?.key !== key) latest = { key, queries: new SceneQueries(loadKernelModule(), await load(), frame) };
  return latest.queries;
}

/** The floor that the design brings about a height, as the set stands it. */
export async function ownFloor(context: ServerContext, project: Project, set: PlanSet, revision: Revision, height: number): Promise<Floor> {
  const file = setFileOf(set);
  const bounds = withPlinth(file.transform, subjectBounds(file, digestOfRevision(revision).bounds));
  const queries = await queriesOf(context, project, set, revision);
  return floorOf(bounds, height, queries.met(floorRays(bounds, height)).distance);
}

/** Room along a walk, and free places for stations that have too little. */
export async function clearanceOf(
  context: ServerContext,
  project: Project,
  set: PlanSet,
  revision: Revision,
  { points, stations }: { points: Vec3[]; stations: Vec3[] },
): Promise<ClearanceReply> {
  const queries = await queriesOf(context, project, set, revision);
  const nearest: NearestDistance = (rays) => queries.met(rays);
  const inChunks = (list: Vec3[]): number[] => {
    const all: number[] = [];
    for (let i = 0; i < list.length; i += CONCURRENT_POINTS) all.push(...clearances(list.slice(i, i + CONCURRENT_POINTS), nearest));
    return all;
  };
  const room = inChunks(stations);
  return {
    clear: inChunks(points).map((c) => (Number.isFinite(c) ? c : null)),
    free: stations.map((s, i) => (room[i]! < MIN_CLEARANCE ? nearestClearPoint(s, MIN_CLEARANCE, nearest) : null)),
  };
}

/** Throws 422 where the set has no site. */
function siteOf(set: PlanSet): Site {
  const { site } = setFileOf(set).stage;
  if (!site) throw new ServerError('unusable', 'The set has no site; give its latitude and longitude on the Stage step.');
  return site;
}

/** Where people's eyes are over the ground, metres. */
const EYE_HEIGHT = 1.5;

/** Height of the stage's ground, and one above everything. */
function levels(set: PlanSet, revision: Revision): { bounds: Bounds; ground: number; top: number } {
  const file = setFileOf(set);
  const bounds = withPlinth(file.transform, subjectBounds(file, digestOfRevision(revision).bounds));
  const ground = fitStagePreset(file.stage, bounds).base?.height ?? bounds.min[1];
  return { bounds, ground, top: bounds.max[1] + 1000 };
}

/** What the design hides of the sky, seen from over the ground at x and z. */
export async function silhouetteOf(
  context: ServerContext,
  project: Project,
  set: PlanSet,
  revision: Revision,
  { x, z }: { x: number; z: number },
): Promise<Silhouette> {
  const queries = await queriesOf(context, project, set, revision);
  const { ground, top } = levels(set, revision);
  const [height] = groundHeights([[x, 0, z]], ground, top, (rays) => queries.met(rays));
  const from: Vec3 = [x, (height ?? ground) + EYE_HEIGHT, z];
  return silhouette(from, siteOf(set).north, (rays) => queries.blocked(rays));
}

/** A day to be asked for hours of sun: date, minutes from sample to sample, and lowest altitude in degrees that counts. */
export interface SunDayQuery {
  date: string;
  step: number;
  minimum: number;
}

/** How long the sun reaches each square of the ground about the subject on that day. */
export async function groundSun(
  context: ServerContext,
  project: Project,
  set: PlanSet,
  revision: Revision,
  { date, step, minimum, cells }: SunDayQuery & { cells: number },
): Promise<GroundHours> {
  const suns = sunSteps(siteOf(set), date, step, minimum);
  const queries = await queriesOf(context, project, set, revision);
  const { bounds, ground, top } = levels(set, revision);
  return groundHours(gridAround(bounds, ground, cells), suns, step, {
    blocked: (rays) => queries.blocked(rays),
    met: (rays) => queries.met(rays),
    top,
  });
}

/** Hours of sun at a window's reference point, and the level of EN 17037 that they reach. */
export async function windowSun(
  context: ServerContext,
  project: Project,
  set: PlanSet,
  revision: Revision,
  { date, step, minimum, point }: SunDayQuery & { point: Vec3 },
): Promise<{ hours: number; level: ReturnType<typeof exposureLevel>; judged: boolean }> {
  const suns = sunSteps(siteOf(set), date, step, minimum);
  const queries = await queriesOf(context, project, set, revision);
  const [hours] = sunHours([point], suns, step, (rays) => queries.blocked(rays));
  return { hours: hours!, level: exposureLevel(hours!), judged: isExposureDay(date) };
}
