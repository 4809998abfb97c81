import { useEffect, useState } from 'react';
import { type Condition, colorWords, offWords, toLab } from '#core/color/index';
import { type Group, type Library, type Swatch, toSearchText } from '#core/swatch/index';
import { inSlices } from '~/ui/slices';

/** What a swatch is found by, made once as long as it stays the same. */
const texts = new WeakMap<Condition, WeakMap<Swatch, string>>();
function textOf(swatch: Swatch, condition: Condition): string {
  const known = texts.get(condition) ?? new WeakMap<Swatch, string>();
  texts.set(condition, known);
  let text = known.get(swatch);
  if (text === undefined) {
    text = toSearchText(swatch, condition);
    known.set(swatch, text);
  }
  return text;
}

export interface Hit {
  swatch: Swatch;
  group: Group;
}
interface Hits {
  of: string;
  /** As it was when it was looked through. */
  library: Library | null;
  found: readonly Hit[];
}

/** The swatches that are meant, looked for a little at a time, so that the typing is never held up. */
export function useHits(library: Library | null, wanted: string, condition: Condition): Hits {
  const [hits, setHits] = useState<Hits>({ of: '', library: null, found: [] });
  useEffect(() => {
    if (!library) {
      setHits({ of: '', library: null, found: [] });
      return;
    }
    const stop = new AbortController();
    const found: Hit[] = [];
    const byWords: [off: number, hit: Hit][] = [];
    const words = colorWords(wanted);
    function* look() {
      for (const group of library!.groups)
        for (const swatch of group.swatches) {
          if (textOf(swatch, condition).includes(wanted)) found.push({ swatch, group });
          else if (words) {
            const off = offWords(toLab(swatch.color, condition), words);
            if (off !== null) byWords.push([off, { swatch, group }]);
          }
          yield;
        }
    }
    void inSlices(look(), stop.signal).then((done) => {
      if (!done) return;
      byWords.sort(([x], [y]) => x - y);
      setHits({ of: wanted, library, found: [...found, ...byWords.map(([, hit]) => hit)] });
    });
    return () => stop.abort();
  }, [library, wanted, condition]);
  return hits;
}
