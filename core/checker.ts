import Ajv, { type ValidateFunction } from 'ajv';
import { type Check, checkBy } from './shape.ts';

/*
 * Imported by files called `checks.ts` alone, which export checks and nothing else: the build puts compiled ones in their
 * place (scripts/compile-checks.ts), so that no page needs a compiler, or the leave to run code made of text.
 */

const ajv = new Ajv({
  discriminator: true,
  allowUnionTypes: true,
  strictTypes: false,
  code: { source: true, esm: true },
});

const shared = new Set<string>();

/** Schemas that others refer to by these names. */
export function share(schemas: Record<string, object>): void {
  for (const [key, schema] of Object.entries(schemas)) {
    if (shared.has(key)) continue;
    shared.add(key);
    ajv.addSchema(schema, key);
  }
}

/** The schema of an object with these properties and no others. */
export const object = (required: Record<string, object>, optional: Record<string, object> = {}) => ({
  type: 'object',
  required: Object.keys(required),
  properties: { ...required, ...optional },
  additionalProperties: false,
});

/** A check with what it is compiled from. */
export type Checker<T> = Check<T> & { schema: object; ajv: Ajv };

/** Makes a check of a JSON schema, or of the name of a shared one; it is compiled when it is first needed. */
export function checker<T>(schema: object | string): Checker<T> {
  const whole = typeof schema === 'string' ? { $ref: schema } : schema;
  let validate: ValidateFunction | null = null;
  return Object.assign(
    checkBy<T>(() => (validate ??= ajv.compile(whole))),
    { schema: whole, ajv },
  );
}
