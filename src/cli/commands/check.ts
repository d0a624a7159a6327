/** `easel check`: whether every file of a data folder is there and whole. */
import { Option } from 'commander';
import { type Command, FaultsFound } from '../command.js';
import { dataFolder, dataOption, type FolderOptions, loadMaintenance, toMegabytes } from '../dataFolder.js';

interface CheckOptions extends FolderOptions {
  files: 'whole' | 'sizes';
}

/** `easel check`. */
export const checkCommand: Command<CheckOptions> = {
  name: 'check',
  summary: 'check the data folder for missing and damaged files',
  options: [
    dataOption(),
    new Option('--files <depth>', 'read every file whole, or compare sizes alone').choices(['whole', 'sizes']).default('whole'),
  ],
  async run(_, options, say) {
    const result = await (await loadMaintenance()).checkFolder(dataFolder(options), { whole: options.files === 'whole' });
    const { folder, files, bytes, faults } = result;
    for (const { what, problem, remedy } of faults) say(`${what}: ${problem} ${remedy}`);
    say(`${folder}: ${files} files, ${toMegabytes(bytes)}, ${faults.length === 0 ? 'no fault' : `${faults.length} faults`}`);
    if (!result.ok) throw new FaultsFound(result);
    return result;
  },
};
