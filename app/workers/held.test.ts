import { expect, it } from 'vitest';
import { libraryOf } from '#core/testing';
import type { Piece } from '~/messages/pieces';
import { Held, LibrarySender } from './held';

const large = (n: number, name = 'Large') =>
  libraryOf(name, { '': Array.from({ length: n }, (_, i) => [`Rope ${i}`, '#14304a']) });

/** A worker's side and a page's, with what was sent between them. */
function pair() {
  const held = new Held();
  const sent: string[] = [];
  const context = { stage: () => undefined, breathe: async () => undefined };
  const sender = new LibrarySender(
    async (piece: Piece) => {
      sent.push(`hold ${piece.at}`);
      return held.answers.hold(structuredClone(piece), context);
    },
    async ({ at }) => void sent.push(`release ${at}`),
  );
  return { held, sent, sender };
}
const always = () => true;

it('a library is sent once, in pieces, and arrives whole', async () => {
  const { held, sent, sender } = pair();
  const library = large(2500);
  expect(await sender.send(library, null, always)).toBe(true);
  expect(sent).toEqual(['hold 0', 'hold 1', 'hold 2', 'hold 3']);
  expect(held.whole).toEqual(library);
  expect(await sender.send(library, null, always)).toBe(true);
  expect(sent.length).toBe(4);
});

it('a smaller one takes its place, and the pieces left over are forgotten', async () => {
  const { held, sent, sender } = pair();
  await sender.send(large(2500), null, always);
  const [small, beside] = [large(3, 'Small'), large(2, 'Beside')];
  await sender.send(small, beside, always);
  expect([held.whole, held.against]).toEqual([small, beside]);
  expect(sent.slice(4)).toEqual(['hold 0', 'hold 1', 'hold 2', 'release 3']);
});

it('one that is no longer wanted halfway is not taken for held', async () => {
  const { held, sent, sender } = pair();
  const library = large(2500);
  let left = 2;
  expect(await sender.send(library, null, () => --left > 0)).toBe(false);
  expect(sender.has(library, null)).toBe(false);
  expect(await sender.send(library, null, always)).toBe(true);
  expect(held.whole).toEqual(library);
  expect(sent.filter((s) => s === 'hold 0').length).toBe(2);
});

it('without a library there is an error in words', () => {
  expect(() => pair().held.whole).toThrow(/has not arrived yet/);
});
