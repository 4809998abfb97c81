import Ajv, { type ValidateFunction } from 'ajv';
import { SPACES } from '../color/model.ts';
import { spaces } from '../color/spaces.ts';
import type { Edit } from './edits.ts';
import { KINDS, type Library } from './model.ts';

const id = { type: 'string', minLength: 1, maxLength: 64 };
export const textSchema = { type: 'string', maxLength: 100_000 };
const index = { type: 'integer', minimum: 0, maximum: 1_000_000 };

export const colorSchema = {
  type: 'object',
  required: ['space', 'components'],
  properties: {
    space: { enum: SPACES },
    components: { type: 'array', items: { type: 'number' } },
    profile: textSchema,
  },
  additionalProperties: false,
  // each space has its own number of components
  oneOf: SPACES.map((space) => ({
    properties: {
      space: { const: space },
      components: { minItems: spaces[space].channels.length, maxItems: spaces[space].channels.length },
    },
  })),
};

const origin = {
  type: 'object',
  required: ['from'],
  properties: {
    from: { enum: ['picture', 'file', 'typed'] },
    name: textSchema,
    format: textSchema,
    point: { type: 'array', items: { type: 'number' }, minItems: 2, maxItems: 2 },
  },
  additionalProperties: false,
};

export const swatchSchema = {
  type: 'object',
  required: ['id', 'name', 'kind', 'color'],
  properties: {
    id,
    name: textSchema,
    code: textSchema,
    kind: { enum: KINDS },
    global: { type: 'boolean' },
    color: { $ref: 'color' },
    alternates: { type: 'array', items: { $ref: 'color' } },
    alpha: { type: 'number', minimum: 0, maximum: 1 },
    role: textSchema,
    note: textSchema,
    spectrum: {
      type: 'object',
      required: ['start', 'step', 'values'],
      properties: {
        start: { type: 'number' },
        step: { type: 'number', exclusiveMinimum: 0 },
        values: { type: 'array', items: { type: 'number' }, maxItems: 1000 },
      },
      additionalProperties: false,
    },
    gap: { type: 'integer', minimum: 0, maximum: 1000 },
    origin,
  },
  additionalProperties: false,
};

const group = {
  type: 'object',
  required: ['id', 'name', 'swatches'],
  properties: { id, name: textSchema, swatches: { type: 'array', items: { $ref: 'swatch' } } },
  additionalProperties: false,
};

const library = {
  type: 'object',
  required: ['id', 'name', 'groups'],
  properties: {
    id,
    name: textSchema,
    note: textSchema,
    columns: { type: 'integer', minimum: 0, maximum: 65535 },
    groups: { type: 'array', items: { $ref: 'group' } },
  },
  additionalProperties: false,
};

const nullable = { type: ['string', 'null'], maxLength: 100_000 };

function editOf(type: Edit['type'], properties: Record<string, unknown>) {
  return {
    type: 'object',
    required: ['type', ...Object.keys(properties)],
    properties: { type: { const: type }, ...properties },
    additionalProperties: false,
  };
}

const listOf = (properties: Record<string, unknown>) => ({
  type: 'array',
  items: {
    type: 'object',
    required: Object.keys(properties),
    properties,
    additionalProperties: false,
  },
});

const edit = {
  type: 'object',
  required: ['type'],
  discriminator: { propertyName: 'type' },
  oneOf: [
    editOf('add', { placements: listOf({ swatch: { $ref: 'swatch' }, group: id, index }) }),
    editOf('remove', { ids: { type: 'array', items: id } }),
    editOf('move', { positions: listOf({ id, group: id, index }) }),
    editOf('change', {
      changes: listOf({
        id,
        set: {
          type: 'object',
          properties: {
            name: textSchema,
            color: { $ref: 'color' },
            kind: { enum: KINDS },
            role: nullable,
            code: nullable,
            note: nullable,
          },
          additionalProperties: false,
        },
      }),
    }),
    editOf('addGroup', { group: { $ref: 'group' }, index }),
    editOf('removeGroup', { id }),
    editOf('renameGroup', { id, name: textSchema }),
    editOf('moveGroup', { id, index }),
    editOf('renameLibrary', { name: textSchema }),
    editOf('sequence', { edits: { type: 'array', items: { $ref: 'edit' } } }),
  ],
};

const ajv = new Ajv({ discriminator: true, allowUnionTypes: true, strictTypes: false });
for (const [key, schema] of Object.entries({
  color: colorSchema,
  swatch: swatchSchema,
  group,
  library,
  edit,
}))
  ajv.addSchema(schema, key);

/** Data from outside that does not have the shape it should; the message says where and why. */
export class ShapeError extends Error {
  override name = 'ShapeError';
}

/** Makes a check for data at a boundary: it returns the data as its type, or throws. */
export function checker<T>(schema: object | string): (data: unknown) => T {
  const validate = (
    typeof schema === 'string' ? ajv.getSchema(schema) : ajv.compile(schema)
  ) as ValidateFunction<T>;
  return (data) => {
    if (validate(data)) return data;
    const [first] = validate.errors ?? [];
    throw new ShapeError(`${first?.instancePath || 'The data'} ${first?.message ?? 'has the wrong shape'}.`);
  };
}

/** @throws ShapeError */
export const checkEdit = checker<Edit>('edit');
/** @throws ShapeError */
export const checkLibrary = checker<Library>('library');
