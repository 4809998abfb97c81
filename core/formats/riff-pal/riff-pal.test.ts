import { describe, expect, it } from 'vitest';
import { fleet, readBy, services, writeBy } from '../../testing.ts';
import { recognise } from '../index.ts';
import { jascPal } from '../jasc-pal/jasc-pal.ts';
import { riffPal } from './riff-pal.ts';

/** The layout of a RIFF palette, from memory of the published LOGPALETTE structure: little-endian throughout. */
const bytes = Uint8Array.from([
  ...[...'RIFF'].map((c) => c.charCodeAt(0)),
  ...[24, 0, 0, 0],
  ...[...'PAL data'].map((c) => c.charCodeAt(0)),
  ...[12, 0, 0, 0],
  ...[0, 3, 2, 0],
  ...[255, 0, 0, 0],
  ...[1, 2, 3, 4],
]);

describe('the two formats that end in .pal', () => {
  it('are distinguished by content', () => {
    expect(recognise(bytes)?.id).toBe('riff-pal');
    expect(recognise(new TextEncoder().encode('JASC-PAL\r\n0100\r\n1\r\n1 2 3\r\n'))?.id).toBe('jasc-pal');
  });

  it('RIFF PAL reads and writes little-endian triples with a flag byte', () => {
    expect(readBy(riffPal, bytes).lines).toEqual([' #ff0000', ' #010203']);
    const red = { ...fleet.groups[0].swatches[1], color: { space: 'rgb' as const, components: [1, 0, 0] } };
    const written = riffPal.encode({ ...fleet, groups: [{ id: 'g', name: '', swatches: [red] }] }, services);
    expect([...written]).toEqual([
      ...[...bytes.subarray(0, 4), 20, 0, 0, 0],
      ...bytes.subarray(8, 16),
      ...[8, 0, 0, 0, 0, 3, 1, 0, 255, 0, 0, 0],
    ]);
  });

  it('RIFF PAL passes over other chunks, odd lengths padded', () => {
    const other = [...'seen'].map((c) => c.charCodeAt(0));
    const file = Uint8Array.from([
      ...bytes.subarray(0, 12),
      ...other,
      1,
      0,
      0,
      0,
      9,
      0,
      ...bytes.subarray(12),
    ]);
    expect(readBy(riffPal, file).lines.length).toBe(2);
  });

  it('RIFF PAL refuses counts that do not fit and files without data', () => {
    const wrong = bytes.slice();
    wrong[22] = 9;
    expect(() => readBy(riffPal, wrong)).toThrow(/counts 9 colours but has room for 2/);
    expect(() => readBy(riffPal, bytes.subarray(0, 12))).toThrow(/no data chunk/);
  });

  it('JASC PAL is the text that other programs read', () => {
    expect(writeBy(jascPal, fleet).split('\r\n').slice(0, 5)).toEqual([
      'JASC-PAL',
      '0100',
      '5',
      '255 255 255',
      '47 125 107',
    ]);
    expect(readBy(jascPal, 'JASC-PAL\n0100\n2\n1 2 3\n4 5 6 128\n').swatches[1].alpha).toBeCloseTo(128 / 255);
    expect(readBy(jascPal, 'JASC-PAL\n0100\n3\n1 2 3\n')).toMatchObject({
      swatches: [{ color: { space: 'rgb' } }],
      warnings: ['Line 3 counts 3 colours; one is there and was read. The file may be cut short.'],
    });
    expect(() => readBy(jascPal, 'JASC-PAL\n0100\n3\n')).toThrow(
      /promises 3 colours in line 3, but has none/,
    );
    expect(() => readBy(jascPal, 'JASC-PAL\n0100\n1\n1 2 300\n')).toThrow(/line 4/);
    expect(readBy(jascPal, 'JASC-PAL\n0100\n1\n1 2 3\n4 5 6\n').warnings).toEqual([
      'Line 3 counts 1 colour; 2 are there and were read.',
    ]);
  });
});
