/** A text that a swatch may carry beside its name. */
export interface TextField {
  /** As a field of a form calls it. */
  label: string;
  /** Several of them, in a sentence. */
  many: string;
  /** What is set with it, where a change is named by it. */
  verb?: string;
  /** Shown in an empty field, for one swatch and for several; a field of several is set for all of them. */
  hint?: { one: string; several: string };
  /** It is set for single swatches alone. */
  single?: true;
}

/**
 * The texts of a swatch, in the order in which they are shown: type, schema, forms, comparison with a file and the words for it
 * are made of these.
 */
export const TEXT_FIELDS = {
  role: {
    label: 'Role',
    many: 'roles',
    verb: 'set the role of',
    hint: { one: 'what it is for', several: 'sets the role of all' },
  },
  code: { label: 'Code', many: 'codes', single: true },
  note: { label: 'Note', many: 'notes', single: true },
} as const satisfies Record<string, TextField>;

export type TextFieldId = keyof typeof TEXT_FIELDS;

export const textFieldIds = Object.keys(TEXT_FIELDS) as TextFieldId[];
