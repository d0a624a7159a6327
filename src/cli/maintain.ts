/** `easel check`, `backup`, `restore` and `passphrase`: what is done to a data folder from outside the server. */
import { createInterface } from 'node:readline';
import path from 'node:path';
import { Writable } from 'node:stream';
import { pathToFileURL } from 'node:url';
import { distFile, projectRoot } from '../engine/node/assets.js';
import type * as Maintenance from '../server/maintenance/index.js';
import { type FolderPart } from '../server/maintenance/inventory.js';
import { type Command, FaultsFound } from './command.js';
import { InputError, type Options } from './input.js';

/** Loaded where it is asked for alone: the other commands need no database. */
const loadMaintenance = async (): Promise<typeof Maintenance> =>
  (await import(pathToFileURL(distFile('maintenance.mjs')).href)) as typeof Maintenance;

const toMegabytes = (bytes: number): string => `${(bytes / 2 ** 20).toFixed(1)} MB`;

/** The data folder that is meant: of --data, of the environment, or beside the program. */
function dataFolder(options: Options): string {
  const named = typeof options.data === 'string' ? options.data : process.env.COLD_EASEL_DATA;
  return path.resolve(named ? named : path.join(projectRoot(), 'data'));
}

function oneFile(words: string[], what: string): string {
  if (words.length !== 1) throw new InputError(`Give ${what}${words.length > 1 ? ', and only one' : ''}.`);
  return path.resolve(words[0]!);
}

/** Faults of what was named are the input's. */
async function asInput<T>(work: (m: typeof Maintenance) => Promise<T>): Promise<T> {
  const m = await loadMaintenance();
  try {
    return await work(m);
  } catch (e) {
    throw e instanceof m.BackupError || e instanceof m.FolderInUseError ? new InputError(e.message) : e;
  }
}

export const check: Command = {
  usage: 'check [--data DIR] [--files sizes]',
  options: ['data', 'files'],
  async run(words, options, say) {
    if (words.length > 0) throw new InputError('check takes no file; name the data folder with --data DIR.');
    const { files = 'whole' } = options;
    if (files !== 'whole' && files !== 'sizes') throw new InputError(`--files ${String(files)} is not known; there is whole and sizes.`);
    const result = await (await loadMaintenance()).checkFolder(dataFolder(options), { whole: files === 'whole' });
    for (const { what, problem, remedy } of result.faults) say(`${what}: ${problem} ${remedy}`);
    say(
      `${result.folder}: ${result.files} files, ${toMegabytes(result.bytes)}, ${result.faults.length === 0 ? 'no fault' : `${result.faults.length} faults`}`,
    );
    if (!result.ok) throw new FaultsFound(result);
    return result;
  },
};

export const backup: Command = {
  usage: 'backup FILE [--data DIR] [--without pictures,models]',
  options: ['data', 'without'],
  async run(words, options, say) {
    const without = (typeof options.without === 'string' ? options.without : '').split(',').filter((w) => w !== '');
    const file = oneFile(words, 'the file to write, for example studio.tar');
    const result = await asInput(({ backupFolder, PARTS }) => {
      const unknown = without.find((w) => !(PARTS as readonly string[]).includes(w));
      if (unknown) throw new InputError(`--without ${unknown} is not known; there is ${PARTS.join(' and ')}.`);
      return backupFolder(dataFolder(options), file, { without: without as FolderPart[] });
    });
    for (const file of result.missing) say(`note: ${file} is missing and was left out; easel check says what it belongs to.`);
    say(`${result.file}: ${result.files} files, ${toMegabytes(result.bytes)}, read again and whole`);
    return result;
  },
};

export const restore: Command = {
  usage: 'restore FILE [--data DIR]',
  options: ['data'],
  async run(words, options, say) {
    const result = await asInput(({ restoreFolder }) => restoreFolder(oneFile(words, 'the file of a backup'), dataFolder(options)));
    say(`${result.folder}: ${result.files} files of ${result.made} restored`);
    if (result.replaced) say(`What was there before is in ${result.replaced}`);
    return result;
  },
};

/** Reads one line: without showing it where there is a terminal, else from what is piped in. */
async function readSecret(prompt: string): Promise<string> {
  const { stdin } = process;
  if (stdin.isTTY) process.stderr.write(prompt);
  // A terminal's echo is this program's own where it edits the line itself, and goes nowhere.
  const nowhere = new Writable({ write: (_chunk, _encoding, done) => done() });
  const lines = createInterface({ input: stdin, ...(stdin.isTTY && { output: nowhere, terminal: true }) });
  try {
    for await (const line of lines) return line;
    return '';
  } finally {
    lines.close();
    if (stdin.isTTY) process.stderr.write('\n');
  }
}

export const passphrase: Command = {
  usage: 'passphrase [--data DIR]',
  options: ['data'],
  async run(words, options, say) {
    // A passphrase among the arguments would stand in the list of processes and in the shell's history.
    if (words.length > 0) throw new InputError('passphrase takes no argument: it reads the passphrase from standard input.');
    const text = process.env.COLD_EASEL_PASSPHRASE ?? (await readSecret('New passphrase, then Enter: '));
    const { passphraseProblem, setPassphrase } = await loadMaintenance();
    const problem = passphraseProblem(text);
    if (problem) throw new InputError(problem);
    const folder = dataFolder(options);
    await setPassphrase(folder, text);
    say(`The passphrase of ${folder} is set, and everybody is signed out.`);
    return { folder };
  },
};
