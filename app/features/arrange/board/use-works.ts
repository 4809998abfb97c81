import { useEffect, useMemo, useRef, useState } from 'react';
import { rowsIn } from '#core/artwork/index';
import { type Covered, type LaidBoard, workKey } from '#core/board/index';
import { artworksOf, colorwaysOf, type Library, swatchIndex } from '#core/swatch/index';
import { madeIn } from '~/features/shared/artwork/made';
import { asImage } from '~/features/shared/artwork/use-painted';
import type { DrawnBoard, Made } from '~/messages/artwork-messages';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useCondition } from '~/ui/condition';

/** Pixels on the longer side of a page of a PDF on a board. */
const SIDE = 1600;

export type ShownWork = DrawnBoard['works'][number] & {
  url: string;
  /** Its colours as they are in the colourway, with how much of it each paints. */
  colors: Covered[];
};

interface Wanted {
  work: string;
  colorway: string | null;
  hash: string;
  /** Null until it has been looked through. */
  made: Made | null;
  colors: Covered[];
}

/** The works on a board as they are shown, by their keys; each is painted again when what it is made of changes. */
export function useWorks(laid: LaidBoard | null, library: Library): ReadonlyMap<string, ShownWork> {
  const { artworks } = useStores();
  const { works: opened } = useStore(artworks);
  const condition = useCondition();
  const keys = useMemo(() => {
    const found = new Map<string, { work: string; colorway: string | null }>();
    for (const { marks } of laid?.pages ?? [])
      for (const m of marks)
        if (m.is === 'work') found.set(workKey(m.work, m.colorway), { work: m.work, colorway: m.colorway });
    return [...found.values()];
  }, [laid]);
  const list = JSON.stringify(keys);
  const wanted = useMemo(() => {
    const swatches = swatchIndex(library);
    const items = artworksOf(library);
    return (JSON.parse(list) as typeof keys).flatMap(({ work, colorway }): Wanted[] => {
      const item = items.find((a) => a.id === work);
      if (!item) return [];
      const facts = opened[item.data.asset]?.facts;
      if (!facts) return [{ work, colorway, hash: item.data.asset, made: null, colors: [] }];
      const swatchOf = (id: string) => swatches.get(id)?.swatch;
      const way = colorwaysOf(library, work).find((c) => c.id === colorway) ?? null;
      const rows = rowsIn(facts.colors, way, swatchOf, condition);
      const made = madeIn(item, facts, rows, swatchOf, condition);
      // of a PDF the first page is shown
      return [
        {
          ...{ work, colorway, hash: item.data.asset },
          made: facts.form === 'pages' ? { ...made, page: 0 } : made,
          colors: rows.map(({ color, share }) => ({ color, share })),
        },
      ];
    });
  }, [list, library, opened, condition]);
  useEffect(() => {
    for (const { hash, made } of wanted) if (!made) void artworks.open(hash);
  }, [artworks, wanted]);

  const [shown, setShown] = useState<ReadonlyMap<string, ShownWork & { said: string }>>(new Map());
  const latest = useRef(shown);
  latest.current = shown;
  useEffect(() => {
    let live = true;
    void (async () => {
      const next = new Map<string, ShownWork & { said: string }>();
      for (const { work, colorway, hash, made, colors } of wanted) {
        if (!made) continue;
        const key = workKey(work, colorway);
        const said = JSON.stringify([hash, made]);
        const before = latest.current.get(key);
        if (before?.said === said) {
          next.set(key, before);
          continue;
        }
        try {
          const painted = await asImage(await artworks.client.ask('paint', { hash, made }), made.page, SIDE);
          if (!live) return;
          next.set(key, {
            ...{ work, colorway, hash, made, colors, shown: painted, said },
            url: URL.createObjectURL(painted),
          });
        } catch {
          // its place stays empty; Apply says what is wrong with it
        }
      }
      if (!live) return;
      const urls = new Set([...next.values()].map((w) => w.url));
      const old = [...latest.current.values()].filter((w) => !urls.has(w.url));
      setShown(next);
      // an image that is still in place would break
      setTimeout(() => {
        for (const { url } of old) URL.revokeObjectURL(url);
      }, 1000);
    })();
    return () => {
      live = false;
    };
  }, [artworks, wanted]);
  useEffect(
    () => () => {
      for (const { url } of latest.current.values()) URL.revokeObjectURL(url);
    },
    [],
  );
  return shown;
}
