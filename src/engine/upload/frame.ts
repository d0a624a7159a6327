/** One frame in kernel memory: instances as they stand, light, camera, limits. */
import * as L from '../../../kernel/layout.js';
import { turnMatrix } from '../../core/camera/view.js';
import type { Frame } from '../../core/frame/frame.js';
import { CAP_NAME, GROUND_NAME, HATCH_NAME } from '../../core/image/addedNames.js';
import { sceneFromDisplay, inverseToneTable } from '../../core/image/inverseTone.js';
import { centreOf } from '../../core/math/bounds.js';
import { identity } from '../../core/math/matrix.js';
import { DEFAULT_MATERIAL, type Material } from '../../core/materials/material.js';
import type { Light } from '../../core/stage/light.js';
import type { Rgb } from '../../core/units/colour.js';
import { emissiveTriangles, NO_TRIANGLES } from './emissiveTriangles.js';
import { filterTable, PROJECTIONS, writeCamera } from './camera.js';
import { rotateEnvironmentRecord, writeSky } from './environment.js';
import { baseSamples, filmLayout, sequenceBits } from './filmLayout.js';
import type { FrameSlot } from './frameSlot.js';
import { type WrittenInstances, writeInstances } from './instances.js';
import { writeLights, type WrittenLights } from './lights.js';
import { writeMaterial } from './material.js';
import { writeF32, writeU32 } from './memoryViews.js';
import { placementOf } from './placement.js';
import { MAX_LIGHTS, type Placed, type SceneData, subjectRadius } from './sceneData.js';
import { keyLight, modelLights } from './sceneLights.js';

/** How far ambient occlusion and contact shading look, in radii of the subject. */
const AO_DISTANCE = 0.25;

/** The one matt white that all parts of a clay render have. */
const CLAY_MATERIAL: Material = { ...DEFAULT_MATERIAL, name: 'Clay', base: [0.72, 0.7, 0.68], roughness: 0.85, specular: 0.4 };

/** Film pixels to an image's coordinates, so that it covers the frame, is not squeezed, and its middle stays in the middle. */
function cropToFill(image: { width: number; height: number }, { size, pixelAspect }: Frame): number[] {
  const wide = (size.width * pixelAspect * image.height) / (size.height * image.width);
  const [across, down] = wide < 1 ? [wide, 1] : [1, 1 / wide];
  return [0.5 - across / 2, across / size.width, 0.5 - down / 2, down / size.height];
}

/** The image of the frame's environment; none where the sky lights it. */
const environmentImage = ({ stage }: Frame): Frame['stage']['image'] => (stage.sky ? undefined : stage.image);

/** Whether an image lies behind everything. */
const hasBackdropImage = ({ stage }: Frame): boolean => stage.picture !== undefined;

/** Throws what keeps this frame from being rendered with this scene. */
function checkFrame(data: SceneData, frame: Frame, lights: Light[]): void {
  if (lights.length > MAX_LIGHTS) throw new Error(`A stage has at most ${MAX_LIGHTS} lights, not ${lights.length}.`);
  if (hasBackdropImage(frame) && !data.backdrop) throw new Error('The backdrop uses an image that the scene was not loaded with.');
  if (environmentImage(frame) && data.environment === 0) throw new Error('The stage uses an environment image that the scene was not loaded with.');
  const planes = frame.section?.planes.length ?? 0;
  if (planes > L.MAX_PLANES) throw new Error(`A section has at most ${L.MAX_PLANES} planes, not ${planes}.`);
  // A plain copy of a planned frame lacks it, and would quietly share its noise with every other one.
  if (!Number.isInteger(frame.seed)) throw new Error(`The frame "${frame.name}" has no seed; change planned frames by withFrame.`);
}

function writeFrameLights(data: SceneData, room: FrameSlot, frame: Frame, placed: Placed[], lights: Light[], lit: boolean): WrittenLights {
  const { sky } = frame.stage;
  const image = environmentImage(frame);
  const laid = writeLights(data.views, room.lights, room.chances, {
    lights,
    turnedUpTo: frame.stage.lights.length,
    sunStays: sky !== undefined,
    triangles: frame.clay || !lit ? NO_TRIANGLES : emissiveTriangles(data, placed),
    mean: !lit ? 0 : sky ? writeSky(data.views, room.sky, sky, data.skies) : image ? data.environmentMean * image.strength : 0,
    radius: subjectRadius(data),
    turned: frame.turn?.what.includes('lights') ? turnMatrix(frame.turn, frame.turn.rotation) : identity(),
  });
  laid.suns.forEach((s, i) => writeU32(data.views, room.suns + i * 4, s));
  return laid;
}

/** The table of a filter: frames after frames have the same. */
function filterOf({ filters }: SceneData, filter: Frame['sampling']['filter']): Float32Array {
  const key = `${filter.kind} ${filter.width}`;
  let table = filters.get(key);
  if (!table) filters.set(key, (table = filterTable(filter)));
  return table;
}

