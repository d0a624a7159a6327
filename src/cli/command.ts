/** What a command of `easel` is: declared for the parser, and run. */
import type { Option } from 'commander';

/** Writes a message for people, to standard error. */
export type Say = (line: string) => void;

interface Named {
  name: string;
  /** One line for the help. */
  summary: string;
}

/** Commands below one word, as `easel batch list`. */
export interface CommandGroup extends Named {
  commands: readonly Command[];
}

/** What `easel NAME` takes and does. `O` are its options by name. */
export interface Command<O extends object = object> extends Named {
  /** Its one argument: the name as in usage, and what it is; absent where it takes none. */
  argument?: [name: string, what: string];
  options: Option[];
  /**
   * Returns the machine-readable result, which `--json` prints. Throws InputError where the input is wrong (exit 2) and
   * FaultsFound where the work was done and found faults (exit 3).
   */
  run(argument: string, options: O, say: Say): Promise<unknown>;
  /** What goes to standard output without `--json`; nothing where absent. */
  print?: (result: unknown) => string;
}

/** The input is wrong: exit code 2. The message names file, place and remedy. */
export class InputError extends Error {
  override name = 'InputError';
}

/** The work was done and found faults: its result is printed, and the exit code is 3. */
export class FaultsFound extends Error {
  override name = 'FaultsFound';
  constructor(readonly result: unknown) {
    super('Faults were found.');
  }
}
