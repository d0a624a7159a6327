/** What a process that reads images is told, and what it answers. */
export interface ImageTask {
  kind: 'environment' | 'texture';
  /** As it was given, for its ending and for messages. */
  name: string;
  path: string;
  /** Where the texels of an environment image go: see texels.ts. */
  out?: string;
}

/** Pixels of the image that was read. */
export interface ImageDone {
  width: number;
  height: number;
}
