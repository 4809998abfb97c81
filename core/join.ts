/** Pieces of bytes as one, cut off at `most` if they are more. */
export function joined(
  parts: readonly Uint8Array[],
  most = Number.POSITIVE_INFINITY,
): Uint8Array<ArrayBuffer> {
  const whole = new Uint8Array(
    Math.min(
      most,
      parts.reduce((n, p) => n + p.length, 0),
    ),
  );
  let at = 0;
  for (const part of parts) {
    if (at >= whole.length) break;
    whole.set(part.subarray(0, whole.length - at), at);
    at += part.length;
  }
  return whole;
}
