import serialize from 'bplist-creator';
import { strToU8 } from 'fflate';
import { describe, expect, it } from 'vitest';
import { readBy, recognisedAs } from '../../testing.ts';
import { clr } from './clr.ts';

describe('CLR', () => {
  const data = (text: string) => Buffer.from(`${text}\0`);
  it('operating systems’ lists: keyed archives, as the package bplist-creator writes them', () => {
    const archive = {
      $version: 100000,
      $archiver: 'NSKeyedArchiver',
      $top: { root: 1 },
      $objects: [
        '$null',
        { NSName: 6, NSNames: 2, NSColors: 3 },
        { 'NS.objects': [4, 5, 9] },
        { 'NS.objects': [7, 8, 10] },
        'Hull',
        'Brass',
        'Sea list',
        { NSColorSpace: 1, NSRGB: data('0.2 0.4 1 0.5') },
        { NSColorSpace: 5, NSCMYK: data('0.04 0.26 0.7 0.12 1') },
        'Pattern',
        { NSColorSpace: 10 },
      ],
    };
    const bytes = new Uint8Array(serialize(archive));
    const { swatches, warnings } = readBy(clr, bytes);
    expect(swatches.map((s) => [s.name, s.color, s.alpha])).toEqual([
      ['Hull', { space: 'rgb', components: [0.2, 0.4, 1] }, 0.5],
      ['Brass', { space: 'cmyk', components: [0.04, 0.26, 0.7, 0.12] }, undefined],
    ]);
    expect(warnings).toEqual([expect.stringMatching(/1 colour is kept in a way that has no numbers/)]);
    expect(recognisedAs(bytes)).toBe('clr');
  });

  it('archives whose references are UIDs, in binary and in XML, as Python’s plistlib writes them', () => {
    const names = ['Hull', 'Brass'];
    const binary = Buffer.from(
      `YnBsaXN0MDDUAQIDBAUGPUBZJGFyY2hpdmVyWCRvYmplY3RzVCR0b3BYJHZlcnNpb25fEA9OU0tleWVkQXJjaGl2ZXKuBwgRGB4fICEnLC0wNj
      lVJG51bGzUCQoLDA0ODxBWJGNsYXNzWE5TQ29sb3JzVk5TTmFtZVdOU05hbWVzgAyAA4AGgALSCRITFFpOUy5vYmplY3RzgA2jFRYXgASABYAJ
      0gkSGRqADaMbHB2AB4AIgApUSHVsbFVCcmFzc1hTZWEgbGlzdNMJIiMkJSZcTlNDb2xvclNwYWNlVU5TUkdCgAsQAU4wLjIgMC40IDEgMC41AN
      MJKCIpKitWTlNDTVlLgAtPEBUwLjA0IDAuMjYgMC43IDAuMTIgMQAQBVdQYXR0ZXJu0gkiLi+ACxAK0jEyMzRYJGNsYXNzZXNaJGNsYXNzbmFt
      ZaI0NVdOU0NvbG9yWE5TT2JqZWN00jEyNziiODVbTlNDb2xvckxpc3TSMTI6O6M7PDVeTlNNdXRhYmxlQXJyYXlXTlNBcnJhedE+P1Ryb290gA
      ESAAGGoAAIABEAGwAkACkAMgBEAFMAWQBiAGkAcgB5AIEAgwCFAIcAiQCOAJkAmwCfAKEAowClAKoArACwALIAtAC2ALsAwQDKANEA3gDkAOYA
      6AD3AP4BBQEHAR8BIQEpAS4BMAEyATcBQAFLAU4BVgFfAWQBZwFzAXgBfAGLAZMBlgGbAZ0AAAAAAAACAQAAAAAAAABBAAAAAAAAAAAAAAAAAA
      ABog==`,
      'base64',
    );
    const uid = (n: number) => `<dict><key>CF$UID</key><integer>${n}</integer></dict>`;
    const xml = `<?xml version="1.0" encoding="UTF-8"?><plist version="1.0"><dict><key>$archiver</key><string>NSKeyedArchiver</string>
      <key>$objects</key><array><string>$null</string>
      <dict><key>NSColors</key>${uid(3)}<key>NSNames</key>${uid(2)}</dict>
      <dict><key>NS.objects</key><array>${uid(4)}${uid(5)}</array></dict>
      <dict><key>NS.objects</key><array>${uid(6)}${uid(7)}</array></dict>
      <string>Hull</string><string>Brass</string>
      <dict><key>NSRGB</key><data>${btoa('0.2 0.4 1 0.5\0')}</data></dict>
      <dict><key>NSCMYK</key><data>${btoa('0.04 0.26 0.7 0.12 1\0')}</data></dict>
      </array></dict></plist>`;
    for (const given of [new Uint8Array(binary), xml]) {
      const { swatches } = readBy(clr, given);
      expect(swatches.map((s) => s.name)).toEqual(names);
      expect(swatches.map((s) => [s.color.components, s.alpha])).toEqual([
        [[0.2, 0.4, 1], 0.5],
        [[0.04, 0.26, 0.7, 0.12], undefined],
      ]);
    }
  });

  it('operating systems’ lists as XML, and those that nobody can read', () => {
    const text = `<?xml version="1.0"?><plist version="1.0"><dict><key>Hull</key><string>#8a1c24</string><key>Sea</key><dict><key>NSRGB</key><data>MCAwLjUgMQA=</data></dict></dict></plist>`;
    expect(readBy(clr, text).lines).toEqual(['Hull #8a1c24', 'Sea #0080ff']);
    expect(recognisedAs(text)).toBe('clr');
    expect(() => readBy(clr, '\u0004\u000bstreamtyped')).toThrow(/Save the list again on a newer system/);
    // eight lists, each of which holds the next ten times: a hundred million strings from a hundred bytes
    const lists = Array.from({ length: 8 }, (_, i) => [0xaa, ...Array(10).fill(i + 1)]);
    const objects = [...lists, [0x51, 0x78]];
    const offsets = objects.map((_, i) => 8 + objects.slice(0, i).flat().length);
    const table = 8 + objects.flat().length;
    const trailer = [
      ...Array(6).fill(0),
      1,
      1,
      ...[objects.length, 0, table].flatMap((n) => [0, 0, 0, 0, 0, 0, 0, n]),
    ];
    const bomb = Uint8Array.from([...strToU8('bplist00'), ...objects.flat(), ...offsets, ...trailer]);
    expect(() => readBy(clr, bomb)).toThrow(/would grow beyond any list/);
    const bytes = new Uint8Array(serialize(['x']));
    for (let i = 8; i < bytes.length; i++) {
      const torn = Uint8Array.from(bytes);
      torn[i] = 0xff;
      expect(() => readBy(clr, torn)).toThrow(/./);
    }
  });
});
