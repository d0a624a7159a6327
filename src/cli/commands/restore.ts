/** `easel restore`: a data folder from a backup; what was there before is kept beside it. */
import path from 'node:path';
import type { Command } from '../command.js';
import { dataFolder, dataOption, type FolderOptions, withMaintenance } from '../dataFolder.js';

/** `easel restore`. */
export const restoreCommand: Command<FolderOptions> = {
  name: 'restore',
  summary: 'restore the data folder from a backup',
  argument: ['file', 'the file of a backup'],
  options: [dataOption()],
  async run(file, options, say) {
    const result = await withMaintenance(({ restoreFolder }) => restoreFolder(path.resolve(file), dataFolder(options)));
    say(`${result.folder}: ${result.files} files of ${result.made} restored`);
    if (result.replaced) say(`What was there before is in ${result.replaced}`);
    return result;
  },
};
