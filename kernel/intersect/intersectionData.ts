/** What the ray met: place, normals, texture coordinates. */
import {
  BLOCK_V0, BLOCK_V1, BLOCK_V2, INSTANCE_INVERSE, INSTANCE_MESH, INSTANCE_FLAGS, INSTANCE_MATERIAL, INSTANCE_SIZE, UNTRANSFORMED, MOVING,
  MESH_INDEX, MESH_NORMAL, MESH_UV, MESH_UV_SECOND, MESH_COLOUR, MAP_FIRST_UV, MAP_SECOND_UV, MAP_BOX, PLANE_NORMAL, FRAME_CAP_MATERIAL, FRAME_HATCH_MATERIAL,
  FRAME_HATCH,
} from "../layout";
import { hitBlock, hitLane, hitU, hitV, hitInstance, hitPlaneIndex, hitTriangle } from "./hit";
import { isTilted, turnAboutAxis, turnCos, turnSin, turnedX, turnedY, turnedZ } from "./shutter";

/** Geometric and shading normal, both turned against the ray, in the world. */
export let geoX: f32 = 0;
export let geoY: f32 = 0;
export let geoZ: f32 = 0;
export let shadeX: f32 = 0;
export let shadeY: f32 = 0;
export let shadeZ: f32 = 0;
export let texU: f32 = 0;
export let texV: f32 = 0;
/** Vertex colour, or white. */
export let vertexR: f32 = 1;
export let vertexG: f32 = 1;
export let vertexB: f32 = 1;
/** Direction in which texture u grows, in the world, not normalised; 0 where there are no coordinates. */
export let texTangentX: f32 = 0;
export let texTangentY: f32 = 0;
export let texTangentZ: f32 = 0;
/** -1 where the texture is mirrored, so that v grows the other way round. */
export let handedness: f32 = -1;

// The triangle that was met, for coordinates that are asked for later.
let mesh: usize = 0;
let i0: usize = 0;
let i1: usize = 0;
let i2: usize = 0;
let w1: f32 = 0;
let w2: f32 = 0;
let ax: f32 = 0;
let ay: f32 = 0;
let az: f32 = 0;
let ux: f32 = 0;
let uy: f32 = 0;
let uz: f32 = 0;
let vx: f32 = 0;
let vy: f32 = 0;
let vz: f32 = 0;
/** Which coordinates texU, texV and along hold. */
let isMapped: u32 = MAP_FIRST_UV;

/** Whether a point of a cap lies on a line of the hatch: over level and steepest direction of the plane, or x and -z of a level one. */
function isOnHatch(frame: usize, x: f32, y: f32, z: f32): bool {
  const nx = load<f32>(hitPlaneIndex, PLANE_NORMAL), ny = load<f32>(hitPlaneIndex, PLANE_NORMAL + 4), nz = load<f32>(hitPlaneIndex, PLANE_NORMAL + 8);
  const across: f32 = sqrt<f32>(nx * nx + nz * nz);
  // Level to the right of who looks at the cap, and up.
  const flat = across < <f32>1e-4;
  const rx: f32 = flat ? 1 : nz / across, rz: f32 = flat ? 0 : -nx / across;
  const u: f32 = rx * x + rz * z;
  const v: f32 = (ny * rz) * x + (nz * rx - nx * rz) * y + (-ny * rx) * z;
  const h = frame + FRAME_HATCH;
  const s: f32 = (v * load<f32>(h, 8) - u * load<f32>(h, 12)) * load<f32>(h);
  return s - floor<f32>(s) < load<f32>(h, 4);
}

/** The material of the surface that was met at a place: a cap may have its own, and lines over it. */
export function hitMaterial(frame: usize, x: f32, y: f32, z: f32): usize {
  if (hitPlaneIndex != 0) {
    const line = <usize>load<u32>(frame + FRAME_HATCH_MATERIAL);
    if (line != 0 && isOnHatch(frame, x, y, z)) return line;
    const cap = <usize>load<u32>(frame + FRAME_CAP_MATERIAL);
    if (cap != 0) return cap;
  }
  return <usize>load<u32>(hitInstance + INSTANCE_MATERIAL);
}

let worldX: f32 = 0;
let worldY: f32 = 0;
let worldZ: f32 = 0;

