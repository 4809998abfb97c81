import { describe, expect, it } from 'vitest';
import { localServices } from '../../cli/engine.ts';
import { changesOf } from '../formats/index.ts';
import { libraryOf } from '../testing.ts';
import { checkLibrary } from './checks.ts';
import { LibraryRows, setFields, textFieldIds } from './index.ts';

describe('a declared text of a swatch', () => {
  it.each(textFieldIds)('%s is taken in, set, and missed where a format does not carry it', async (field) => {
    const library = libraryOf('Texts', { '': [['Red', '#ff0000']] });
    const [swatch] = library.groups[0]!.swatches;
    swatch![field] = 'so';
    expect(checkLibrary(structuredClone(library)).groups[0]!.swatches[0]![field]).toBe('so');
    const rows = LibraryRows.of(library);
    rows.apply(setFields([swatch!.id], { [field]: 'otherwise' }).ops);
    expect(rows.library.groups[0]!.swatches[0]![field]).toBe('otherwise');
    const { changes } = await changesOf(library, { format: 'act' }, await localServices());
    expect(changes).toContainEqual(expect.objectContaining({ what: field, before: 'so', after: '' }));
  });
});
