declare module 'three/examples/jsm/loaders/usd/USDAParser.js' {
  export class USDAParser {
    /** Prims by their declarations, one in another. */
    parseText(text: string): Record<string, unknown>;
  }
}
