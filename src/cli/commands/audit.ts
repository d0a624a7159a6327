/** `easel audit`: whether a package is whole and as asked, by its files alone. */
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { describeIssues } from '../../core/base/issues.js';
import { MANIFEST_FILE, type Manifest, manifestSchema } from '../../core/handover/manifest.js';
import { auditPackage } from '../../engine/node/auditPackage.js';
import { type Command, FaultsFound, InputError } from '../command.js';

function readManifest(folder: string): Manifest {
  const file = path.join(folder, MANIFEST_FILE);
  if (!existsSync(file)) throw new InputError(`${folder} is no package: it has no ${MANIFEST_FILE}. Give the folder of an unpacked package.`);
  let content: unknown;
  try {
    content = JSON.parse(readFileSync(file, 'utf8'));
  } catch (e) {
    throw new InputError(`${file} is damaged: ${(e as Error).message}. Get the package again.`);
  }
  const read = manifestSchema.safeParse(content);
  if (!read.success) throw new InputError(`${file} cannot be used. ${describeIssues(read.error).slice(0, 5).join(' ')}`);
  return read.data;
}

/** `easel audit`. */
export const auditCommand: Command = {
  name: 'audit',
  summary: 'read all files of a package, and say what is not as its manifest and the client have it',
  argument: ['folder', 'the folder of an unpacked package'],
  options: [],
  async run(folder, _options, say) {
    const manifest = readManifest(folder);
    const { ok, files, faults } = await auditPackage(folder, manifest);
    for (const f of faults) say(`${f.file}: expected ${f.expected}, found ${f.found}`);
    say(`${manifest.name}: ${files} files read, ${faults.length === 0 ? 'all as they must be' : `${faults.length} faults`}`);
    const result = { ok, files, faults };
    if (!ok) throw new FaultsFound(result);
    return result;
  },
};
