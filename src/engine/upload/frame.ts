/** One frame in kernel memory: instances as they stand, light, camera, limits. */
import { mat4, vec3 } from 'gl-matrix';
import * as L from '../../../kernel/layout.js';
import { type Bounds, centreOf, joinBounds, radiusOf, transformBounds, type Vec3 } from '../../core/math/bounds.js';
import { identity, matrixOf } from '../../core/math/matrix.js';
import { DEFAULT_MATERIAL, type Material } from '../../core/materials/material.js';
import { passOf } from '../../core/image/passes.js';
import { sceneFromDisplay, inverseToneTable } from '../../core/image/inverseTone.js';
import type { Frame } from '../../core/frame/frame.js';
import { DAYLIGHT_UNIT } from '../../core/stage/daylight.js';
import type { Light } from '../../core/stage/light.js';
import { luminance, type Rgb } from '../../core/units/colour.js';
import { yawMatrix } from '../../core/camera/view.js';
import { MAX_LIGHTS, type Instance, type SceneData, subjectRadius, trianglesOf } from './sceneData.js';
import { filterTable, writeCamera, PROJECTIONS } from './camera.js';
import { MATERIAL_STRIDE, writeMaterial } from './material.js';
import { type WrittenLights, writeLights, type EmissiveTriangle } from './lights.js';
import { writeSky, type EnvironmentLayout, rotateEnvironmentRecord } from './environment.js';
import { writeF32, writeU32 } from './memoryViews.js';
import { isBelow } from '../../core/model/paths.js';

/** Where a frame's records lie. */
export interface FrameSlot {
  frame: number;
  instances: number;
  lights: number;
  chances: number;
  suns: number;
  planes: number;
  filter: number;
  base: number;
  cap: number;
  hatch: number;
  clay: number;
  tree: number;
  image: number;
  look: number;
  sky: EnvironmentLayout;
}

/** How far ambient occlusion and contact shading look, in radii of the subject. */
const AO_DISTANCE = 0.25;
/** Fewer samples than this say too little of where more are needed. */
const MIN_ADAPTIVE_SAMPLES = 8;
/** Most bits of the sample index that pixels share a sequence over. */
const MAX_SEQUENCE_BITS = 12;

/** The one matt white that clay pictures wear. */
const CLAY_MATERIAL: Material = { ...DEFAULT_MATERIAL, name: 'Clay', base: [0.72, 0.7, 0.68], roughness: 0.85, specular: 0.4 };

/** Floats a pixel that the passes need. */
export function filmLayout(frame: Pick<Frame, 'passes'>): { stride: number; bits: number } {
  const needs = new Set(frame.passes.map((p) => passOf(p).needs));
  const bits = (needs.has('light') ? L.PASS_COMPONENTS : 0) | (needs.has('mattes') ? L.PASS_MATTES : 0);
  return { bits, stride: (needs.has('light') ? L.PIXEL_COMPONENTS_FLOATS : L.PIXEL_FLOATS) + (needs.has('mattes') ? L.MATTES_FLOATS : 0) };
}

/** Bits of the index that number a pixel's samples: a power of four holds them, so that neighbours share strata. */
export function sequenceBits(samples: number): number {
  let bits = 0;
  while (bits < MAX_SEQUENCE_BITS && 2 ** bits < samples) bits += 2;
  return bits;
}

/** Samples that every pixel takes before the rest goes where the denoiser helps least; 0 where all take all. */
export function baseSamples({ mode, denoise, noise, samples }: Frame['sampling']): number {
  return mode === 'traced' && denoise && noise === 0 && samples >= MIN_ADAPTIVE_SAMPLES ? Math.ceil(samples / 3) : 0;
}

interface Placed {
  instance: Instance;
  world: mat4;
  bounds: Bounds;
}

/** Where everything stands when the shutter opens, and the box that it sweeps until it closes. */
function placementOf(data: SceneData, frame: Frame): Placed[] {
  const turn = frame.turn?.what.includes('subject') ? yawMatrix(frame.turn.pivot, frame.turn.rotation) : null;
  const sweep = frame.turn && frame.shutter ? frame.shutter.rotation : 0;
  return data.instances.map((instance) => {
    const world = turn && instance.turns ? mat4.multiply(identity(), turn, instance.world) : instance.world;
    let bounds = transformBounds(instance.bounds, world);
    if (sweep !== 0 && turn && instance.turns) {
      const steps = Math.max(1, Math.ceil(Math.abs(sweep) / 5));
      const still = bounds;
      for (let k = 1; k <= steps; k++) {
        const turned = transformBounds(still, yawMatrix(frame.turn!.pivot, (sweep * k) / steps));
        bounds = joinBounds(bounds, turned);
      }
      // Between two of these steps an arc stands out by less than this.
      const out = radiusOf(still) * 2e-3 + 1e-3 * Math.hypot(...centreOf(still).map((c, i) => c - frame.turn!.pivot[i]!));
      bounds = { min: bounds.min.map((c) => c - out) as Vec3, max: bounds.max.map((c) => c + out) as Vec3 };
    }
    return { instance, world, bounds };
  });
}

