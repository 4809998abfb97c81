import { MAX_COMMENT_CHARACTERS, MAX_NAME_CHARACTERS } from '../../sizes.ts';
import { MARKS } from '../../swatch/comment.ts';
import type { FileComment } from '../../swatch/comment-file.ts';
import type { Item, Library } from '../../swatch/model.ts';
import {
  askedSchema,
  bookSchema,
  colorSchema,
  conditionSchema,
  swatchSchema,
  textSchema,
} from '../../swatch/schema.ts';

/** 2 brought print condition, book and items, 3 harmony as an origin and gradients, 4 comments: a file without any is a 3. */
export const VERSION = 4;

/** A library as the file holds it: its ids are nobody else's business; items refer to swatches by their places, from 0. */
export type Bare = Omit<Library, 'id' | 'groups' | 'items'> & {
  items?: (Omit<Item, 'id' | 'refs'> & { refs?: number[] })[];
  comments?: FileComment[];
  groups: { name: string; swatches: Omit<Library['groups'][number]['swatches'][number], 'id'>[] }[];
};

const { id: _, ...properties } = swatchSchema.properties;
/** A schema with its references to others as a file of its own has them. */
const standing = (schema: object) =>
  JSON.parse(JSON.stringify(schema).replace(/"\$ref":"(\w+)"/g, '"$ref":"#/$defs/$1"'));

/** The JSON Schema of a `.papillon.json` file, published as docs/papillon.schema.json. */
export const fileSchema = {
  $schema: 'http://json-schema.org/draft-07/schema#',
  title: 'A Papillon library, version 4',
  type: 'object',
  required: ['papillon', 'library'],
  properties: {
    papillon: { enum: [1, 2, 3, VERSION] },
    library: {
      type: 'object',
      required: ['name', 'groups'],
      properties: {
        name: textSchema,
        note: textSchema,
        columns: { type: 'integer', minimum: 0, maximum: 65535 },
        condition: conditionSchema,
        book: bookSchema,
        items: {
          type: 'array',
          maxItems: 200_000,
          items: {
            type: 'object',
            required: ['kind', 'name', 'data'],
            properties: {
              kind: { type: 'string', minLength: 1, maxLength: 64 },
              name: textSchema,
              refs: { type: 'array', items: { type: 'integer', minimum: 0 } },
              data: {},
            },
            additionalProperties: false,
          },
        },
        comments: {
          type: 'array',
          maxItems: 200_000,
          items: {
            type: 'object',
            required: ['on', 'author', 'at', 'text'],
            properties: {
              on: { type: 'string', pattern: '^(swatch|item) [0-9]{1,6}$' },
              author: { type: 'string', maxLength: MAX_NAME_CHARACTERS },
              at: { type: 'string', pattern: '^[0-9]{4}-[0-9]{2}-[0-9]{2}T[0-9:.]+Z$' },
              text: { type: 'string', maxLength: MAX_COMMENT_CHARACTERS },
              answers: { type: 'integer', minimum: 0 },
              mark: { enum: [...MARKS] },
            },
            additionalProperties: false,
          },
        },
        groups: {
          type: 'array',
          items: {
            type: 'object',
            required: ['name', 'swatches'],
            properties: { name: textSchema, swatches: { type: 'array', items: { $ref: '#/$defs/swatch' } } },
            additionalProperties: false,
          },
        },
      },
      additionalProperties: false,
    },
  },
  additionalProperties: false,
  $defs: {
    color: colorSchema,
    asked: standing(askedSchema),
    swatch: { ...swatchSchema, required: ['name', 'kind', 'color'], properties: standing(properties) },
  },
};
