import { type ReadOptions, type SourceFile } from '../../formats/format.js';

/** What a thread that reads a model is told to do. */
export interface ImportTask {
  module: WebAssembly.Module;
  files: SourceFile[];
  options: ReadOptions;
}