function writeCuts(frame: Frame, instance: Instance): number {
  let bits = 0;
  frame.section?.planes.forEach((plane, i) => {
    if (plane.part === undefined ? instance.turns : isBelow(instance.path, plane.part)) bits |= 1 << i;
  });
  return bits;
}

/** Boxes for the tree, widened by more than single precision loses on the way through the inverse. */
function writeBox({ views: { f32 }, buildScratch }: SceneData, i: number, { min, max }: Bounds): void {
  const box = (buildScratch + L.BUILD_SCRATCH_FIXED + i * L.BUILD_BOX_BYTES) >> 2;
  const pad = 1e-6 * Math.max(...min.map(Math.abs), ...max.map(Math.abs));
  for (let a = 0; a < 3; a++) {
    f32[box + a] = min[a]! - pad;
    f32[box + 4 + a] = max[a]! + pad;
  }
  f32[box + 3] = 0;
  f32[box + 7] = 0;
}

function writeInstances(
  data: SceneData,
  room: FrameSlot,
  frame: Frame,
  placed: Placed[],
  lights: WrittenLights,
  clay: boolean,
): { root: number; extent: number; glass: boolean } {
  const { views, scene } = data;
  let all: Bounds = { min: [0, 0, 0], max: [0, 0, 0] };
  let glass = false;
  const moving = frame.shutter !== undefined && frame.turn?.what.includes('subject') === true;
  const shining = new Set(data.shining);
  placed.forEach(({ instance, world, bounds }, i) => {
    const inverse = mat4.invert(identity(), world)!;
    all = i === 0 ? bounds : joinBounds(all, bounds);
    const at = room.instances + i * L.INSTANCE_BYTES;
    for (let row = 0; row < 3; row++) for (let c = 0; c < 4; c++) views.f32[((at + L.INSTANCE_INVERSE) >> 2) + row * 4 + c] = inverse[c * 4 + row]!;
    let flags = instance.flags;
    // Clay is opaque, whatever it stands for.
    if (clay && flags & L.TRANSPARENT) flags = (flags & ~L.TRANSPARENT) | L.OPAQUE;
    const turns = moving && instance.turns;
    flags |= (turns ? L.MOVING : mat4.exactEquals(world, identity()) ? L.UNTRANSFORMED : 0) | (writeCuts(frame, instance) << L.CUT_SHIFT);
    glass ||= (flags & L.TRANSPARENT) !== 0;
    writeU32(views, at + L.INSTANCE_MESH, data.meshes + instance.mesh * L.MESH_BYTES);
    writeU32(views, at + L.INSTANCE_MATERIAL, clay ? room.clay : data.materials + instance.material * MATERIAL_STRIDE);
    writeU32(views, at + L.INSTANCE_FLAGS, flags);
    writeU32(views, at + L.INSTANCE_PART, instance.part);
    writeU32(views, at + L.INSTANCE_FIRST, room.instances + instance.first * L.INSTANCE_BYTES);
    writeU32(views, at + L.INSTANCE_COUNT, instance.count);
    writeF32(views, at + L.INSTANCE_LIGHT_PDF, [
      shining.has(instance) && !clay ? lights.perRadiance * luminance(...scene.materials[instance.material]!.emission) : 0,
    ]);
    writeU32(views, at + L.INSTANCE_MATTE_ID, instance.label);
    writeF32(views, at + L.INSTANCE_SIZE, [Math.cbrt(Math.abs(mat4.determinant(world)))]);
    writeBox(data, i, bounds);
  });
  let count = placed.length;
  for (const { index, centre, u, v } of lights.shapes) {
    const at = room.instances + count * L.INSTANCE_BYTES;
    writeU32(views, at + L.INSTANCE_MESH, room.lights + index * L.LIGHT_BYTES);
    writeU32(views, at + L.INSTANCE_FLAGS, L.LIGHT_SHAPES | L.LIGHT_SHAPE | L.UNTRANSFORMED);
    const half = [0, 1, 2].map((a) => Math.abs(u[a]!) + Math.abs(v[a]!));
    writeBox(data, count, { min: centre.map((c, a) => c - half[a]!) as Vec3, max: centre.map((c, a) => c + half[a]!) as Vec3 });
    count++;
  }
  const extent = Math.max(radiusOf(all), ...all.min.map(Math.abs), ...all.max.map(Math.abs), 1e-6);
  if (count === 0) {
    // An empty scene is one node with nothing in it.
    views.f32.fill(Infinity, room.tree >> 2, (room.tree + L.NODE_MAX) >> 2);
    views.f32.fill(-Infinity, (room.tree + L.NODE_MAX) >> 2, (room.tree + L.NODE_CHILD) >> 2);
    return { root: 0, extent, glass };
  }
  return { root: data.kernel.buildScene(count, data.buildScratch, room.tree), extent, glass };
}