/** A normal of the instance in the world: by the transposed inverse, then turned with what turns. */
function toWorld(at: usize, flags: u32, x: f32, y: f32, z: f32): void {
  const m = at + INSTANCE_INVERSE;
  worldX = load<f32>(m) * x + load<f32>(m, 16) * y + load<f32>(m, 32) * z;
  worldY = load<f32>(m, 4) * x + load<f32>(m, 20) * y + load<f32>(m, 36) * z;
  worldZ = load<f32>(m, 8) * x + load<f32>(m, 24) * y + load<f32>(m, 40) * z;
  if ((flags & MOVING) == 0) return;
  if (isTilted) {
    turnAboutAxis(worldX, worldY, worldZ, turnSin);
    worldX = turnedX;
    worldY = turnedY;
    worldZ = turnedZ;
    return;
  }
  const wx = worldX, wz = worldZ;
  worldX = turnCos * wx + turnSin * wz;
  worldZ = turnCos * wz - turnSin * wx;
}

/** Reads the hit of a ray with this direction; true where the ray met the outer side. */
export function loadSurface(dx: f32, dy: f32, dz: f32): bool {
  const at = hitInstance;
  texU = texV = 0;
  vertexR = vertexG = vertexB = 1;
  texTangentX = texTangentY = texTangentZ = 0;
  handedness = -1;
  isMapped = MAP_FIRST_UV;
  if (hitPlaneIndex != 0) return loadCap(dx, dy, dz);
  mesh = <usize>load<u32>(at + INSTANCE_MESH);
  const p = hitBlock + (hitLane << 2);
  ax = load<f32>(p, BLOCK_V0);
  ay = load<f32>(p, BLOCK_V0 + 16);
  az = load<f32>(p, BLOCK_V0 + 32);
  ux = load<f32>(p, BLOCK_V1) - ax;
  uy = load<f32>(p, BLOCK_V1 + 16) - ay;
  uz = load<f32>(p, BLOCK_V1 + 32) - az;
  vx = load<f32>(p, BLOCK_V2) - ax;
  vy = load<f32>(p, BLOCK_V2 + 16) - ay;
  vz = load<f32>(p, BLOCK_V2 + 32) - az;
  let gx: f32 = uy * vz - uz * vy, gy: f32 = uz * vx - ux * vz, gz: f32 = ux * vy - uy * vx;
  let sx = gx, sy = gy, sz = gz;
  w1 = hitU;
  w2 = hitV;
  const w0: f32 = 1 - hitU - hitV;
  const tri = <usize>load<u32>(mesh + MESH_INDEX) + <usize>hitTriangle() * 12;
  i0 = <usize>load<u32>(tri);
  i1 = <usize>load<u32>(tri, 4);
  i2 = <usize>load<u32>(tri, 8);
  const normals = <usize>load<u32>(mesh + MESH_NORMAL);
  if (normals != 0) {
    const a = normals + i0 * 12, b = normals + i1 * 12, c = normals + i2 * 12;
    sx = w0 * load<f32>(a) + w1 * load<f32>(b) + w2 * load<f32>(c);
    sy = w0 * load<f32>(a, 4) + w1 * load<f32>(b, 4) + w2 * load<f32>(c, 4);
    sz = w0 * load<f32>(a, 8) + w1 * load<f32>(b, 8) + w2 * load<f32>(c, 8);
  }
  const colours = <usize>load<u32>(mesh + MESH_COLOUR);
  if (colours != 0) {
    const a = colours + i0 * 12, b = colours + i1 * 12, c = colours + i2 * 12;
    vertexR = w0 * load<f32>(a) + w1 * load<f32>(b) + w2 * load<f32>(c);
    vertexG = w0 * load<f32>(a, 4) + w1 * load<f32>(b, 4) + w2 * load<f32>(c, 4);
    vertexB = w0 * load<f32>(a, 8) + w1 * load<f32>(b, 8) + w2 * load<f32>(c, 8);
  }
  const uvs = <usize>load<u32>(mesh + MESH_UV);
  if (uvs != 0) mapByVertices(uvs);
  const flags = load<u32>(at + INSTANCE_FLAGS);
  if ((flags & UNTRANSFORMED) == 0) {
    // The cross product turns round under a mirroring transform; the normal by the inverse does not.
    toWorld(at, flags, gx, gy, gz);
    gx = worldX;
    gy = worldY;
    gz = worldZ;
    toWorld(at, flags, sx, sy, sz);
    sx = worldX;
    sy = worldY;
    sz = worldZ;
    if (uvs != 0) followMotion(at, flags);
  }
  const gn: f32 = 1 / sqrt<f32>(gx * gx + gy * gy + gz * gz);
  geoX = gx * gn;
  geoY = gy * gn;
  geoZ = gz * gn;
  let outward: f32 = 1;
  const outside = geoX * dx + geoY * dy + geoZ * dz < 0;
  if (!outside) {
    geoX = -geoX;
    geoY = -geoY;
    geoZ = -geoZ;
    outward = -1;
  }
  const s2n: f32 = sx * sx + sy * sy + sz * sz;
  const sn: f32 = s2n > 0 ? outward / sqrt<f32>(s2n) : 0;
  setShading(sx * sn, sy * sn, sz * sn, dx, dy, dz);
  return outside;
}

