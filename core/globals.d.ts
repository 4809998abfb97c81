// The WHATWG Encoding API is in every place core runs (browser, worker, server, shell), but its types
// come only with DOM or Node, which core is checked without.
declare class TextEncoder {
  encode(text: string): Uint8Array<ArrayBuffer>;
}
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean; ignoreBOM?: boolean });
  decode(bytes: Uint8Array, options?: { stream?: boolean }): string;
}
