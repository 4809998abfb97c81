import { checker, object } from '#core/checker';
import type { KitChoices } from '#core/formats/index';
import { LEVELS } from '#core/level';
import { COPY_SIDE } from '#core/picture/limits';
import { MAX_COMMENT_CHARACTERS, MAX_NAME_CHARACTERS } from '#core/sizes';
import { MARKS } from '#core/swatch/index';
import type { BookEdit } from '#server/books';
import type { SharedComment, SharedPick } from '#server/comments';
import type { LinkData } from '#server/links';
import { type Surround, surrounds } from '~/theme/tokens';
import type { BookMade, Pointed, PresetChange, Seen } from './bodies';

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
      access: { enum: [...LEVELS] },
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

/** Something with a letter in it that is seen: no control characters, and none that turn the text around. */
const personName = {
  type: 'string',
  maxLength: MAX_NAME_CHARACTERS,
  pattern: '^(?=.*\\S)[^\\u0000-\\u001f\\u007f-\\u009f\\u200e\\u200f\\u202a-\\u202e\\u2066-\\u2069]+$',
};
export const checkName = checker<{ name: string }>(object({ name: personName }));

const nullable = (schema: object) => ({ anyOf: [{ type: 'null' }, schema] });
export const checkComment = checker<SharedComment>(
  object({
    id: { ...id, minLength: 8, maxLength: 20 },
    on: { type: 'string', minLength: 1, maxLength: 64 },
    text: { type: 'string', maxLength: MAX_COMMENT_CHARACTERS },
    thread: nullable({ type: 'string', minLength: 1, maxLength: 64 }),
    mark: nullable({ enum: [...MARKS] }),
  }),
);

export const checkPointed = checker<Pointed>(
  object({
    page: { ...id, minLength: 8 },
    selection: { type: 'array', maxItems: 200, items: { type: 'string', minLength: 1, maxLength: 64 } },
  }),
);

export const checkSeen = checker<Seen>(
  object({ by: { ...id, minLength: 8 }, seq: { type: 'integer', minimum: 0 } }),
);

const anyId = { type: 'string', minLength: 1, maxLength: 64 };
export const checkPick = checker<SharedPick>(
  object({
    id: { ...id, minLength: 8, maxLength: 20 },
    choice: anyId,
    option: anyId,
    text: { type: 'string', maxLength: MAX_COMMENT_CHARACTERS },
  }),
);
