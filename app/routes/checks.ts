import { checker, object } from '#core/checker';
import type { BackupIntent } from '~/features/backups/intents';
import type { HomeIntent } from '~/features/libraries/intents';

const id = { type: 'string', minLength: 1, maxLength: 40, pattern: '^[\\w-]+$' };
const intent = (name: string, ...fields: string[]) =>
  object({ intent: { const: name }, ...Object.fromEntries(fields.map((f) => [f, id])) });

export const checkIntent = checker<HomeIntent>({
  oneOf: [
    object({ intent: { const: 'new' }, id, name: { type: 'string', minLength: 1, maxLength: 1000 } }),
    intent('duplicate', 'id', 'copy'),
    intent('delete', 'id'),
    intent('restore', 'id'),
  ],
});

export const checkBackupIntent = checker<BackupIntent>({
  oneOf: [
    object({ intent: { const: 'backup' } }),
    object({ intent: { const: 'restore' }, name: { type: 'string', minLength: 1, maxLength: 200 } }),
  ],
});
