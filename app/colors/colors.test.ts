import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { conditionOf, SHIPPED, toLab } from '#core/color/index';
import { loadEngine } from '../../profiles/load.ts';
import { Colors, profileUrl } from './colors';

const file = (name: string) => new Uint8Array(readFileSync(`profiles/${name}-offset.icc`));
/** The tables of the uncoated profile in another file. */
const other = (() => {
  const bytes = file('uncoated');
  bytes[25]! ^= 1;
  return bytes;
})();
const MAGENTA = { space: 'cmyk' as const, components: [0, 1, 0, 0] };
const setting = (profile: string) => ({ ...conditionOf({}), profile });

/** Colours over a line on which profiles come, or do not. */
async function over(line: (path: string) => Response | Promise<Response>) {
  const asked: string[] = [];
  const get = async (path: RequestInfo | URL) => {
    asked.push(String(path));
    return line(String(path));
  };
  return { asked, colors: new Colors(get as typeof fetch, await loadEngine('profiles')) };
}

it('fetches a profile once, however many ask for it, and knows it at once from then on', async () => {
  const { asked, colors } = await over(() => new Response(other));
  const hash = 'a'.repeat(64);
  expect(colors.has(setting(hash))).toBe(false);
  const [one, two] = await Promise.all([colors.condition(setting(hash)), colors.condition(setting(hash))]);
  expect(one).toBe(two);
  expect(asked).toEqual([profileUrl(hash)]);
  expect(colors.here(setting(hash))).toBe(one);
  expect(toLab(MAGENTA, one)[0]).toBeGreaterThan(
    toLab(MAGENTA, await colors.condition(setting(SHIPPED.coated)))[0],
  );
});

it('a profile that is gone leaves the usual paper, and one that does not come is asked for again', async () => {
  const gone = await over(() => new Response('', { status: 404 }));
  const condition = await gone.colors.condition(setting('b'.repeat(64)));
  expect(condition.setting.profile).toBe(SHIPPED.coated);
  let fails = true;
  const shaky = await over(() => {
    if (fails) throw new TypeError('fetch failed');
    return new Response(other);
  });
  await expect(shaky.colors.condition(setting('c'.repeat(64)))).rejects.toThrow();
  fails = false;
  expect((await shaky.colors.condition(setting('c'.repeat(64)))).setting.profile).toBe('c'.repeat(64));
});

it('brings the profiles that colours name', async () => {
  const { colors } = await over(() => new Response(other));
  const hash = 'd'.repeat(64);
  const condition = await colors.condition(conditionOf({}), [{ ...MAGENTA, profile: hash }]);
  expect(toLab({ ...MAGENTA, profile: hash }, condition)).not.toEqual(toLab(MAGENTA, condition));
});
