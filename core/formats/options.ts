/** Something to choose when a file is written: a number in a range, or yes and no. */
export type OptionDeclaration = { id: string; label: string } & (
  | { type: 'number'; min: number; max: number; initial: number; unit?: string }
  | { type: 'boolean'; initial: boolean }
);
export type Options = Record<string, number | boolean>;

/** The chosen value of an option, or its initial one; numbers are brought into range. */
export function optionOf(
  format: { options?: OptionDeclaration[] },
  chosen: Options | undefined,
  id: string,
): number | boolean {
  const option = format.options!.find((o) => o.id === id)!;
  const value = chosen?.[id] ?? option.initial;
  if (option.type === 'boolean') return Boolean(value);
  return Math.min(option.max, Math.max(option.min, Number(value)));
}
