import { instantiate } from 'lcms-wasm';
import { describe, expect, it } from 'vitest';
import { toLab } from '../../color/index.ts';
import { coated, fleet, readBy, services } from '../../testing.ts';
import { iccNamed } from './icc-named.ts';

describe('ICC named colour profile', () => {
  it('is read by Little CMS: every index gives its Lab', async () => {
    const lcms = await instantiate();
    const bytes = iccNamed.encode(fleet, services);
    const profile = lcms.cmsOpenProfileFromMem(bytes, bytes.length);
    expect(profile).not.toBe(0);
    expect(lcms.cmsGetProfileInfoASCII(profile, 0, 'en', 'US')).toBe('Fleet livery');
    // CHANNELS_SH(1)|BYTES_SH(2) for the index; FLOAT_SH(1)|COLORSPACE_SH(PT_Lab)|CHANNELS_SH(3)|BYTES_SH(4)
    const transform = lcms.cmsCreateTransform(
      profile,
      (1 << 3) | 2,
      lcms.cmsCreateLab4Profile(),
      (1 << 22) | (10 << 16) | (3 << 3) | 4,
      0,
      0,
    );
    const swatches = fleet.groups.flatMap((g) => g.swatches);
    const labs = lcms.cmsDoTransform(transform, Uint16Array.from(swatches.keys()), swatches.length);
    swatches.forEach((s, i) => {
      toLab(s.color, coated).forEach((v, c) => {
        expect(Math.abs(labs[3 * i + c] - v)).toBeLessThan(0.01);
      });
    });
  });

  it('reads names with prefix and suffix, and ink values where the device is known', () => {
    const cmyk = { ...fleet, groups: [{ ...fleet.groups[1], swatches: fleet.groups[1].swatches.slice(1) }] };
    const bytes = iccNamed.encode(cmyk, services);
    const list = new TextDecoder('latin1').decode(bytes).indexOf('ncl2', 200);
    bytes.set(
      [...'KF '].map((c) => c.charCodeAt(0)),
      list + 20,
    );
    bytes.set(
      [...' C'].map((c) => c.charCodeAt(0)),
      list + 52,
    );
    const { swatches } = readBy(iccNamed, bytes);
    expect(swatches.map((s) => s.name)).toEqual(['KF Old brass C', 'KF Cutting C']);
    expect(swatches[1].alternates).toEqual([{ space: 'cmyk', components: [0, 1, 0, 0] }]);
  });

  it('says what is wrong', () => {
    expect(() => readBy(iccNamed, iccNamed.encode(fleet, services).slice(0, 300))).toThrow(/cut short|ends/);
    const other = iccNamed.encode(fleet, services);
    other.set(
      [...'Luv '].map((c) => c.charCodeAt(0)),
      20,
    );
    expect(() => readBy(iccNamed, other)).toThrow(/connection space \(byte 20\) is “Luv”/);
  });
});
