/** Replaces a piece of a text. */
export interface Edit {
  from: number;
  to: number;
  text: string;
}

/** A text with pieces of it replaced; everything else stays to the letter. Edits must not overlap; of two at one place both stand. */
export function edited(text: string, edits: readonly Edit[]): string {
  const parts: string[] = [];
  let at = 0;
  for (const { from, to, text: own } of [...edits].sort((a, b) => a.from - b.from || a.to - b.to)) {
    // what lies in a piece that goes goes with it
    if (from < at) continue;
    parts.push(text.slice(at, from), own);
    at = to;
  }
  return parts.join('') + text.slice(at);
}
