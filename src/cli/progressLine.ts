/** Progress of long work: one line that is rewritten on a terminal, plain lines elsewhere. */
import type { Say } from './command.js';

const clock = (seconds: number): string => (seconds < 90 ? `${Math.ceil(seconds)} s` : `${Math.ceil(seconds / 60)} min`);

/** Says how far the frames are: in one line on a terminal, in plain lines elsewhere. */
export class ProgressLine {
  private readonly started = performance.now();
  private done = 0;
  private shown = false;

  /** @param terminal whether a line that was written can be rewritten. */
  constructor(
    private readonly total: number,
    private readonly say: Say,
    private readonly terminal: NodeJS.WriteStream | null = process.stderr.isTTY ? process.stderr : null,
  ) {}

  /** A piece of the work is done. @param what says which, as a plain line. */
  step(what: string): void {
    this.done++;
    const seconds = (performance.now() - this.started) / 1000;
    const left = (seconds / this.done) * (this.total - this.done);
    if (!this.terminal) {
      this.say(`${this.done}/${this.total} ${what}`);
      return;
    }
    this.terminal.write(`\r\x1b[K${this.done} of ${this.total} frames, ${clock(seconds)}${left > 0 ? `, ${clock(left)} to go` : ''}`);
    this.shown = true;
  }

  /** What follows begins a line of its own. */
  end(): void {
    if (this.shown) this.terminal?.write('\n');
  }
}
