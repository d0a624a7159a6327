/** What is used of modules of three.js whose types are not published. */
declare module 'three/examples/jsm/loaders/usd/USDCParser.js' {
  export class USDCParser {
    parseData(buffer: ArrayBuffer): { specsByPath: Record<string, { specType: number; fields: Record<string, unknown> }> };
  }
}
declare module 'three/examples/jsm/loaders/usd/USDComposer.js' {
  import type { Group, LoadingManager } from 'three';

  export class USDComposer {
    constructor(manager: LoadingManager);
    compose(data: { specsByPath: object }, assets: object, variants: Record<string, string>, basePath: string): Group;
  }
}
