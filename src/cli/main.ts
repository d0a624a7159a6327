/** The command line. Exits 0 when done, 2 when the input is wrong, 3 when faults were found, 1 when the work failed. */
import { ModelError } from '../formats/format.js';
import { FaultsFound } from './command.js';
import { COMMANDS } from './commands.js';
import { InputError, parseArguments } from './input.js';

function help(): string {
  return [
    'Cold Easel',
    '',
    ...Object.values(COMMANDS).map((c) => `  easel ${c.usage}`),
    '',
    'Every command takes --json for a machine-readable result.',
    '',
  ].join('\n');
}

const printResult = (result: unknown): Promise<void> =>
  new Promise((resolve) => process.stdout.write(`${JSON.stringify(result)}\n`, () => resolve()));

async function main(args: string[]): Promise<number> {
  const [name, ...rest] = args;
  if (!name || name === 'help' || name === '--help') {
    process.stderr.write(help());
    return name ? 0 : 2;
  }
  const command = COMMANDS[name];
  if (!command) {
    process.stderr.write(`"${name}" is no command; there is ${Object.keys(COMMANDS).join(', ')}.\n`);
    return 2;
  }
  let json = false;
  try {
    const { words, options } = parseArguments(rest, command.options);
    json = options.json;
    const result = await command.run(words, options, (line) => process.stderr.write(`${line}\n`));
    if (json) await printResult(result);
    return 0;
  } catch (e) {
    if (e instanceof FaultsFound) {
      if (json) await printResult(e.result);
      return 3;
    }
    process.stderr.write(`${(e as Error).message}\n`);
    return e instanceof InputError || e instanceof ModelError ? 2 : 1;
  }
}

process.exitCode = await main(process.argv.slice(2));
