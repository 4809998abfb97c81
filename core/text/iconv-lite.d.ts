// iconv-lite's tables of one-byte encodings, without the parts of it that need Node.
declare module 'iconv-lite/encodings/sbcs-data-generated.js' {
  const tables: Record<string, string | { type: string; chars: string }>;
  export default tables;
}
