/** What a process that reads a model is told, and what it answers. */
import type { AskedOptions } from '../../formats/format.js';
import type { ModelDigest } from '../scene/prepare.js';

/** A model to be read, as it is sent to the process that reads it. */
export interface ImportTask {
  /** Each by the name that it was given and the path where it lies. */
  files: { name: string; path: string }[];
  options: AskedOptions;
  /** Folder for what is made: see IMPORT_FILES. */
  out: string;
}

/** Names of what an import writes into its folder; `viewport` is there for heavy models alone. */
export const IMPORT_FILES = { glb: 'model.glb', viewport: 'viewport.glb', scene: 'scene', summary: 'summary.json' } as const;

/** What of the model the server keeps. */
export type ImportDone = ModelDigest;
