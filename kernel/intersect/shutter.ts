/** The moment of the shutter that rays belong to, and what that means for MOVING instances and for planes. */
import { FRAME_SHUTTER, FRAME_TURN, FRAME_PIVOT_X, FRAME_PIVOT_Z, FRAME_PLANES, FRAME_PLANE_COUNT } from "../layout";
import { sinCosTurns, sine, cosine } from "../math";

export let shutterTime: f32 = 0;
export let hasMotion: bool = false;
/** Cosine and sine of what MOVING instances have turned by at this moment. */
export let turnCos: f32 = 1;
export let turnSin: f32 = 0;
export let pivotX: f32 = 0;
export let pivotZ: f32 = 0;
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
  if (!hasMotion) return;
  const share: f32 = load<f32>(frame + FRAME_TURN) * time * <f32>0.15915494309189535;
  sinCosTurns(share - floor<f32>(share));
  turnCos = cosine;
  turnSin = sine;
  pivotX = load<f32>(frame + FRAME_PIVOT_X);
  pivotZ = load<f32>(frame + FRAME_PIVOT_Z);
}