/** Lights that the file brings, where the stage wants them; they turn with the subject. */
function modelLights({ scene }: SceneData, frame: Frame): Light[] {
  if (!frame.stage.modelLights) return [];
  // A file says candela and lux.
  const unit = frame.stage.sky ? 1 / DAYLIGHT_UNIT : 1;
  const turn = frame.turn?.what.includes('subject') ? yawMatrix(frame.turn.pivot, frame.turn.rotation) : null;
  return scene.lights.map((light): Light => {
    const part = scene.parts[light.part]!;
    const m = turn && !part.isContext ? mat4.multiply(identity(), turn, matrixOf(part.world)) : matrixOf(part.world);
    const centre: Vec3 = [m[12], m[13], m[14]];
    const n = Math.hypot(m[8], m[9], m[10]) || 1;
    const direction: Vec3 = [-m[8] / n, -m[9] / n, -m[10] / n];
    const intensity = light.intensity.map((c) => c * unit) as Rgb;
    if (light.kind === 'point') return { kind: 'point', centre, intensity };
    if (light.kind === 'spot') return { kind: 'spot', centre, direction, intensity, inner: light.inner, outer: light.outer };
    return { kind: 'sun', direction, radius: 0, irradiance: intensity };
  });
}

function emissiveTriangles(data: SceneData, placed: Placed[]): EmissiveTriangle[] {
  const list: EmissiveTriangle[] = [];
  const wanted = new Set(data.shining);
  for (const { instance, world } of placed) {
    if (!wanted.has(instance)) continue;
    const radiance = data.scene.materials[instance.material]!.emission;
    for (const [a, b, c] of trianglesOf(data, instance.mesh, world)) list.push({ a, b, c, radiance });
  }
  return list;
}

/** The strongest lamp as a quick picture's key: where from, how bright on the subject, how wide. */
export function keyLight(lights: Light[], centre: Vec3): { direction: Vec3; colour: Rgb; spread: number } {
  let best = { direction: [0, 1, 0] as Vec3, colour: [0, 0, 0] as Rgb, spread: 0 };
  for (const light of lights) {
    let candidate = best;
    if (light.kind === 'sun') {
      candidate = { direction: light.direction.map((c) => -c) as Vec3, colour: light.irradiance, spread: Math.tan(light.radius) };
    } else {
      const to = vec3.subtract([0, 0, 0], light.centre, centre) as Vec3;
      const d = Math.hypot(...to) || 1;
      const direction = to.map((c) => c / d) as Vec3;
      if (light.kind === 'point' || light.kind === 'spot')
        candidate = { direction, colour: light.intensity.map((c) => c / (d * d)) as Rgb, spread: 0 };
      else {
        const n = vec3.cross([0, 0, 0], light.u, light.v) as Vec3;
        const area = Math.hypot(...n) * (light.kind === 'disc' ? Math.PI : 1);
        const facing = Math.max(0, -vec3.dot(n, direction) / (Math.hypot(...n) || 1));
        candidate = { direction, colour: light.radiance.map((c) => (c * area * facing) / (d * d)) as Rgb, spread: Math.sqrt(area / Math.PI) / d };
      }
    }
    if (luminance(...candidate.colour) > luminance(...best.colour)) best = candidate;
  }
  return best;
}

/** Film pixels to a picture's coordinates, so that it covers the frame, is not squeezed, and its middle stays in the middle. */
function cropToFill(picture: { width: number; height: number }, { size, pixelAspect }: Frame): number[] {
  const wide = (size.width * pixelAspect * picture.height) / (size.height * picture.width);
  const [across, down] = wide < 1 ? [wide, 1] : [1, 1 / wide];
  return [0.5 - across / 2, across / size.width, 0.5 - down / 2, down / size.height];
}

