/** The profiles that ship with Papillon, by the SHA-256 of their bytes; `profiles/README.md` says where they come from. */
export const SHIPPED = {
  coated: '15765497eb7054c54e8c60f7887589472fa68d526282cd893b76dce9a9d1866d',
  uncoated: 'b73572ebfde60be70288e2705c0bb98e10acf27487a43bc26aa622923f354d2c',
} as const;

/** What those are called; others go by their own description. */
export const SHIPPED_NAMES: Record<string, string> = {
  [SHIPPED.coated]: 'Coated offset (FOGRA39L)',
  [SHIPPED.uncoated]: 'Uncoated offset (FOGRA29L)',
};

/** The shipped profile that a file means by the name of a characterised print condition; null for others. */
export function profileNamed(text: string): string | null {
  if (/fogra[\s_-]*39/i.test(text)) return SHIPPED.coated;
  if (/fogra[\s_-]*29/i.test(text)) return SHIPPED.uncoated;
  return null;
}
