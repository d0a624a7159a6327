/** What the denoiser and the passes want to know of the first surface. */
import { FRAME_AO_DISTANCE, FRAME_INSTANCES, FRAME_ROOT, FRAME_TREE, INSTANCE_MATTE_ID, MATERIAL_MATTE_ID, OPAQUE, TRANSPARENT } from "../layout";
import { geoX, geoY, geoZ, shadeX, shadeY, shadeZ } from "../intersect/intersectionData";
import { anyHit } from "../intersect/traverse";
import { basis, bitangentX, bitangentY, bitangentZ, cosine, sinCosTurns, sine, tangentX, tangentY, tangentZ } from "../math";
import { next2D, sampleX, sampleY } from "../sampler";
import { hitX, hitY, hitZ, offset, pathLength, throughputB, throughputG, throughputR } from "./path";
import {
  albedoB, albedoG, albedoR, ao, coverage, firstDistance, guideDepth, materialMatteId, normalX, normalY, normalZ, partMatteId, positionX, positionY, positionZ,
} from "./result";

/** Records the first surface, glass or not. `faded` is the share of what lies behind the base plane, `instance` 0 on it. */
export function recordFirstHit(material: usize, instance: usize, faded: f32): void {
  // Where the base plane fades, its features fade with it, or the denoiser would see an edge.
  normalX = shadeX * (1 - faded);
  normalY = shadeY * (1 - faded);
  normalZ = shadeZ * (1 - faded);
  positionX = hitX;
  positionY = hitY;
  positionZ = hitZ;
  firstDistance = pathLength;
  coverage = 1;
  materialMatteId = load<u32>(material + MATERIAL_MATTE_ID);
  partMatteId = instance == 0 ? materialMatteId : load<u32>(instance + INSTANCE_MATTE_ID);
}

/** Records the first surface that is not clear glass, of this albedo. */
export function recordGuide(r: f32, g: f32, b: f32, faded: f32): void {
  albedoR = throughputR * r + faded;
  albedoG = throughputG * g + faded;
  albedoB = throughputB * b + faded;
  guideDepth = pathLength;
}

/** Ambient occlusion at the hit: one ray into the half space, as far as FRAME_AO_DISTANCE. */
export function ambientOcclusion(frame: usize): void {
  const x: f32 = hitX + geoX * offset, y: f32 = hitY + geoY * offset, z: f32 = hitZ + geoZ * offset;
  next2D();
  sinCosTurns(sampleX);
  const r = sqrt<f32>(sampleY), h = sqrt<f32>(max<f32>(0, 1 - sampleY));
  basis(geoX, geoY, geoZ);
  const dx: f32 = r * cosine * tangentX + r * sine * bitangentX + h * geoX;
  const dy: f32 = r * cosine * tangentY + r * sine * bitangentY + h * geoY;
  const dz: f32 = r * cosine * tangentZ + r * sine * bitangentZ + h * geoZ;
  const tree = <usize>load<u32>(frame + FRAME_TREE), root = load<i32>(frame + FRAME_ROOT), instances = <usize>load<u32>(frame + FRAME_INSTANCES);
  ao = anyHit(tree, root, instances, OPAQUE | TRANSPARENT, x, y, z, dx, dy, dz, load<f32>(frame + FRAME_AO_DISTANCE)) ? 0 : 1;
}
