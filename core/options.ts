/** Something to choose: a number in a range, yes or no, one of several, or some letters; profiles and roles are those there are. */
export type OptionDeclaration = { id: string; label: string } & (
  | { type: 'number'; min: number; max: number; step?: number; initial: number; unit?: string }
  | { type: 'boolean'; initial: boolean }
  | { type: 'choice'; values: readonly (readonly [value: string, label: string])[]; initial: string }
  | { type: 'text'; initial: string; most: number; placeholder: string }
  | { type: 'profile' | 'role'; none: string; initial: string }
);
export type Options = Record<string, number | boolean | string>;

/** The chosen value of an option, or its initial one; numbers are brought into range. */
export function optionOf(
  declared: { options?: OptionDeclaration[] },
  chosen: Options | undefined,
  id: string,
): number | boolean | string {
  const option = declared.options!.find((o) => o.id === id)!;
  const value = chosen?.[id] ?? option.initial;
  if (option.type === 'boolean') return Boolean(value);
  if (option.type === 'number') {
    const number = Number(value);
    return Number.isFinite(number) ? Math.min(option.max, Math.max(option.min, number)) : option.initial;
  }
  if (option.type === 'choice' && !option.values.some(([v]) => v === value)) return option.initial;
  return option.type === 'text' ? String(value).slice(0, option.most) : String(value);
}
