/** `easel backup`: the data folder as one file, beside a running server too. */
import path from 'node:path';
import { Option } from 'commander';
import type { FolderPart } from '../../server/maintenance/inventory.js';
import { type Command, InputError } from '../command.js';
import { dataFolder, dataOption, type FolderOptions, toMegabytes, withMaintenance } from '../dataFolder.js';

interface BackupOptions extends FolderOptions {
  without?: string;
}

/** `easel backup`. */
export const backupCommand: Command<BackupOptions> = {
  name: 'backup',
  summary: 'write the data folder into one file',
  argument: ['file', 'the file to write, for example studio.tar'],
  options: [dataOption(), new Option('--without <parts>', 'leave out parts that can be made again, separated by commas')],
  async run(file, options, say) {
    const without = (options.without ?? '').split(',').filter((w) => w !== '');
    const result = await withMaintenance(({ backupFolder, PARTS }) => {
      const unknown = without.find((w) => !(PARTS as readonly string[]).includes(w));
      if (unknown) throw new InputError(`--without ${unknown} is not known; there is ${PARTS.join(' and ')}.`);
      return backupFolder(dataFolder(options), path.resolve(file), { without: without as FolderPart[] });
    });
    for (const missing of result.missing) say(`note: ${missing} is missing and was left out; easel check says what it belongs to.`);
    say(`${result.file}: ${result.files} files, ${toMegabytes(result.bytes)}, read again and whole`);
    return result;
  },
};
