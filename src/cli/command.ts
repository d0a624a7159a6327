import { type Options } from './input.js';

/** A word after `easel`. */
export interface Command {
  usage: string;
  options: string[];
  /** Returns the machine-readable result; `say` writes a message for people. */
  run(words: string[], options: Options, say: (line: string) => void): Promise<unknown>;
}

/** The work was done and found faults: its result is printed, and the exit code is 3. */
export class FaultsFound extends Error {
  override name = 'FaultsFound';
  constructor(readonly result: unknown) {
    super('Faults were found.');
  }
}
