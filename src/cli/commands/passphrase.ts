/** `easel passphrase`: sets the passphrase of a data folder and signs everybody out. */
import { createInterface } from 'node:readline';
import { Writable } from 'node:stream';
import { type Command, InputError } from '../command.js';
import { dataFolder, dataOption, type FolderOptions, loadMaintenance } from '../dataFolder.js';

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

/** `easel passphrase`. */
export const passphraseCommand: Command<FolderOptions> = {
  name: 'passphrase',
  summary: 'set the passphrase, read from standard input, and sign everybody out',
  // A passphrase among the arguments would stand in the list of processes and in the shell's history.
  options: [dataOption()],
  async run(_, options, say) {
    const text = process.env.COLD_EASEL_PASSPHRASE ?? (await readSecret('New passphrase, then Enter: '));
    const { passphraseProblem, setPassphrase } = await loadMaintenance();
    const problem = passphraseProblem(text);
    if (problem) throw new InputError(problem);
    const folder = dataFolder(options);
    await setPassphrase(folder, text);
    say(`The passphrase of ${folder} is set, and everyone is signed out.`);
    return { folder };
  },
};
