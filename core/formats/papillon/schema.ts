import type { Library } from '../../swatch/model.ts';
import { colorSchema, conditionSchema, swatchSchema, textSchema } from '../../swatch/schema.ts';

export const VERSION = 1;

/** A library as the file holds it: its ids are nobody else's business. */
export type Bare = Omit<Library, 'id' | 'groups'> & {
  groups: { name: string; swatches: Omit<Library['groups'][number]['swatches'][number], 'id'>[] }[];
};

const { id: _, ...properties } = swatchSchema.properties;
const within = JSON.parse(JSON.stringify(properties).replaceAll('"$ref":"color"', '"$ref":"#/$defs/color"'));

/** The JSON Schema of a `.papillon.json` file, published as docs/papillon.schema.json. */
export const fileSchema = {
  $schema: 'http://json-schema.org/draft-07/schema#',
  title: 'A Papillon library, version 1',
  type: 'object',
  required: ['papillon', 'library'],
  properties: {
    papillon: { const: VERSION },
    library: {
      type: 'object',
      required: ['name', 'groups'],
      properties: {
        name: textSchema,
        note: textSchema,
        columns: { type: 'integer', minimum: 0, maximum: 65535 },
        condition: conditionSchema,
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
    swatch: { ...swatchSchema, required: ['name', 'kind', 'color'], properties: within },
  },
};
