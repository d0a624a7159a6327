/** The demo's models as files of the build: their textures take seconds to make, which a first start need not wait for. */
import type { Bounds } from '../src/core/math/bounds.js';

/** A design as the build wrote it. */
export interface MadeModel {
  /** What its file is called. */
  name: string;
  /** Of the whole subject, in metres. */
  bounds: Bounds;
  /** Of the parts below the path that sets are made to measure for; absent where that is the whole. */
  measured?: Bounds;
}

/** Folder of the files in dist/, and the list of them: MadeModels as JSON. */
export const MADE_FOLDER = 'demo';
/** Name of the list. */
export const MADE_LIST = 'models.json';

/** The list: of each design its revisions, the first one first. */
export interface MadeModels {
  northmere: [MadeModel];
  tern: [MadeModel, MadeModel];
}
