import { carried, convert, type Space } from '../color/index.ts';
import { type Options, optionOf } from '../options.ts';
import type { Services } from '../services.ts';
import type { Library, Swatch } from '../swatch/model.ts';
import type { Format } from './format.ts';
import { choicesFor } from './plan.ts';

/** What a swatch is called in a file; one without a code keeps its name. */
function called({ name, code }: Swatch, naming: string): string {
  if (!code || naming === '') return name;
  return naming === 'code' || name === '' ? code : `${code} ${name}`;
}

/**
 * Writes a library in a format as it is asked for: every colour in one space, under another print condition, called by name or
 * code. The one way that files are written.
 */
export async function writeAs(
  format: Format,
  library: Library,
  services: Services,
  options?: Options,
): Promise<Uint8Array<ArrayBuffer>> {
  const declared = { options: choicesFor(format) };
  const chosen = (id: string) =>
    declared.options.some((o) => o.id === id) ? String(optionOf(declared, options, id)) : '';
  const [space, naming, inks] = [chosen('space') as Space | '', chosen('naming'), chosen('inks')];
  const condition = inks && services.under ? await services.under(inks) : services.condition;
  const own = condition === services.condition ? services : { ...services, condition };
  if (!space && !naming) return format.encode(library, own, options);
  const asked = (swatch: Swatch): Swatch => ({
    ...swatch,
    name: called(swatch, naming),
    // what lies outside is brought inside, as everything that is written
    ...(space ? { color: carried(convert(swatch.color, space, condition), [space], condition) } : {}),
  });
  const groups = library.groups.map((g) => ({ ...g, swatches: g.swatches.map(asked) }));
  return format.encode({ ...library, groups }, own, options);
}
