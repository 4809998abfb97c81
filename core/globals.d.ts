// The WHATWG Encoding API is in every place core runs (browser, worker, server, shell), but its types
// come only with DOM or Node, which core is checked without.
declare class TextEncoder {
  encode(text: string): Uint8Array<ArrayBuffer>;
}
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean; ignoreBOM?: boolean });
  decode(bytes: Uint8Array, options?: { stream?: boolean }): string;
}

// iconv-lite's tables of one-byte encodings, without the parts of it that need Node.
declare module 'iconv-lite/encodings/sbcs-data-generated.js' {
  const tables: Record<string, string | { type: string; chars: string }>;
  export default tables;
}
