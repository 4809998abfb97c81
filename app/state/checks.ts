import { checker, share } from '#core/checker';
import { INTERPOLATIONS } from '#core/color/index';
import { askedSchema, colorSchema, swatchSchema } from '#core/swatch/schema';
import { CONES, EVEN, LIGHT_NAMES } from '#core/tune/index';
import { BOOK_VIEWS, type KeptBooks } from './books';
import type { Kept } from './codes';
import { HARMONY_VIEWS, type KeptHarmony } from './harmony';
import { MAX_NAMED, type Tunings } from './tunings';

share({ color: colorSchema, asked: askedSchema, swatch: swatchSchema });

const text = { type: 'string', maxLength: 1_000_000 };
export const checkKept = checker<Kept>({
  type: 'object',
  required: ['lines', 'answers', 'suggest', 'once'],
  properties: {
    lines: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id', 'text', 'own'],
        properties: { id: text, text, own: { type: 'object', additionalProperties: text } },
      },
    },
    answers: { type: 'object', additionalProperties: text },
    suggest: { type: 'boolean' },
    once: { type: 'boolean' },
  },
});

export const checkKeptBooks = checker<KeptBooks>({
  type: 'object',
  required: ['book', 'view', 'at'],
  properties: {
    book: { type: ['string', 'null'], maxLength: 64 },
    view: { enum: BOOK_VIEWS },
    at: { type: 'object', additionalProperties: { type: 'string', maxLength: 64 } },
  },
  additionalProperties: false,
});

export const checkKeptHarmony = checker<KeptHarmony>({
  type: 'object',
  required: ['view', 'scale', 'takes', 'current', 'drag'],
  properties: {
    view: { enum: HARMONY_VIEWS },
    scale: {
      type: 'object',
      required: ['through', 'steps', 'way', 'even', 'pattern', 'ground', 'ratios'],
      properties: {
        through: {
          type: 'array',
          maxItems: 24,
          items: {
            type: 'object',
            required: ['color'],
            properties: { color: { $ref: 'color' }, name: text, ink: { $ref: 'swatch' } },
            additionalProperties: false,
          },
        },
        steps: { type: 'integer', minimum: 3, maximum: 24 },
        way: { enum: INTERPOLATIONS },
        even: { enum: ['way', 'lightness', 'difference'] },
        pattern: { type: 'string', maxLength: 200 },
        ground: { $ref: 'color' },
        ratios: {
          type: 'array',
          minItems: 1,
          maxItems: 24,
          items: { type: 'number', minimum: 1, maximum: 21 },
        },
      },
      additionalProperties: false,
    },
    takes: {
      type: 'array',
      maxItems: 1000,
      items: {
        type: 'object',
        required: ['id', 'asked', 'inside', 'areas'],
        properties: {
          id: { type: 'string', maxLength: 64 },
          name: { type: 'string', maxLength: 1000 },
          asked: { $ref: 'asked' },
          inside: { type: 'string', maxLength: 64 },
          areas: { type: 'object', additionalProperties: { type: 'number', minimum: 0, maximum: 1 } },
        },
        additionalProperties: false,
      },
    },
    current: { type: ['string', 'null'], maxLength: 64 },
    drag: { enum: ['turn', 'bend'] },
  },
  additionalProperties: false,
});

const within = (minimum: number, maximum: number) => ({ type: 'number', minimum, maximum });
const share100 = within(0, 100);
const triple = { type: 'array', minItems: 3, maxItems: 3, items: within(-10, 10) };
const tuning = {
  type: 'object',
  properties: {
    relight: {
      type: 'object',
      required: ['from', 'to'],
      properties: {
        from: { enum: LIGHT_NAMES },
        to: { enum: LIGHT_NAMES },
        cones: { enum: Object.keys(CONES) },
      },
      additionalProperties: false,
    },
    match: {
      type: 'object',
      required: ['spread', 'percent'],
      properties: {
        spread: {
          type: 'object',
          required: ['mean', 'deviation'],
          properties: { mean: triple, deviation: triple },
          additionalProperties: false,
        },
        percent: share100,
      },
      additionalProperties: false,
    },
    even: {
      type: 'object',
      properties: Object.fromEntries(EVEN.map((e) => [e, share100])),
      additionalProperties: false,
    },
    lightness: within(-100, 100),
    chroma: within(0, 100),
    hue: within(-360, 360),
    warmth: within(-100, 100),
    blend: {
      type: 'object',
      required: ['toward', 'percent'],
      properties: { toward: { $ref: 'color' }, percent: share100 },
      additionalProperties: false,
    },
    reverse: { type: 'boolean' },
  },
  additionalProperties: false,
};
export const checkTunings = checker<Tunings>({
  type: 'object',
  required: ['named', 'last'],
  properties: {
    named: {
      type: 'array',
      maxItems: MAX_NAMED,
      items: {
        type: 'object',
        required: ['name', 'tuning'],
        properties: { name: { type: 'string', maxLength: 200 }, tuning },
        additionalProperties: false,
      },
    },
    last: { anyOf: [{ type: 'null' }, tuning] },
  },
  additionalProperties: false,
});
