/** Where a frame's records lie in kernel memory. */
import type { EnvironmentLayout } from './environment.js';

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
