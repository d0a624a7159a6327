/** The moment of the shutter that rays belong to, and what that means for MOVING instances and for planes. */
import {
  FRAME_SHUTTER, FRAME_TURN, FRAME_TILTED, FRAME_PIVOT_X, FRAME_PIVOT_Y, FRAME_PIVOT_Z, FRAME_AXIS, FRAME_PLANES, FRAME_PLANE_COUNT,
} from "../layout";
import { sinCosTurns, sine, cosine } from "../math";

export let shutterTime: f32 = 0;
export let hasMotion: bool = false;
/** Cosine and sine of what MOVING instances have turned by at this moment. */
export let turnCos: f32 = 1;
export let turnSin: f32 = 0;
/** Whether something turns now about another axis than the vertical. */
export let isTilted: bool = false;
export let pivotX: f32 = 0;
export let pivotY: f32 = 0;
export let pivotZ: f32 = 0;
let axisX: f32 = 0;
let axisY: f32 = 1;
let axisZ: f32 = 0;
/** What `turnAboutAxis` answers. */
export let turnedX: f32 = 0;
export let turnedY: f32 = 0;
export let turnedZ: f32 = 0;
export let planes: usize = 0;
export let planeCount: u32 = 0;

/** Sets the moment (0 the shutter opens, 1 it closes) for the rays that follow. */
export function setShutterTime(frame: usize, time: f32): void {
  shutterTime = time;
  hasMotion = load<u32>(frame + FRAME_SHUTTER) != 0;
  planes = <usize>load<u32>(frame + FRAME_PLANES);
  planeCount = load<u32>(frame + FRAME_PLANE_COUNT);
  turnCos = 1;
  turnSin = 0;
  isTilted = hasMotion && load<u32>(frame + FRAME_TILTED) != 0;
  if (!hasMotion) return;
  const share: f32 = load<f32>(frame + FRAME_TURN) * time * <f32>0.15915494309189535;
  sinCosTurns(share - floor<f32>(share));
  turnCos = cosine;
  turnSin = sine;
  pivotX = load<f32>(frame + FRAME_PIVOT_X);
  pivotZ = load<f32>(frame + FRAME_PIVOT_Z);
  if (!isTilted) return;
  pivotY = load<f32>(frame + FRAME_PIVOT_Y);
  axisX = load<f32>(frame + FRAME_AXIS);
  axisY = load<f32>(frame + FRAME_AXIS, 4);
  axisZ = load<f32>(frame + FRAME_AXIS, 8);
}

/** Turns a vector about the axis by the moment's cosine and this sine, negated for the way back (rotation formula of Rodrigues). */
export function turnAboutAxis(x: f32, y: f32, z: f32, sin: f32): void {
  const along: f32 = (axisX * x + axisY * y + axisZ * z) * (<f32>1 - turnCos);
  turnedX = turnCos * x + sin * (axisY * z - axisZ * y) + along * axisX;
  turnedY = turnCos * y + sin * (axisZ * x - axisX * z) + along * axisY;
  turnedZ = turnCos * z + sin * (axisX * y - axisY * x) + along * axisZ;
}
