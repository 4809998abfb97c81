import { checker } from '#core/checker';
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
