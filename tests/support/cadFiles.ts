/** STEP, IGES and BREP files by others: they ship with the reader's own package, as test input alone. */
import { readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { expect } from 'vitest';
import { ModelError, type ReadOptions } from '../../src/formats/format.js';
import { readModel } from '../../src/formats/formats.js';
import type { Model } from '../../src/core/model/model.js';

const FOLDER = path.resolve('node_modules/occt-import-js/test/testfiles');
const sizeOf = (f: string): number => statSync(path.join(FOLDER, f)).size;

/** By their paths below the package's folder. */
export const cadFiles: string[] = (readdirSync(FOLDER, { recursive: true }) as string[]).filter(
  (f) => /\.(stp|step|igs|iges|brep)$/i.test(f) && statSync(path.join(FOLDER, f)).isFile(),
);

/** Of at most so many bytes. */
export const cadFilesUpTo = (bytes: number): string[] => cadFiles.filter((f) => sizeOf(f) <= bytes);

/** Reads a file of the CAD corpus. */
export function readCadFile(f: string, options: ReadOptions = { unit: 'mm', up: 'z' }): Promise<Model> {
  return readModel([{ name: path.basename(f), bytes: new Uint8Array(readFileSync(path.join(FOLDER, f))) }], options);
}

/** Each is read whole, or refers to files that are not there. @returns how many are whole. */
export async function expectWhole(files: readonly string[]): Promise<number> {
  const failed: string[] = [];
  for (const f of files) {
    try {
      const model = await readCadFile(f);
      expect(model.meshes.length, f).toBeGreaterThan(0);
      for (const m of model.meshes) expect(m.normals!.length, f).toBe(m.positions.length);
    } catch (e) {
      expect(e, f).toBeInstanceOf(ModelError);
      failed.push(f);
    }
  }
  // Assemblies whose parts are files of their own hold no surfaces.
  for (const f of failed) expect(readFileSync(path.join(FOLDER, f), 'latin1')).toMatch(/DOCUMENT_FILE|EXTERNALLY_DEFINED|PROPERTY_DEFINITION/);
  return files.length - failed.length;
}
