import { INTENTS, SPACES, WHITES } from '../color/model.ts';
import { spaces } from '../color/spaces.ts';
import { CIRCLES, EXTRAS, MAX_BASES, WAYS_ALONG } from '../harmony/asked.ts';
import { type Op, ROW_KINDS, type RowKind } from './change.ts';
import { textFieldIds } from './fields.ts';
import { KINDS, ORIGINS, SPECIALS } from './model.ts';
import { ORDER_KEY } from './order-keys.ts';

const id = { type: 'string', minLength: 1, maxLength: 64 };
export const textSchema = { type: 'string', maxLength: 100_000 };

const hash = { type: 'string', pattern: '^[0-9a-f]{64}$' };

export const colorSchema = {
  type: 'object',
  required: ['space', 'components'],
  properties: {
    space: { enum: SPACES },
    components: { type: 'array', items: { type: 'number' } },
    profile: hash,
    white: { enum: WHITES },
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

const along = {
  type: 'object',
  required: ['by', 'amount', 'bend'],
  properties: {
    by: { enum: WAYS_ALONG },
    amount: { type: 'number', minimum: -1, maximum: 1 },
    bend: { type: 'number', minimum: 0.1, maximum: 10 },
  },
  additionalProperties: false,
};
const placedByKey = {
  type: 'object',
  maxProperties: 100,
  additionalProperties: { type: 'array', items: { type: 'number' }, minItems: 3, maxItems: 3 },
};
/** What a family of colors is asked for. */
export const askedSchema = {
  type: 'object',
  required: ['bases', 'rule', 'circle', 'lightness', 'chroma'],
  properties: {
    bases: {
      type: 'array',
      minItems: 1,
      maxItems: MAX_BASES,
      items: {
        type: 'object',
        required: ['color'],
        properties: { color: { $ref: 'color' }, name: textSchema },
        additionalProperties: false,
      },
    },
    rule: { type: 'string', maxLength: 64 },
    circle: { enum: CIRCLES },
    angle: { type: 'number', minimum: -360, maximum: 360 },
    count: { type: 'integer', minimum: 0, maximum: 24 },
    lightness: along,
    chroma: along,
    even: { type: 'boolean' },
    also: { type: 'array', items: { enum: EXTRAS }, maxItems: EXTRAS.length },
    inside: { type: 'string', maxLength: 64 },
    moved: placedByKey,
    held: placedByKey,
  },
  additionalProperties: false,
};

const origin = {
  type: 'object',
  required: ['from'],
  properties: {
    from: { enum: ORIGINS },
    name: textSchema,
    format: textSchema,
    book: id,
    code: textSchema,
    set: textSchema,
    point: { type: 'array', items: { type: 'number' }, minItems: 2, maxItems: 2 },
    family: { $ref: 'asked' },
    member: { type: 'string', maxLength: 64 },
  },
  additionalProperties: false,
};

/** A print condition as it is kept. */
export const conditionSchema = {
  type: 'object',
  required: ['profile', 'intent', 'inkLimit'],
  properties: {
    profile: hash,
    intent: { enum: INTENTS },
    // inks in percent: four of them, and no sheet takes less than one
    inkLimit: { type: 'number', minimum: 100, maximum: 400 },
  },
  additionalProperties: false,
};

const spectrumSchema = {
  type: 'object',
  required: ['start', 'step', 'values'],
  properties: {
    start: { type: 'number' },
    step: { type: 'number', exclusiveMinimum: 0 },
    values: { type: 'array', items: { type: 'number' }, maxItems: 1000 },
  },
  additionalProperties: false,
};

export const swatchSchema = {
  type: 'object',
  required: ['id', 'name', 'kind', 'color'],
  properties: {
    id,
    name: textSchema,
    ...Object.fromEntries(textFieldIds.map((field) => [field, textSchema])),
    kind: { enum: KINDS },
    global: { type: 'boolean' },
    color: { $ref: 'color' },
    alternates: { type: 'array', items: { $ref: 'color' } },
    alpha: { type: 'number', minimum: 0, maximum: 1 },
    spectrum: spectrumSchema,
    tint: {
      type: 'object',
      required: ['of', 'percent'],
      properties: { of: textSchema, percent: { type: 'number', minimum: 0, maximum: 100 } },
      additionalProperties: false,
    },
    recipe: {
      type: 'array',
      maxItems: 100,
      items: {
        type: 'object',
        required: ['of', 'parts'],
        properties: { of: textSchema, parts: { type: 'number', minimum: 0 } },
        additionalProperties: false,
      },
    },
    special: { enum: SPECIALS },
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

/** What makes a library a book. */
export const bookSchema = {
  type: 'object',
  properties: {
    ...Object.fromEntries(
      ['family', 'substrate', 'edition', 'measurement', 'prefix', 'suffix'].map((f) => [f, textSchema]),
    ),
    paper: {
      type: 'object',
      required: ['spectrum', 'spread', 'gain'],
      properties: {
        spectrum: spectrumSchema,
        spread: { type: 'number', minimum: 1, maximum: 10 },
        gain: { type: 'number', minimum: 0, maximum: 0.25 },
      },
      additionalProperties: false,
    },
    ownNames: { const: true },
  },
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
    condition: { $ref: 'condition' },
    book: bookSchema,
    groups: { type: 'array', items: { $ref: 'group' } },
    items: { type: 'array', items: { $ref: 'item' } },
  },
  additionalProperties: false,
};

const item = {
  type: 'object',
  required: ['id', 'kind', 'name', 'data'],
  properties: {
    id,
    kind: { type: 'string', minLength: 1, maxLength: 64 },
    name: textSchema,
    refs: { type: 'array', items: id },
    data: {},
  },
  additionalProperties: false,
};

// --- changes

const order = { type: 'string', maxLength: 200, pattern: ORDER_KEY };

/** A row's fields from the schema of the thing itself, which has no id here. */
function rowOf(schema: { required: string[]; properties: object }, more: Record<string, object>) {
  const { id: _, ...properties } = schema.properties as Record<string, object>;
  return {
    required: [...schema.required.filter((f) => f !== 'id'), ...Object.keys(more)],
    properties: { ...properties, ...more },
  };
}
// what makes a book of a library is not changed by an edit of it
const { groups: _, items: __, book: ___, ...libraryProperties } = library.properties;
const rowSchemas: Record<RowKind, { required: string[]; properties: Record<string, object> }> = {
  library: rowOf({ required: ['name'], properties: libraryProperties }, {}),
  group: rowOf({ required: ['name'], properties: { name: textSchema } }, { order }),
  swatch: rowOf(swatchSchema, { group: id, order }),
  item: rowOf(item, { order }),
};

const opOf = (op: Op['op'], of: RowKind, fields?: object) => ({
  type: 'object',
  required: ['op', 'of', 'id', ...(fields ? ['fields'] : [])],
  properties: { op: { const: op }, of: { const: of }, id, ...(fields ? { fields } : {}) },
  additionalProperties: false,
});

/** Changing the library's own row is all that can be done to it. */
const opsOf = (of: RowKind): object => {
  const { required, properties } = rowSchemas[of];
  const optional = Object.fromEntries(
    Object.entries(properties).map(([field, schema]) => [
      field,
      required.includes(field) ? schema : { anyOf: [{ type: 'null' }, schema] },
    ]),
  );
  const setting = opOf('set', of, { type: 'object', properties: optional, additionalProperties: false });
  if (of === 'library') return setting;
  return {
    type: 'object',
    required: ['op', 'of'],
    properties: { of: { const: of } },
    discriminator: { propertyName: 'op' },
    oneOf: [
      opOf('put', of, { type: 'object', required, properties, additionalProperties: false }),
      setting,
      opOf('drop', of),
    ],
  };
};

const op = {
  type: 'object',
  required: ['of'],
  discriminator: { propertyName: 'of' },
  oneOf: ROW_KINDS.map(opsOf),
};

const changeId = { type: 'string', minLength: 8, maxLength: 40, pattern: '^[\\w-]+$' };
const authorSchema = { type: 'string', maxLength: 40, pattern: '^[\\w-]*$' };
const change = {
  type: 'object',
  required: ['id', 'by', 'label', 'ops'],
  properties: {
    id: changeId,
    by: authorSchema,
    label: { type: 'string', maxLength: 100_200 },
    ops: { type: 'array', items: { $ref: 'op' } },
    undoes: changeId,
  },
  additionalProperties: false,
};

/** What page and server say to each other about one library. */
const sent = {
  type: 'object',
  required: ['by', 'seen', 'changes'],
  properties: {
    by: authorSchema,
    seen: { type: 'integer', minimum: 0 },
    epoch: { type: 'string', maxLength: 64 },
    changes: { type: 'array', minItems: 1, maxItems: 200, items: { $ref: 'change' } },
  },
  additionalProperties: false,
};

const steps = {
  type: 'array',
  items: {
    type: 'object',
    required: ['id', 'label'],
    properties: { id: { type: 'string' }, label: { type: 'string' }, of: { type: 'string' } },
  },
};
const newsProperties = {
  epoch: { type: 'string' },
  seq: { type: 'integer', minimum: 0 },
  changes: {
    type: ['array', 'null'],
    items: {
      type: 'object',
      required: ['seq', 'id', 'by', 'label'],
      properties: {
        seq: { type: 'integer' },
        id: { type: 'string' },
        ops: { type: 'array', items: { type: 'object' } },
      },
    },
  },
  steps: { type: 'object', required: ['undo', 'redo'], properties: { undo: steps, redo: steps } },
};
const news = { type: 'object', required: Object.keys(newsProperties), properties: newsProperties };
const reply = {
  type: 'object',
  required: ['outcomes', ...news.required],
  properties: {
    ...newsProperties,
    outcomes: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id', 'seq', 'said'],
        properties: {
          id: { type: 'string' },
          seq: { type: ['integer', 'null'] },
          said: { type: 'array', items: { type: 'string' } },
        },
      },
    },
  },
};

/** By the names under which they refer to each other. */
export const schemas = {
  color: colorSchema,
  condition: conditionSchema,
  asked: askedSchema,
  swatch: swatchSchema,
  group,
  item,
  library,
  op,
  change,
  sent,
  news,
  reply,
};
