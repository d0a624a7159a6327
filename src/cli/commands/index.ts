/** All commands, in the order of the help, each read only where it is wanted: a start compiles what it runs. */
import type { Command, CommandGroup } from '../command.js';

type Loaded = Command | CommandGroup;

/** Options differ from command to command; the parser has checked them when a command runs. */
const loaders = {
  import: async () => (await import('./import.js')).importCommand,
  plan: async () => (await import('./plan.js')).planCommand,
  preflight: async () => (await import('./preflight.js')).preflightCommand,
  forecast: async () => (await import('./forecast.js')).forecastCommand,
  render: async () => (await import('./render.js')).renderCommand,
  batch: async () => (await import('./batch.js')).batchCommands,
  export: async () => (await import('./export.js')).exportCommand,
  sun: async () => (await import('./sun.js')).sunCommand,
  audit: async () => (await import('./audit.js')).auditCommand,
  'drop-off': async () => (await import('./dropOff.js')).dropOffCommand,
  check: async () => (await import('./check.js')).checkCommand,
  backup: async () => (await import('./backup.js')).backupCommand,
  restore: async () => (await import('./restore.js')).restoreCommand,
  passphrase: async () => (await import('./passphrase.js')).passphraseCommand,
  completion: async () => (await import('./completion.js')).completionCommand(allCommands),
} as Record<string, () => Promise<Loaded>>;

/** All commands, in the order in which help lists them. */
export function allCommands(): Promise<Loaded[]> {
  return Promise.all(Object.values(loaders).map((load) => load()));
}

/** What the parser has to know for these words of a command line: the command that is named, or all where none is. */
export async function commandsFor([first]: readonly string[]): Promise<Loaded[]> {
  if (first === '--version') return [];
  return first !== undefined && Object.hasOwn(loaders, first) ? [await loaders[first]!()] : allCommands();
}
