/** What is kept from one plan to the next while a set is edited. Whoever plans again and again holds one; without it nothing is kept. */
import type { PlannedFrame } from '../frame/plannedFrame.js';

/** What planning one output gives, kept while nothing of it changes. */
export interface PlannedShot {
  frames: PlannedFrame[];
  /** Names of the passes of each frame, in small letters: file systems that fold case would replace one by the other. */
  keys: string[];
}

/**
 * Most shots stay as they were from one edit to the next: their frames are kept, by what makes them. Frames are never
 * changed, so that sharing them does no harm.
 */
export class PlanCache {
  /** All that frames are made of beside their shot, as JSON. */
  private rest = '';
  private shots = new Map<string, PlannedShot>();
  /** What shots compute for both their count and their poses, by the shot. */
  readonly memo = new WeakMap<object, unknown>();

  /** The shots that were planned with the same rest, by their JSON. */
  planned(rest: string): ReadonlyMap<string, PlannedShot> {
    return this.rest === rest ? this.shots : new Map();
  }

  keep(rest: string, shots: Map<string, PlannedShot>): void {
    this.rest = rest;
    this.shots = shots;
  }
}
