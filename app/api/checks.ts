import { checker, object } from '#core/checker';
import type { KitChoices } from '#core/formats/index';
import { COPY_SIDE } from '#core/picture/limits';
import type { BookEdit } from '#server/books';
import type { LinkData } from '#server/links';
import { type Surround, surrounds } from '~/theme/tokens';
import type { BookMade, PresetChange } from './bodies';

const id = { type: 'string', minLength: 1, maxLength: 40, pattern: '^[\\w-]+$' };
/** An id that whoever asks has made. */
export const checkId = checker<string>({ ...id, minLength: 8 });

export const checkTrim = checker<{ upTo: number }>(object({ upTo: { type: 'integer', minimum: 1 } }));

export const checkKit = checker<{ revision: number; choices: KitChoices }>(
  object({ revision: { type: 'integer', minimum: 0 }, choices: { type: 'object' } }),
);

const name = { type: 'string', minLength: 1, maxLength: 200 };
export const checkPreset = checker<PresetChange>({
  oneOf: [object({ keep: object({ name, destinations: { type: 'array' } }) }), object({ forget: name })],
});

const side = { type: 'integer', minimum: 1, maximum: COPY_SIDE };
export const checkPicture = checker<{ name: string; width: number; height: number; takes: unknown[] }>(
  object({ name: { type: 'string', maxLength: 1000 }, width: side, height: side, takes: { type: 'array' } }),
);

const text = { type: 'string', maxLength: 100_000 };
export const checkBookEdit = checker<BookEdit>(
  object(
    {},
    {
      name: text,
      note: { anyOf: [{ type: 'null' }, text] },
      facts: object(
        {},
        Object.fromEntries(
          ['family', 'substrate', 'edition', 'measurement', 'prefix', 'suffix'].map((f) => [f, text]),
        ),
      ),
      names: {
        type: 'array',
        maxItems: 1000,
        items: object({ id: { type: 'string', minLength: 1, maxLength: 64 }, name: text }),
      },
    },
  ),
);

/** What a book or library is to be made of. */
export const checkMade = checker<BookMade>({
  oneOf: [
    object({ intent: { const: 'samples' } }),
    object({ intent: { const: 'book' }, library: id, id }),
    object({ intent: { const: 'library' }, book: id, id }),
    object({ intent: { const: 'delete' }, book: id }),
    object({ intent: { const: 'restore' }, book: id }),
  ],
});

export const checkSurround = checker<Surround>({ enum: Object.keys(surrounds) });

const time = { anyOf: [{ type: 'null' }, { type: 'integer', minimum: 0 }] };
const linkName = { type: 'string', maxLength: 200 };
const formatId = { type: 'string', maxLength: 40, pattern: '^[a-z0-9-]+$' };
const ids = { type: 'array', maxItems: 10_000, items: { type: 'string', minLength: 1, maxLength: 64 } };
/** What a link shows and allows. */
export const checkLink = checker<LinkData>({
  oneOf: [
    object({
      is: { const: 'page' },
      name: linkName,
      board: { anyOf: [{ type: 'null' }, { type: 'string', minLength: 1, maxLength: 64 }] },
      formats: { anyOf: [{ type: 'null' }, { type: 'array', maxItems: 100, items: formatId }] },
      expires: time,
    }),
    object({
      is: { const: 'file' },
      name: linkName,
      file: object({ format: formatId }, { options: { type: 'object' } }),
      groups: { anyOf: [{ type: 'null' }, ids] },
      cors: { type: 'boolean' },
      pinned: {
        anyOf: [
          { type: 'null' },
          object({ hash: { type: 'string', maxLength: 64 }, at: { type: 'integer', minimum: 0 } }),
        ],
      },
    }),
  ],
});