/** Writes the frame and returns the address of its record. Throws where it has too many lights or planes. */
export function writeFrame(data: SceneData, room: FrameSlot, frame: Frame): number {
  const { views } = data;
  const clay = frame.clay === true;
  const placed = placementOf(data, frame);
  const lights = [...frame.stage.lights, ...modelLights(data, frame)];
  if (lights.length > MAX_LIGHTS) throw new Error(`A stage has at most ${MAX_LIGHTS} lights, not ${lights.length}.`);
  const turned = frame.turn?.what.includes('lights') ? yawMatrix(frame.turn.pivot, frame.turn.rotation) : identity();
  const own = frame.stage.lights.length;
  const radius = subjectRadius(data);
  const { sky } = frame.stage;
  const image = sky ? undefined : frame.stage.image;
  const behind = frame.stage.picture !== undefined;
  if (behind && !data.backdrop) throw new Error('The backdrop uses an image that the scene was not loaded with.');
  if (image && data.environment === 0) throw new Error('The stage uses an environment image that the scene was not loaded with.');
  const laid = writeLights(views, room.lights, room.chances, {
    lights,
    turnedUpTo: own,
    sunStays: sky !== undefined,
    triangles: clay ? [] : emissiveTriangles(data, placed),
    mean: sky ? writeSky(views, room.sky, sky) : image ? data.environmentMean * image.strength : 0,
    radius,
    turned,
  });
  laid.suns.forEach((s, i) => writeU32(views, room.suns + i * 4, s));
  if (clay) writeMaterial(views, room.clay, CLAY_MATERIAL, data.textures);
  const { root, extent, glass } = writeInstances(data, room, frame, placed, laid, clay);
  // A plain copy of a planned frame lacks it, and would quietly share its noise with every other one.
  if (!Number.isInteger(frame.seed)) throw new Error(`The frame "${frame.name}" has no seed; change planned frames by withFrame.`);
  const at = room.frame;
  writeCamera(views, at + L.FRAME_OPEN, frame.camera, frame.size);
  writeCamera(views, at + L.FRAME_CLOSE, frame.shutter?.camera ?? frame.camera, frame.size);
  writeF32(views, room.filter, filterTable(frame.sampling.filter));
  const { environment, base, displayReferred } = frame.stage;
  if (behind && displayReferred) writeF32(views, room.look, inverseToneTable(frame.grade, L.INVERSE_TONE_CELLS));
  const seen = (colour: Rgb): Rgb => (displayReferred ? sceneFromDisplay(colour, frame.grade) : colour);
  const backdrop = [frame.stage.backdrop.top, frame.stage.backdrop.middle, frame.stage.backdrop.bottom].flatMap(seen);
  const { sampling } = frame;
  const { stride, bits } = filmLayout(frame);
  const key = keyLight(lights, centreOf(data.subject));
  const lens = frame.camera.lens;
  const words: [number, number][] = [
    [L.FRAME_PROJECTION, PROJECTIONS[frame.camera.kind]],
    [L.FRAME_SEED, frame.seed],
    [L.FRAME_WIDTH, frame.size.width],
    [L.FRAME_HEIGHT, frame.size.height],
    [L.FRAME_FILTER, room.filter],
    [L.FRAME_SHUTTER, frame.shutter ? 1 : 0],
    [L.FRAME_SEQUENCE, sequenceBits(sampling.samples)],
    [L.FRAME_MAX_BOUNCES, sampling.bounces],
    [L.FRAME_REFRACTION_DEPTH, sampling.refractionDepth],
    [L.FRAME_CAUSTICS, sampling.caustics ? 1 : 0],
    [L.FRAME_TREE, room.tree],
    [L.FRAME_INSTANCES, room.instances],
    [L.FRAME_INSTANCE_COUNT, placed.length],
    [L.FRAME_HAS_GLASS, glass ? 1 : 0],
    [L.FRAME_LIGHTS, room.lights],
    [L.FRAME_LIGHT_COUNT, laid.count],
    [L.FRAME_LIGHT_CDF, room.chances],
    [L.FRAME_SUNS, room.suns],
    [L.FRAME_SUN_COUNT, laid.suns.length],
    [L.FRAME_LUT, data.textures.colour],
    [L.FRAME_ENERGY, data.energy],
    [L.FRAME_ENVIRONMENT, sky ? room.sky.record : image ? room.image : 0],
    [L.FRAME_ENVIRONMENT_VISIBLE, (sky ?? image)?.visible ? 1 : 0],
    [L.FRAME_TRANSPARENT, frame.transparent ? 1 : 0],
    [L.FRAME_BACKDROP, behind ? data.textures.records + data.backdrop!.texture * L.TEXTURE_BYTES : 0],
    [L.FRAME_BACKDROP_INVERSE_TONE, behind && frame.stage.displayReferred ? room.look : 0],
    [L.FRAME_GROUND_KIND, base ? (base.shadowCatcher ? 2 : 1) : 0],
    [L.FRAME_GROUND_MATERIAL, room.base],
    [L.FRAME_PLANES, room.planes],
    [L.FRAME_PLANE_COUNT, frame.section?.planes.length ?? 0],
    [L.FRAME_CAP_MATERIAL, frame.section?.cap ? room.cap : 0],
    [L.FRAME_HATCH_MATERIAL, frame.section?.hatch ? room.hatch : 0],
    [L.FRAME_STRIDE, stride],
    [L.FRAME_PASSES, bits],
    [L.FRAME_MIN_SAMPLES, sampling.mode === 'quick' ? 2 : 16],
    [L.FRAME_QUICK, sampling.mode === 'quick' ? 1 : 0],
    [L.FRAME_BASE_SAMPLES, baseSamples(sampling)],
    [L.FRAME_SAMPLES, sampling.samples],
  ];
  for (const [offset, value] of words) writeU32(views, at + offset, value);
  views.i32[(at + L.FRAME_ROOT) >> 2] = root;
  const floats: [number, ArrayLike<number>][] = [
    [L.FRAME_LENS, [lens?.radius ?? 0, lens?.focus ?? 1]],
    [L.FRAME_NEAR_CLIP, [frame.camera.nearClipping ?? 0]],
    [L.FRAME_BACKDROP_FIT, behind ? cropToFill(data.backdrop!, frame) : [0, 0, 0, 0]],
    [L.FRAME_TURN, [((frame.shutter?.rotation ?? 0) * Math.PI) / 180, frame.turn?.pivot[0] ?? 0, frame.turn?.pivot[2] ?? 0]],
    [L.FRAME_CLAMP, [sampling.fireflyClamp]],
    [L.FRAME_EXTENT, [extent]],
    [L.FRAME_ZENITH, [...environment.top, ...environment.middle, ...environment.bottom]],
    [L.FRAME_BACKDROP_TOP, backdrop],
    [L.FRAME_AO_DISTANCE, [AO_DISTANCE * radius]],
    [L.FRAME_NOISE, [sampling.noise]],
    [L.FRAME_ADAPTIVE_SCALE, [0, 0]],
    [L.FRAME_KEY, [...key.direction, ...key.colour.map((c) => c / Math.PI), key.spread]],
  ];
  for (const [offset, values] of floats) writeF32(views, at + offset, values);
  if (image) {
    // Frames in work at the same time may turn it differently.
    views.u8.copyWithin(room.image, data.environment, data.environment + L.ENV_BYTES);
    rotateEnvironmentRecord(views, room.image, image.rotation, image.strength);
  }
  if (base) {
    // A hair below the model's lowest face, or the two would fight where they touch.
    writeF32(views, at + L.FRAME_GROUND_HEIGHT, [base.height - 2e-5 * radius, base.x, base.z, base.inner, base.outer]);
    const material = base.material ?? { ...DEFAULT_MATERIAL, base: base.colour, roughness: base.roughness };
    writeMaterial(views, room.base, { ...material, name: 'Base plane' }, data.textures);
  }
  if (frame.section) {
    const { planes, cap, hatch } = frame.section;
    if (planes.length > L.MAX_PLANES) throw new Error(`A section has at most ${L.MAX_PLANES} planes, not ${planes.length}.`);
    planes.forEach(({ normal, offset }, i) => {
      const n = Math.hypot(...normal) || 1;
      writeF32(views, room.planes + i * L.PLANE_BYTES, [...normal.map((c) => c / n), offset / n, 0]);
    });
    const matt = (name: string, base: Rgb): Material => ({ ...DEFAULT_MATERIAL, name, base, roughness: 0.9, specular: 0.2 });
    if (cap) writeMaterial(views, room.cap, matt('Cap', cap), data.textures);
    if (hatch) {
      writeMaterial(views, room.hatch, matt('Hatch', hatch.colour), data.textures);
      const angle = (hatch.angle * Math.PI) / 180;
      writeF32(views, at + L.FRAME_HATCH, [1 / hatch.spacing, hatch.width / hatch.spacing, Math.cos(angle), Math.sin(angle)]);
    }
  }
  return at;
}
