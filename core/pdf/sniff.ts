/** Whether a file begins as a PDF does; some have other bytes before it (ISO 32000-1, Annex H.3.4.1). */
export const isPdf = (bytes: Uint8Array): boolean =>
  new TextDecoder('latin1').decode(bytes.subarray(0, 1024)).includes('%PDF-');
