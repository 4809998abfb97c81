import { checker } from '#core/checker';
import { BOOK_VIEWS, type KeptBooks } from './books';
import type { Kept } from './codes';

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
