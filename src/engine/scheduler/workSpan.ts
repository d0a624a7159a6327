/** How long workers had work since a span of measurement began, in milliseconds. */
import type { WorkStats } from './job.js';

/** How much of a span of work was tracing, and how much waiting. */
export class WorkSpan {
  private started = 0;
  private busy = 0;
  private traced = 0;

  /** The first task is given to a worker. */
  begin(): void {
    this.started ||= performance.now();
  }

  add(busy: number, traced: number): void {
    this.busy += busy;
    this.traced += traced;
  }

  /** In seconds. */
  stats(workers: number): WorkStats {
    const wall = this.started > 0 ? performance.now() - this.started : 0;
    return { wall: wall / 1000, busy: this.busy / 1000, traced: this.traced / 1000, workers };
  }
}
