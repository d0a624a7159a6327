import { type Options } from './input.js';

/** A word after `easel`. */
export interface Command {
  usage: string;
  options: string[];
  /** Returns the machine-readable result; `say` writes a message for people. */
  run(words: string[], options: Options, say: (line: string) => void): Promise<unknown>;
}
