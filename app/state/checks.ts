import { checker, share } from '#core/checker';
import { INTERPOLATIONS } from '#core/color/index';
import { factIds, MAX_STEPS } from '#core/swatch/reading';
import { askedSchema, colorSchema, swatchSchema } from '#core/swatch/schema';
import { CONES, EVEN, LIGHT_NAMES } from '#core/tune/index';
import { BOOK_VIEWS, type KeptBooks } from './books';
import type { Kept } from './codes';
import { HARMONY_VIEWS, type KeptHarmony } from './harmony';
import { MAX_READINGS, type Readings } from './readings';
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

const line = { type: 'string', maxLength: 1000 };
const lines = (names: readonly string[]) => ({
  type: 'object',
  properties: Object.fromEntries(names.map((n) => [n, line])),
  additionalProperties: false,
});
const spectrum = {
  type: 'object',
  required: ['start', 'step', 'values'],
  properties: {
    start: within(200, 1000),
    step: within(0.1, 200),
    values: { type: 'array', minItems: 2, maxItems: 1000, items: within(-1, 5) },
  },
  additionalProperties: false,
};
export const checkReadings = checker<Readings>({
  type: 'object',
  required: ['inks', 'current'],
  properties: {
    inks: {
      type: 'array',
      maxItems: MAX_READINGS,
      items: {
        type: 'object',
        required: ['id', 'ink', 'facts', 'from'],
        properties: {
          id: { type: 'string', maxLength: 64 },
          ink: {
            type: 'object',
            required: ['name', 'conditions', 'steps'],
            properties: {
              name: line,
              conditions: lines(factIds),
              steps: {
                type: 'array',
                minItems: 1,
                maxItems: MAX_STEPS,
                items: {
                  type: 'object',
                  required: ['percent', 'backing', 'spectrum', 'name'],
                  properties: {
                    percent: share100,
                    backing: { enum: ['white', 'black'] },
                    spectrum,
                    name: line,
                  },
                  additionalProperties: false,
                },
              },
            },
            additionalProperties: false,
          },
          facts: lines(factIds),
          from: line,
        },
        additionalProperties: false,
      },
    },
    current: { type: ['string', 'null'], maxLength: 64 },
  },
  additionalProperties: false,
});
