/** All commands, in the order of the help. */
import type { Command, CommandGroup } from '../command.js';
import { auditCommand } from './audit.js';
import { backupCommand } from './backup.js';
import { batchCommands } from './batch.js';
import { checkCommand } from './check.js';
import { completionCommand } from './completion.js';
import { dropOffCommand } from './dropOff.js';
import { exportCommand } from './export.js';
import { forecastCommand } from './forecast.js';
import { importCommand } from './import.js';
import { passphraseCommand } from './passphrase.js';
import { planCommand } from './plan.js';
import { preflightCommand } from './preflight.js';
import { renderCommand } from './render.js';
import { restoreCommand } from './restore.js';
import { sunCommand } from './sun.js';

/** All commands, in the order in which help lists them. */
export const COMMANDS: readonly (Command | CommandGroup)[] = [
  importCommand,
  planCommand,
  preflightCommand,
  forecastCommand,
  renderCommand,
  batchCommands,
  exportCommand,
  sunCommand,
  auditCommand,
  dropOffCommand,
  checkCommand,
  backupCommand,
  restoreCommand,
  passphraseCommand,
  completionCommand(() => COMMANDS),
] as (Command | CommandGroup)[];