function writeSampling(data: SceneData, room: FrameSlot, frame: Frame): void {
  const { views } = data;
  const { sampling, size } = frame;
  const at = room.frame;
  const { stride, bits } = filmLayout(frame);
  const quick = sampling.mode === 'quick';
  writeF32(views, room.filter, filterOf(data, sampling.filter));
  const words: [number, number][] = [
    [L.FRAME_SEED, frame.seed],
    [L.FRAME_WIDTH, size.width],
    [L.FRAME_HEIGHT, size.height],
    [L.FRAME_FILTER, room.filter],
    [L.FRAME_SEQUENCE, sequenceBits(sampling.samples)],
    [L.FRAME_MAX_BOUNCES, sampling.bounces],
    [L.FRAME_REFRACTION_DEPTH, sampling.refractionDepth],
    [L.FRAME_CAUSTICS, sampling.caustics ? 1 : 0],
    [L.FRAME_STRIDE, stride],
    [L.FRAME_PASSES, bits],
    [L.FRAME_MIN_SAMPLES, quick ? 2 : 16],
    [L.FRAME_QUICK, quick ? 1 : 0],
    [L.FRAME_BASE_SAMPLES, baseSamples(sampling)],
    [L.FRAME_SAMPLES, sampling.samples],
  ];
  for (const [offset, value] of words) writeU32(views, at + offset, value);
  writeF32(views, at + L.FRAME_CLAMP, [sampling.fireflyClamp]);
  writeF32(views, at + L.FRAME_NOISE, [sampling.noise]);
  writeF32(views, at + L.FRAME_ADAPTIVE_SCALE, [0, 0]);
}

/** The camera as the shutter opens and closes, its lens and near clipping, and how far all turns meanwhile. */
function writeCameras({ views }: SceneData, at: number, { camera, size, shutter, turn }: Frame): void {
  writeCamera(views, at + L.FRAME_OPEN, camera, size);
  writeCamera(views, at + L.FRAME_CLOSE, shutter?.camera ?? camera, size);
  writeU32(views, at + L.FRAME_PROJECTION, PROJECTIONS[camera.kind]);
  writeU32(views, at + L.FRAME_SHUTTER, shutter ? 1 : 0);
  writeF32(views, at + L.FRAME_LENS, [camera.lens?.radius ?? 0, camera.lens?.focus ?? 1]);
  writeF32(views, at + L.FRAME_NEAR_CLIP, [camera.nearClipping ?? 0]);
  writeF32(views, at + L.FRAME_TURN, [((shutter?.rotation ?? 0) * Math.PI) / 180, turn?.pivot[0] ?? 0, turn?.pivot[2] ?? 0]);
  writeU32(views, at + L.FRAME_TILTED, turn?.axis ? 1 : 0);
  writeF32(views, at + L.FRAME_PIVOT_Y, [turn?.pivot[1] ?? 0, ...(turn?.axis ?? [0, 1, 0])]);
}

/** Where the kernel finds the scene's instances and lights. */
function writeScene(data: SceneData, room: FrameSlot, frame: Frame, lights: WrittenLights, tree: WrittenInstances): void {
  const { views } = data;
  const at = room.frame;
  const words: [number, number][] = [
    [L.FRAME_TREE, room.tree],
    [L.FRAME_INSTANCES, room.instances],
    [L.FRAME_INSTANCE_COUNT, tree.instances],
    [L.FRAME_HAS_GLASS, tree.glass ? 1 : 0],
    [L.FRAME_LIGHTS, room.lights],
    [L.FRAME_LIGHT_COUNT, lights.count],
    [L.FRAME_LIGHT_CDF, room.chances],
    [L.FRAME_SUNS, room.suns],
    [L.FRAME_SUN_COUNT, lights.suns.length],
    [L.FRAME_LUT, data.textures.colour],
    [L.FRAME_ENERGY, data.energy],
    [L.FRAME_TRANSPARENT, frame.transparent ? 1 : 0],
  ];
  for (const [offset, value] of words) writeU32(views, at + offset, value);
  views.i32[(at + L.FRAME_ROOT) >> 2] = tree.root;
  writeF32(views, at + L.FRAME_EXTENT, [tree.extent]);
  writeF32(views, at + L.FRAME_AO_DISTANCE, [AO_DISTANCE * subjectRadius(data)]);
}

