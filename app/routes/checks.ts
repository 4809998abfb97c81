import { checker, object } from '#core/checker';
import type { BackupIntent } from '~/features/backups/intents';
import type { HomeIntent } from '~/features/libraries/intents';

const id = { type: 'string', minLength: 1, maxLength: 40, pattern: '^[\\w-]+$' };
const intent = (name: string, ...fields: string[]) =>
  object({ intent: { const: name }, ...Object.fromEntries(fields.map((f) => [f, id])) });

const shelf = { type: 'string', minLength: 1, maxLength: 200 };
const shelves = { type: 'array', maxItems: 1000, items: shelf };
const on = { type: 'boolean' };
const some = (name: string, more = {}) =>
  object({
    intent: { const: name },
    ids: { type: 'array', minItems: 1, maxItems: 10_000, items: id },
    ...more,
  });

export const checkIntent = checker<HomeIntent>({
  oneOf: [
    object({ intent: { const: 'new' }, id, name: { type: 'string', minLength: 1, maxLength: 1000 } }),
    intent('duplicate', 'id', 'copy'),
    some('delete'),
    some('restore'),
    some('remove'),
    some('archive', { on }),
    some('shelve', { on: shelves, off: shelves }),
    object({ intent: { const: 'rename shelf' }, shelf }, { name: shelf }),
  ],
});

export const checkBackupIntent = checker<BackupIntent>({
  oneOf: [
    object({ intent: { const: 'backup' } }),
    object({ intent: { const: 'restore' }, name: { type: 'string', minLength: 1, maxLength: 200 } }),
  ],
});