function mapByVertices(uvs: usize): void {
  const a = uvs + (i0 << 3), b = uvs + (i1 << 3), c = uvs + (i2 << 3);
  const u0 = load<f32>(a), v0 = load<f32>(a, 4);
  const du1: f32 = load<f32>(b) - u0, dv1: f32 = load<f32>(b, 4) - v0, du2: f32 = load<f32>(c) - u0, dv2: f32 = load<f32>(c, 4) - v0;
  texU = u0 + w1 * du1 + w2 * du2;
  texV = v0 + w1 * dv1 + w2 * dv2;
  const turned: f32 = du1 * dv2 - du2 * dv1;
  handedness = turned < 0 ? -1 : 1;
  texTangentX = handedness * (dv2 * ux - dv1 * vx);
  texTangentY = handedness * (dv2 * uy - dv1 * vy);
  texTangentZ = handedness * (dv2 * uz - dv1 * vz);
}

/** The texture's direction into the world: exact for rotations and even scales; a tangent need not be more. */
function followMotion(at: usize, flags: u32): void {
  toWorld(at, flags, texTangentX, texTangentY, texTangentZ);
  texTangentX = worldX;
  texTangentY = worldY;
  texTangentZ = worldZ;
}

/** Looks at the part as at a box, in metres: each side shows the texture upright, u to the right and v down. */
function mapByBox(size: f32): void {
  const nx: f32 = uy * vz - uz * vy, ny: f32 = uz * vx - ux * vz, nz: f32 = ux * vy - uy * vx;
  const x: f32 = (ax + w1 * ux + w2 * vx) * size, y: f32 = (ay + w1 * uy + w2 * vy) * size, z: f32 = (az + w1 * uz + w2 * vz) * size;
  texTangentX = texTangentY = texTangentZ = 0;
  handedness = -1;
  if (abs(ny) >= abs(nx) && abs(ny) >= abs(nz)) {
    texTangentX = 1;
    texU = x;
    texV = ny < 0 ? -z : z;
  } else if (abs(nx) >= abs(nz)) {
    texTangentZ = nx < 0 ? 1 : -1;
    texU = texTangentZ * z;
    texV = -y;
  } else {
    texTangentX = nz < 0 ? -1 : 1;
    texU = texTangentX * x;
    texV = -y;
  }
}

/** Lets texU, texV and along follow another mapping (BY_) of the same hit. */
export function mapTexture(mapping: u32): void {
  if (mapping == isMapped || hitPlaneIndex != 0) return;
  isMapped = mapping;
  if (mapping == MAP_BOX) mapByBox(load<f32>(hitInstance + INSTANCE_SIZE));
  else {
    const uvs = <usize>load<u32>(mesh + (mapping == MAP_SECOND_UV ? MESH_UV_SECOND : MESH_UV));
    if (uvs == 0) {
      texU = texV = texTangentX = texTangentY = texTangentZ = 0;
      handedness = -1;
      return;
    }
    mapByVertices(uvs);
  }
  const flags = load<u32>(hitInstance + INSTANCE_FLAGS);
  if ((flags & UNTRANSFORMED) == 0) followMotion(hitInstance, flags);
}

/** Takes a shading normal, unless it leans away from the ray: that would show the surface's dark side. */
export function setShading(x: f32, y: f32, z: f32, dx: f32, dy: f32, dz: f32): void {
  if (x * dx + y * dy + z * dz < <f32>-1e-4 && x * geoX + y * geoY + z * geoZ > 0) {
    shadeX = x;
    shadeY = y;
    shadeZ = z;
  } else {
    shadeX = geoX;
    shadeY = geoY;
    shadeZ = geoZ;
  }
}

function loadCap(dx: f32, dy: f32, dz: f32): bool {
  geoX = load<f32>(hitPlaneIndex, PLANE_NORMAL);
  geoY = load<f32>(hitPlaneIndex, PLANE_NORMAL + 4);
  geoZ = load<f32>(hitPlaneIndex, PLANE_NORMAL + 8);
  const outside = geoX * dx + geoY * dy + geoZ * dz < 0;
  if (!outside) {
    geoX = -geoX;
    geoY = -geoY;
    geoZ = -geoZ;
  }
  shadeX = geoX;
  shadeY = geoY;
  shadeZ = geoZ;
  return outside;
}
