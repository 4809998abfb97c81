import type { Item, Library } from '../../swatch/model.ts';
import {
  askedSchema,
  bookSchema,
  colorSchema,
  conditionSchema,
  swatchSchema,
  textSchema,
} from '../../swatch/schema.ts';

/** 2 brought print condition, book and items, 3 harmony as an origin and gradients. */
export const VERSION = 3;

/** A library as the file holds it: its ids are nobody else's business; items refer to swatches by their places, from 0. */
export type Bare = Omit<Library, 'id' | 'groups' | 'items'> & {
  items?: (Omit<Item, 'id' | 'refs'> & { refs?: number[] })[];
  groups: { name: string; swatches: Omit<Library['groups'][number]['swatches'][number], 'id'>[] }[];
};

const { id: _, ...properties } = swatchSchema.properties;
/** A schema with its references to others as a file of its own has them. */
const standing = (schema: object) =>
  JSON.parse(JSON.stringify(schema).replace(/"\$ref":"(\w+)"/g, '"$ref":"#/$defs/$1"'));

/** The JSON Schema of a `.papillon.json` file, published as docs/papillon.schema.json. */
export const fileSchema = {
  $schema: 'http://json-schema.org/draft-07/schema#',
  title: 'A Papillon library, version 3',
  type: 'object',
  required: ['papillon', 'library'],
  properties: {
    papillon: { enum: [1, 2, VERSION] },
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
