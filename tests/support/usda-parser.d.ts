declare module 'three/examples/jsm/loaders/usd/USDAParser.js' {
  /** Prims and attributes by their path. */
  export class USDAParser {
    parseData(text: string): { specsByPath: Record<string, { fields: Record<string, unknown> } | undefined> };
  }
}
