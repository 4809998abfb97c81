/** Data from outside that does not have the shape it should; the message says where and why. */
export class ShapeError extends Error {
  override name = 'ShapeError';
}

/** A check for data at a boundary: gives back the data as its type. @throws ShapeError */
export type Check<T> = (data: unknown) => T;

/** What Ajv makes of a schema. */
interface Validate {
  (data: unknown): unknown;
  errors?: { instancePath: string; message?: string }[] | null;
}

/** Makes a check of a compiled schema. */
export function checkBy<T>(compiled: () => Validate): Check<T> {
  return (data) => {
    const validate = compiled();
    if (validate(data)) return data as T;
    const [first] = validate.errors ?? [];
    throw new ShapeError(`${first?.instancePath || 'The data'} ${first?.message ?? 'has the wrong shape'}.`);
  };
}

/**
 * Characters of a text, as JSON Schema counts them; for schemas that were compiled beforehand.
 *
 * @public called by compiled checks
 */
export function lengthOf(text: string): number {
  let length = text.length;
  for (let i = 0; i + 1 < text.length; i++)
    if ((text.charCodeAt(i) & 0xfc00) === 0xd800 && (text.charCodeAt(i + 1) & 0xfc00) === 0xdc00) {
      length--;
      i++;
    }
  return length;
}
