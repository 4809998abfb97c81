import { checker, object, share } from '../checker.ts';
import { schemas } from '../swatch/schema.ts';
import { DEGREES } from './correct.ts';
import { MAX_PALETTE_COLORS } from './reduce.ts';
import { SAMPLE_SIZES } from './sample.ts';
import { METHODS, type Take } from './take.ts';

share({ color: schemas.color });

const number = { type: 'number' };
const fraction = { type: 'number', minimum: 0, maximum: 1 };
const text = { type: 'string', maxLength: 1000 };
const orNull = (schema: object) => ({ anyOf: [{ type: 'null' }, schema] });
const list = (items: object, maxItems: number) => ({ type: 'array', items, maxItems });
const held = object({ name: text, color: { $ref: 'color' } });
const paletteColor = object(
  {
    color: { $ref: 'color' },
    rgb: { type: 'array', items: { type: 'integer', minimum: 0, maximum: 255 }, minItems: 3, maxItems: 3 },
    share: { type: 'number', minimum: 0 },
    first: { type: 'integer', minimum: 0 },
  },
  { held: { type: 'boolean' } },
);
const point = { type: 'array', items: number, minItems: 2, maxItems: 2 };

const correction = object({
  reference: text,
  degree: { enum: DEGREES },
  matrix: { type: 'array', items: number, minItems: 9, maxItems: 66 },
  mean: number,
  p95: number,
  max: number,
  ...Object.fromEntries(['patches', 'clipped', 'shadowed'].map((k) => [k, { type: 'integer', minimum: 0 }])),
});

const takeSchema = object({
  id: { type: 'string', minLength: 1, maxLength: 64 },
  name: text,
  recipe: object(
    {
      method: { enum: METHODS },
      count: { type: 'integer', minimum: 1, maximum: MAX_PALETTE_COLORS },
      accent: fraction,
      held: list(held, MAX_PALETTE_COLORS),
      cell: { type: 'integer', minimum: 1 },
      region: orNull(object({ outline: list(point, 20_000), outside: { type: 'boolean' } })),
      keepBackground: { type: 'boolean' },
      sampleSize: { enum: SAMPLE_SIZES },
      points: list(paletteColor, 5000),
      grid: orNull(
        object({
          rows: { type: 'integer', minimum: 1 },
          columns: { type: 'integer', minimum: 1 },
          angle: number,
          left: number,
          top: number,
          right: number,
          bottom: number,
          gapX: number,
          gapY: number,
          empty: { type: 'integer', minimum: 0 },
        }),
      ),
      threshold: { type: 'number', minimum: 0, maximum: 100 },
      order: { enum: ['share', 'lightness', 'hue', 'appearance', 'smooth'] },
      amendments: list(
        {
          anyOf: [
            object({ remove: text }),
            object({ left: text, right: text, keep: { enum: ['left', 'right', 'mean'] } }),
          ],
        },
        5000,
      ),
    },
    { correction },
  ),
  colors: list(paletteColor, 5000),
  mean: orNull(number),
  names: list(held, 5000),
  suggest: { type: 'boolean' },
});

export const checkTakes = checker<Take[]>(list(takeSchema, 500));
