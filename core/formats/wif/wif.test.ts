import { describe, expect, it } from 'vitest';
import { readBy, recognisedAs } from '../../testing.ts';
import { wif } from './wif.ts';

describe('WIF', () => {
  // after the sections of the published description (Weaving Information File 1.1)
  const draft =
    '[WIF]\nVersion=1.1\nDate=April 20, 1997\n[CONTENTS]\nCOLOR TABLE=yes\n[TEXT]\nTitle=Twill\n[COLOR PALETTE]\nEntries=3\nForm=RGB\nRange=0,999\n[COLOR TABLE]\n1=999,999,999\n2=0,0,999 ; blue\n3=999,333,0\n[WARP]\nThreads=4\n1=999,0,0\n';
  it('reads the colour table over the range that is stated', () => {
    const { lines, library } = readBy(wif, draft);
    expect(lines).toEqual(['1 #ffffff', '2 #0000ff', '3 #ff5500']);
    expect(library.name).toBe('Twill');
    expect(recognisedAs(draft)).toBe('wif');
  });

  it('says what is wrong and where', () => {
    expect(readBy(wif, draft.replace('3=999,333,0', '3=1999,333,0')).warnings).toEqual([
      expect.stringMatching(/line 15 .*three numbers from 0 to 999/),
    ]);
    expect(() => readBy(wif, '[WIF]\nVersion=1.1\n')).toThrow(/no colour table/);
  });
});
