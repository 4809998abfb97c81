/** The value of a cookie that a request brings. */
export function cookieOf(header: string | undefined, name: string): string | undefined {
  for (const part of header?.split(';') ?? []) {
    const at = part.indexOf('=');
    if (part.slice(0, at).trim() === name) return part.slice(at + 1).trim();
  }
  return undefined;
}
