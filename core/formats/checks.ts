import { checker, object } from '../checker.ts';
import { destinations } from './destinations.ts';
import type { KitChoices } from './plan.ts';
import { writable } from './registry.ts';

const textId = { type: 'string', minLength: 1, maxLength: 64 };

export const checkKitChoices = checker<KitChoices>({
  type: 'object',
  required: ['scope', 'destinations'],
  additionalProperties: false,
  properties: {
    artwork: { type: 'boolean' },
    boards: { type: 'boolean' },
    scope: {
      type: 'object',
      required: ['what'],
      additionalProperties: false,
      properties: {
        what: { enum: ['library', 'groups', 'swatches'] },
        ids: { type: 'array', items: textId, maxItems: 1_000_000 },
      },
      if: { properties: { what: { const: 'library' } } },
      else: { required: ['ids'] },
    },
    destinations: {
      type: 'array',
      maxItems: 100,
      items: {
        type: 'object',
        required: ['id', 'files'],
        additionalProperties: false,
        properties: {
          id: { enum: destinations.map((d) => d.id) },
          files: {
            type: 'array',
            maxItems: 100,
            items: {
              type: 'object',
              required: ['format'],
              additionalProperties: false,
              properties: {
                format: { enum: writable.map((f) => f.id) },
                perGroup: { type: 'boolean' },
                options: {
                  type: 'object',
                  additionalProperties: { type: ['number', 'boolean', 'string'], maxLength: 200 },
                },
              },
            },
          },
        },
      },
    },
  },
});

export interface Manifest {
  library: string;
  revision: number;
  takenAt: string;
  swatches: number;
  files: { path: string; format?: string; swatches?: number; bytes: number; sha256: string }[];
}

const amount = { type: 'integer', minimum: 0 };

/** What a kit says of its files. */
export const checkManifest = checker<Manifest>(
  object({
    library: { type: 'string', maxLength: 1000 },
    revision: amount,
    takenAt: { type: 'string', maxLength: 64 },
    swatches: amount,
    files: {
      type: 'array',
      maxItems: 5000,
      items: object(
        {
          path: { type: 'string', maxLength: 1000 },
          bytes: amount,
          sha256: { type: 'string', pattern: '^[0-9a-f]{64}$' },
        },
        { format: textId, swatches: amount },
      ),
    },
  }),
);
