import { describe, expect, it } from 'vitest';
import { libraryOf, readBy, recognisedAs, writeBy } from '../../testing.ts';
import { resources } from './resources.ts';

describe('mobile resources', () => {
  const file = `<?xml version="1.0" encoding="utf-8"?>
<resources xmlns:tools="urn:x"><color name="sea">#80112233</color><color name="short">#abc</color><color name="thin">#8abc</color>
<color name="same">@color/sea</color><item name="item" type="color">#445566</item><dimen name="gap">4dp</dimen><color name="bad">teal</color></resources>`;

  it('reads opacity in front, references and items, and tells what is none', () => {
    const { lines, swatches, warnings } = readBy(resources, file);
    expect(lines).toEqual(['sea #112233', 'short #aabbcc', 'thin #aabbcc', 'same #112233', 'item #445566']);
    expect(swatches.map((s) => s.alpha)).toEqual([128 / 255, undefined, 0x88 / 255, 128 / 255, undefined]);
    expect(warnings).toEqual([
      expect.stringMatching(/line 3: the colour “bad” is “teal”/),
      '1 resource is not a colour and was left out.',
    ]);
    expect(recognisedAs(file)).toBe('resources');
  });

  it('writes names that a build takes', () => {
    const library = libraryOf('x', {
      '': [
        ['24 hours', '#112233'],
        ['class', '#112233'],
        ['Fähre', '#112233'],
        ['Sea / deep', '#112233'],
        ['sea deep', '#112233'],
      ],
    });
    expect([...writeBy(resources, library).matchAll(/name="([^"]+)"/g)].map((m) => m[1])).toEqual([
      'c_24_hours',
      'c_class',
      'fa_hre',
      'sea_deep',
      'sea_deep_2',
    ]);
  });
});
