import { describe, expect, it } from 'vitest';
import { ByteReader, ByteWriter } from './bytes.ts';
import { FormatError } from './error.ts';

describe('bytes', () => {
  it('are read as they were written, in either order', () => {
    for (const little of [false, true]) {
      const bytes = new ByteWriter(little)
        .u8(1)
        .u16(0xabcd)
        .i16(-2)
        .u32(0xdeadbeef)
        .f32(0.5)
        .ascii('ab')
        .done();
      const reader = new ByteReader(bytes, little);
      expect([
        reader.u8(''),
        reader.u16(''),
        reader.i16(''),
        reader.u32(''),
        reader.f32(''),
        reader.ascii(2, ''),
      ]).toEqual([1, 0xabcd, -2, 0xdeadbeef, 0.5, 'ab']);
      expect(reader.left).toBe(0);
    }
  });

  it('grow as far as they must', () => {
    const writer = new ByteWriter();
    for (let i = 0; i < 5000; i++) writer.u8(i & 255);
    const bytes = writer.bytes(new Uint8Array(3000).fill(7)).done();
    expect([bytes.length, bytes[4999], bytes[5000], bytes[7999]]).toEqual([8000, 4999 & 255, 7, 7]);
  });

  it('that end too soon name the place', () => {
    const reader = new ByteReader(Uint8Array.from([1, 2, 3]));
    reader.u16('the count');
    expect(() => reader.u32('the name')).toThrow(
      /cut short: it ends at byte 3, inside the name, where 3 more bytes should follow/,
    );
    expect(() => reader.part(9, 'a block')).toThrow(FormatError);
  });
});
