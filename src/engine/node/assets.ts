/** Where the built kernel and worker lie: in dist/ beside package.json. */
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

/** Folder that holds package.json, found upwards from this file. */
export function projectRoot(): string {
  for (let at = path.dirname(fileURLToPath(import.meta.url)); ; at = path.dirname(at)) {
    if (existsSync(path.join(at, 'package.json'))) return at;
    if (at === path.dirname(at)) throw new Error('package.json was not found above the program; reinstall Cold Easel.');
  }
}

/** Path of a built file. @throws where it has not been built, with the remedy. */
export function distFile(name: string): string {
  const file = path.join(projectRoot(), 'dist', name);
  if (!existsSync(file)) throw new Error(`${file} is missing; run "npm run build" first.`);
  return file;
}

let kernelModule: WebAssembly.Module | null = null;

/** The compiled kernel, read once a process. */
export function loadKernelModule(): WebAssembly.Module {
  kernelModule ??= new WebAssembly.Module(readFileSync(distFile('kernel.wasm')));
  return kernelModule;
}
