/** What the server says of a set before it runs. */
import type { PreflightReport } from '../core/preflight/preflight.js';

/** What the checks of a set say. */
export interface PreflightReply extends PreflightReport {
  /** Frames of the plan, and how many of them were looked at. */
  frames: number;
  probed: number;
  /** Content of the set that was checked, as SetReply has it. */
  content: string;
  seconds: number;
}
