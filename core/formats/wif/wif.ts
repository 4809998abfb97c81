import { FormatError } from '../../text/error.ts';
import { beginningOf, linesOf } from '../../text/text.ts';
import { textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

// Weaving Information File 1.1, as published in 1997: sections of keys and values; [COLOR TABLE] numbers colours, whose parts
// go over the range that [COLOR PALETTE] states.

/** Longer than any key with its values. */
const MAX_LINE_CHARACTERS = 1000;

export const wif: PlainFormat = {
  id: 'wif',
  name: 'WIF',
  about: 'Colour table of a weaving draft. It is only read: RGB by number.',
  endings: ['wif'],
  mime: 'text/plain',
  traits: {
    ...{
      read: true,
      write: false,
      names: false,
      groups: false,
      kinds: ['process'],
      spaces: ['rgb'],
      bits: 16,
    },
  },

  recognise(bytes) {
    const text = beginningOf(bytes, 8192);
    if (!text?.includes('[')) return 0;
    const first = text
      .split(/[\r\n]+/, 100)
      .find((line) => line.trim() !== '' && !line.trimStart().startsWith(';'));
    return first && /^\[WIF\]/i.test(first.trim()) ? 1 : 0;
  },

  decode: textDecoder((text, draft) => {
    let section = '';
    let range: [number, number] | null = null;
    const rows: { line: number; number: string; values: string }[] = [];
    let n = 0;
    for (const given of linesOf(text)) {
      n++;
      draft.step();
      const line = given.slice(0, MAX_LINE_CHARACTERS).trim();
      const head = /^\[([^\]]{1,60})\]/.exec(line);
      if (head) section = head[1]!.trim().toUpperCase();
      const [, key, value] = /^([^=;]{1,60})=([^;]*)/.exec(line) ?? [];
      if (key === undefined || value === undefined) continue;
      const called = key.trim();
      if (section === 'TEXT' && /^title$/i.test(called)) draft.name = value.trim();
      else if (section === 'COLOR PALETTE' && /^range$/i.test(called)) {
        const [low = Number.NaN, high = Number.NaN] = value.split(',').map(Number);
        if (high > low) range = [low, high];
      } else if (section === 'COLOR TABLE') rows.push({ line: n, number: called, values: value });
    }
    if (rows.length === 0) throw new FormatError('it has no colour table.');
    const [low, high] = range ?? [0, 255];
    if (!range) draft.warn('It does not say over which range its colours go; 0 to 255 was taken.');
    for (const { line, number, values } of rows)
      draft.attempt(() => {
        const parts = values.split(',').map((v) => (v.trim() === '' ? Number.NaN : Number(v)));
        if (parts.length !== 3 || !parts.every((v) => v >= low && v <= high))
          throw new FormatError(
            `line ${line} (“${values.trim().slice(0, 40)}”) is not a colour: three numbers from ${low} to ${high} should stand there.`,
          );
        draft.add({
          name: number,
          color: { space: 'rgb', components: parts.map((v) => (v - low) / (high - low)) },
        });
      });
  }),

  encode() {
    throw new Error('WIF is only read.');
  },
};
