/** The disk or the database is at fault: a batch waits in memory, a little longer each time, and is taken up again. */
import { ERROR_CATALOGUE, type ServerError } from '../errors.js';
import { pauseSeconds } from './failurePolicy.js';

/** Waits until what all frames failed by is over, and looks after it now and then. */
export class Outage {
  private timer: NodeJS.Timeout | null = null;
  private done: () => void = () => {};
  /** Whether the pause has begun. */
  rested = false;

  /**
   * @param batch id of the batch that met it; null where it is not known.
   * @param tries how often it was tried before.
   * @param firstPause seconds of the first pause.
   */
  constructor(
    readonly batch: number | null,
    readonly fault: ServerError,
    readonly tries: number,
    private readonly firstPause: number,
  ) {}

  get seconds(): number {
    return pauseSeconds(this.tries, this.firstPause);
  }

  /** Waits for as long as is due, or until it is woken. */
  rest(): Promise<void> {
    this.rested = true;
    return new Promise((resolve) => {
      this.done = resolve;
      this.timer = setTimeout(resolve, this.seconds * 1000);
    });
  }

  /** Ends the pause early. */
  wake(): void {
    if (this.timer) clearTimeout(this.timer);
    this.done();
  }

  /** What a person is told. */
  get reason(): string {
    const { code, message } = this.fault;
    // Nothing needs to be tried again by hand.
    const remedy =
      code === 'database-busy' || code === 'overloaded' ? '' : ` ${ERROR_CATALOGUE[code].remedy.replace(' and try again; nothing was changed', '')}`;
    return `${message}${remedy} Finished frames are kept; the batch resumes by itself.`;
  }
}
