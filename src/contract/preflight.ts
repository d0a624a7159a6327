/** What the server says of a set before it runs. */
import type { PreflightReport } from '../core/preflight/preflight.js';

export interface PreflightReply extends PreflightReport {
  /** Frames of the plan, and how many of them were looked at. */
  frames: number;
  probed: number;
  /** Content of the set that was checked, as SetReply has it. */
  content: string;
  seconds: number;
}
