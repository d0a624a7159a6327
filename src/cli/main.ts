/** The command line. Exits 0 when done, 2 when the input is wrong, 3 when faults were found, 1 when the work failed. */
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { Command as Program, CommanderError } from 'commander';
import { projectRoot } from '../engine/node/assets.js';
import { ModelError } from '../formats/format.js';
import { type Command, type CommandGroup, FaultsFound, InputError } from './command.js';
import { commandsFor } from './commands/index.js';

const say = (line: string): void => void process.stderr.write(`${line}\n`);

const printJson = (result: unknown): Promise<void> => new Promise((resolve) => process.stdout.write(`${JSON.stringify(result)}\n`, () => resolve()));

function version(): string {
  return (JSON.parse(readFileSync(path.join(projectRoot(), 'package.json'), 'utf8')) as { version: string }).version;
}

/** Where a command's result goes; set by the command that runs. */
interface Outcome {
  result?: unknown;
  /** For standard output, where JSON is not asked for. */
  text?: string | undefined;
}

/** Declares a command, or those below one word, to the parser. */
function declare(program: Program, command: Command | CommandGroup, outcome: Outcome): void {
  if ('commands' in command) {
    const group = program.command(command.name).summary(command.summary).description(command.summary);
    for (const below of command.commands) declare(group, below, outcome);
    return;
  }
  const declared = program
    .command(command.name)
    .summary(command.summary)
    .description(command.summary)
    .option('--json', 'print the result, or the error, as JSON on standard output');
  if (command.argument) declared.argument(`<${command.argument[0]}>`, command.argument[1]);
  for (const option of command.options) declared.addOption(option);
  declared.action(async (...args: unknown[]) => {
    const [argument, options] = command.argument ? [args[0] as string, args[1] as object] : ['', args[0] as object];
    outcome.result = await command.run(argument, options, say);
    outcome.text = command.print?.(outcome.result);
  });
}

function exitCodeOf(error: unknown): number {
  if (error instanceof FaultsFound) return 3;
  // The parser ends early without a fault where help or the version was asked for.
  if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
  return error instanceof InputError || error instanceof ModelError ? 2 : 1;
}

async function main(args: string[]): Promise<number> {
  const json = args.includes('--json');
  const outcome: Outcome = {};
  const program = new Program('easel')
    .description('Cold Easel: plan, render and hand over review renders of design models.')
    .version(version())
    .exitOverride()
    .configureOutput({ writeOut: (text) => process.stderr.write(text), writeErr: (text) => process.stderr.write(text) })
    .showSuggestionAfterError()
    .configureHelp({ sortSubcommands: false });
  for (const command of await commandsFor(args)) declare(program, command, outcome);
  const inherit = (parent: Program): void => {
    for (const declared of parent.commands) inherit(declared.exitOverride().copyInheritedSettings(parent));
  };
  inherit(program);
  try {
    await program.parseAsync(args, { from: 'user' });
    if (json) await printJson(outcome.result);
    else if (outcome.text !== undefined) process.stdout.write(outcome.text);
    return 0;
  } catch (e) {
    const exitCode = exitCodeOf(e);
    if (e instanceof FaultsFound) {
      if (json) await printJson(e.result);
      return exitCode;
    }
    // The parser has said it already.
    if (!(e instanceof CommanderError)) say((e as Error).message);
    if (json && exitCode !== 0) await printJson({ error: { exitCode, message: (e as Error).message } });
    return exitCode;
  }
}

// Whoever reads the output may have read enough, as in "easel plan … | head": that is no fault, and work goes on.
for (const stream of [process.stdout, process.stderr])
  stream.on('error', (e: NodeJS.ErrnoException) => {
    if (e.code !== 'EPIPE') throw e;
  });

process.exitCode = await main(process.argv.slice(2));