/** What lies around and behind the scene: gradients, sky, environment image, backdrop image. */
function writeEnvironment(data: SceneData, room: FrameSlot, frame: Frame): void {
  const { views } = data;
  const at = room.frame;
  const { sky, environment, backdrop, displayReferred } = frame.stage;
  const image = environmentImage(frame);
  const behind = hasBackdropImage(frame);
  const inverted = behind && displayReferred === true;
  if (inverted) writeF32(views, room.look, inverseToneTable(frame.grade, L.INVERSE_TONE_CELLS));
  const shown = (colour: Rgb): Rgb => (displayReferred ? sceneFromDisplay(colour, frame.grade) : colour);
  writeU32(views, at + L.FRAME_ENVIRONMENT, sky ? room.sky.record : image ? room.image : 0);
  writeU32(views, at + L.FRAME_ENVIRONMENT_VISIBLE, (sky ?? image)?.visible ? 1 : 0);
  writeU32(views, at + L.FRAME_BACKDROP, behind ? data.textures.records + data.backdrop!.texture * L.TEXTURE_BYTES : 0);
  writeU32(views, at + L.FRAME_BACKDROP_INVERSE_TONE, inverted ? room.look : 0);
  writeF32(views, at + L.FRAME_BACKDROP_FIT, behind ? cropToFill(data.backdrop!, frame) : [0, 0, 0, 0]);
  writeF32(views, at + L.FRAME_ZENITH, [...environment.top, ...environment.middle, ...environment.bottom]);
  writeF32(views, at + L.FRAME_BACKDROP_TOP, [backdrop.top, backdrop.middle, backdrop.bottom].flatMap(shown));
  if (!image) return;
  // Frames in work at the same time may turn it differently.
  views.u8.copyWithin(room.image, data.environment, data.environment + L.ENV_BYTES);
  rotateEnvironmentRecord(views, room.image, image.rotation, image.strength);
}

function writeGround(data: SceneData, room: FrameSlot, frame: Frame): void {
  const { base } = frame.stage;
  const at = room.frame;
  writeU32(data.views, at + L.FRAME_GROUND_KIND, base ? (base.shadowCatcher ? 2 : 1) : 0);
  writeU32(data.views, at + L.FRAME_GROUND_MATERIAL, room.base);
  if (!base) return;
  // A hair below the model's lowest face, or the two would fight where they touch.
  const height = base.height - 2e-5 * subjectRadius(data);
  writeF32(data.views, at + L.FRAME_GROUND_HEIGHT, [height, base.x, base.z, base.inner, base.outer]);
  const material = base.material ?? { ...DEFAULT_MATERIAL, base: base.colour, roughness: base.roughness };
  writeMaterial(data.views, room.base, { ...material, name: GROUND_NAME }, data.textures);
}

function writeSection({ views, textures }: SceneData, room: FrameSlot, { section }: Frame): void {
  const at = room.frame;
  writeU32(views, at + L.FRAME_PLANES, room.planes);
  writeU32(views, at + L.FRAME_PLANE_COUNT, section?.planes.length ?? 0);
  writeU32(views, at + L.FRAME_CAP_MATERIAL, section?.cap ? room.cap : 0);
  writeU32(views, at + L.FRAME_HATCH_MATERIAL, section?.hatch ? room.hatch : 0);
  if (!section) return;
  const { planes, cap, hatch } = section;
  planes.forEach(({ normal, offset }, i) => {
    const n = Math.hypot(...normal) || 1;
    writeF32(views, room.planes + i * L.PLANE_BYTES, [...normal.map((c) => c / n), offset / n, 0]);
  });
  const matt = (name: string, base: Rgb): Material => ({ ...DEFAULT_MATERIAL, name, base, roughness: 0.9, specular: 0.2 });
  if (cap) writeMaterial(views, room.cap, matt(CAP_NAME, cap), textures);
  if (!hatch) return;
  writeMaterial(views, room.hatch, matt(HATCH_NAME, hatch.colour), textures);
  const angle = (hatch.angle * Math.PI) / 180;
  writeF32(views, at + L.FRAME_HATCH, [1 / hatch.spacing, hatch.width / hatch.spacing, Math.cos(angle), Math.sin(angle)]);
}

/** Writes the frame and returns the address of its record, as SceneHost.lay says. Throws where it has too many lights or planes. */
export function writeFrame(data: SceneData, room: FrameSlot, frame: Frame, lit: boolean): number {
  const at = room.frame;
  const placed = placementOf(data, frame);
  const lights = [...frame.stage.lights, ...modelLights(data, frame)];
  checkFrame(data, frame, lights);
  const laid = writeFrameLights(data, room, frame, placed, lights, lit);
  if (frame.clay) writeMaterial(data.views, room.clay, CLAY_MATERIAL, data.textures);
  writeScene(data, room, frame, laid, writeInstances(data, room, frame, placed, laid));
  writeCameras(data, at, frame);
  writeSampling(data, room, frame);
  writeEnvironment(data, room, frame);
  writeGround(data, room, frame);
  writeSection(data, room, frame);
  const key = keyLight(lights, centreOf(data.subject));
  writeF32(data.views, at + L.FRAME_KEY, [...key.direction, ...key.colour.map((c) => c / Math.PI), key.spread]);
  return at;
}
