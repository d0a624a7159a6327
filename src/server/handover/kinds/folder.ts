/** Into a folder of this machine. */
import { copyFile, mkdir, stat } from 'node:fs/promises';
import path from 'node:path';
import { isExposed } from '../../access/access.js';
import { commitFile, TEMPORARY_SUFFIX } from '../../../engine/node/files.js';
import { hashFile } from '../../../engine/node/hashFile.js';
import type { DeliveryKind } from './deliveryKind.js';

/** Into a folder of this machine. */
export const folder: DeliveryKind = {
  id: 'folder',
  refusal(target, config) {
    // Whoever reaches the server from elsewhere must not write where they like.
    if (isExposed(config)) return 'Others can reach this server, so packages are not written to folders of its machine. Download them instead.';
    return path.isAbsolute(target) ? null : 'Give the whole path of a folder.';
  },
  async send({ files, name, target, signal, onBytes }) {
    for (const { from, path: own, bytes, sha256 } of files) {
      signal.throwIfAborted();
      const to = path.join(target, name, own);
      const there = await stat(to).catch(() => null);
      if (there?.size !== bytes || (await hashFile(to)) !== sha256) {
        await mkdir(path.dirname(to), { recursive: true });
        await copyFile(from, `${to}${TEMPORARY_SUFFIX}`);
        await commitFile(`${to}${TEMPORARY_SUFFIX}`, to);
        if ((await hashFile(to)) !== sha256) throw new Error(`${to} has other bytes than the package. Check the disk.`);
      }
      onBytes(bytes);
    }
  },
};
