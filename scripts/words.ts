// Prints every text that people read, with its place: tables of the interface, and sentences elsewhere in the sources.
import { checkWords, collectWords } from '../tests/support/words.js';

const words = collectWords(process.cwd());
for (const { file, line, kind, key, text } of words)
  process.stdout.write(`${`${file}:${line}`.padEnd(58)} ${kind.padEnd(8)} ${key.padEnd(28)} ${text}\n`);
const faults = checkWords(words);
for (const fault of faults) process.stderr.write(`${fault}\n`);
process.stderr.write(`${words.length} texts, ${faults.length} faults\n`);
process.exitCode = faults.length > 0 ? 1 : 0;
