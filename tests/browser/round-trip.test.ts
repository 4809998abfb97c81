import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { gpl } from '../../core/formats/gpl/gpl.ts';
import { countingIds } from '../../core/swatch/index.ts';
import { libraryOf, services } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

// A file of a kit, edited by another program, comes back.

let harness: Harness;
let screen: Screen;
let id = '';
const library = libraryOf('Hull', {
  Deck: [
    ['Teak', '#6d4a2c'],
    ['Red', '#b3262b'],
    ['Rope', '#c2a878'],
  ],
});
library.groups[0]!.swatches[1] = { ...library.groups[0]!.swatches[1]!, kind: 'spot', role: 'the boot top' };

beforeAll(async () => {
  harness = await Harness.start();
  id = await harness.keep(library);
  screen = await harness.page(`/libraries/${id}/arrange`);
});
afterAll(() => harness?.stop());

describe('a file that was handed over', () => {
  it('brings what was changed in it elsewhere, beside what was changed here, and loses nothing', async () => {
    await screen.page.evaluate(
      `fetch('/libraries/${id}/kits', { method: 'POST', headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ revision: 0, choices: { scope: { what: 'library' }, destinations: [{ id: 'painting', files: [{ format: 'gpl' }] }] } }) })`,
    );
    // here the role of another is set meanwhile
    await screen.choose('Teak');
    await screen.fill('Role', 'the deck');
    await screen.page.keyboard.press('Enter');
    const written = gpl.encode(library, services as never);
    const text = new TextDecoder().decode(written).replace(/^ *179 +38 +43.*$/m, '120 20 140\tRed at night');
    expect(text).toContain('Red at night');
    expect(
      gpl.decode(new TextEncoder().encode(text), countingIds('x')).library.groups.length,
    ).toBeGreaterThan(0);
    await screen.drop([{ name: 'Hull.gpl', bytes: text }]);
    await screen.click('radio', 'Take back what was changed in it since Hull was handed over');
    await screen.button('Compare');
    await screen.text(/Red becomes Red at night/);
    await screen.text(/1 swatch changed, 0 new, 0 taken out/);
    await screen.button('Take back');
    await screen.choose('Red at night');
    await screen.text(/#78148C/);
    await screen.text(/spot · role: the boot top/);
    await screen.choose('Teak');
    await screen.text(/role: the deck/);
    await screen.button('Undo');
    await screen.choose('Red');
  });
});
