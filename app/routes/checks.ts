import { checker } from '#core/checker';
import type { KitChoices } from '#core/formats/index';
import { COPY_SIDE } from '#core/picture/limits';
import type { Preset } from '#server/kits';
import type { HomeIntent } from '~/features/libraries/intents';

const object = (properties: Record<string, object>) => ({
  type: 'object',
  required: Object.keys(properties),
  properties,
  additionalProperties: false,
});

const id = { type: 'string', minLength: 1, maxLength: 40, pattern: '^[\\w-]+$' };
const intent = (name: string, ...fields: string[]) =>
  object({ intent: { const: name }, ...Object.fromEntries(fields.map((f) => [f, id])) });

export const checkIntent = checker<HomeIntent>({
  oneOf: [
    intent('new', 'id'),
    intent('duplicate', 'id', 'copy'),
    intent('delete', 'id'),
    intent('restore', 'id'),
  ],
});

/** An id that whoever asks has made. */
export const checkId = checker<string>({ ...id, minLength: 8 });

export const checkTrim = checker<{ upTo: number }>(object({ upTo: { type: 'integer', minimum: 1 } }));

export const checkKit = checker<{ revision: number; choices: KitChoices }>(
  object({ revision: { type: 'integer', minimum: 0 }, choices: { type: 'object' } }),
);

const name = { type: 'string', minLength: 1, maxLength: 200 };
export const checkPreset = checker<{ keep: Preset } | { forget: string }>({
  oneOf: [object({ keep: object({ name, destinations: { type: 'array' } }) }), object({ forget: name })],
});

const side = { type: 'integer', minimum: 1, maximum: COPY_SIDE };
export const checkPicture = checker<{ name: string; width: number; height: number; takes: unknown[] }>(
  object({ name: { type: 'string', maxLength: 1000 }, width: side, height: side, takes: { type: 'array' } }),
);
