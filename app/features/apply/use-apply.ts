import { nanoid } from 'nanoid';
import { useCallback, useEffect, useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { type ArtworkFacts, isOff, type Row, rowsIn, type Stray, straysIn } from '#core/artwork/index';
import { type Condition, screenOnly } from '#core/color/index';
import {
  type ArtworkItem,
  addColorways,
  addGroups,
  addSwatches,
  allSwatches,
  artworksOf,
  COLORWAY,
  type Colorway,
  colorwaysOf,
  isLoose,
  type Library,
  type Swatch,
  setLinks,
  type Wish,
  withLinks,
} from '#core/swatch/index';
import { baseName } from '#core/text/names';
import { madeIn } from '~/features/shared/artwork/made';
import type { Made } from '~/messages/artwork-messages';
import type { LibraryStore } from '~/state/library-store';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';

export const newId = () => nanoid(12);

/** The views of the stage, as the address names them. */
export const VIEWS = ['recolour', 'compare', 'separations'] as const;
export type ApplyView = (typeof VIEWS)[number];

/** What the user works on in Apply: one piece of artwork of the library, in one of its colourways. */
export interface ApplyState {
  store: LibraryStore;
  library: Library;
  condition: Condition;
  artworks: ArtworkItem[];
  artwork: ArtworkItem | null;
  /** Null until it has been looked through. */
  facts: ArtworkFacts | null;
  problem: string | null;
  colorways: Colorway[];
  /** Null: as it is drawn. */
  colorway: Colorway | null;
  rows: Row[];
  made: Made | null;
  /** The same as it was drawn. */
  drawn: Made | null;
  /** Its colours that match no swatch, the nearest first. */
  strays: Stray[];
  view: ApplyView;
  swatchOf(id: string): Swatch | undefined;
  rowsOf(colorway: Colorway | null): Row[];
  open(id: string): void;
  choose(colorway: string | null): void;
  look(view: ApplyView): void;
  /** Shows another page of a PDF. */
  turn(page: number): void;
  /** Makes colours something else, in the colourway that is open, or in a new one where none is. */
  paint(wishes: Readonly<Record<string, Wish | null>>, label: string): void;
  /** The same with swatches that are not in the library yet. */
  bring(swatch: Swatch, wish: (swatch: Swatch) => Record<string, Wish>, label: string): void;
  /** A colourway of the open artwork. */
  make(name: string, links: Readonly<Record<string, Wish>>): Colorway;
  add(colorways: Colorway[]): void;
}

const NONE: Row[] = [];

export function useApply(): ApplyState {
  const { store } = useLibrary();
  const { artworks: works } = useStores();
  const { library } = useStore(store);
  const { works: open, problems } = useStore(works);
  const condition = useCondition();
  const [search, setSearch] = useSearchParams();
  const artworks = useMemo(() => artworksOf(library), [library]);
  const wanted = search.get('work');
  const artwork = artworks.find((a) => a.id === wanted) ?? artworks[0] ?? null;
  const asset = artwork?.data.asset;
  useEffect(() => {
    if (asset) void works.open(asset);
  }, [works, asset]);
  const known = (asset && open[asset]?.facts) || null;
  const page = Number(search.get('page') ?? 1) - 1;
  const facts = useMemo(() => known && ofPage(known, page), [known, page]);
  const colorways = useMemo(() => (artwork ? colorwaysOf(library, artwork.id) : []), [library, artwork]);
  const way = search.get('way');
  const colorway = colorways.find((c) => c.id === way) ?? (way === 'drawn' ? null : (colorways[0] ?? null));
  // swatches of the library are other objects once they have changed
  const swatchOf = useCallback(
    (id: string) => {
      void library;
      return store.rows.find(id)?.swatch;
    },
    [store, library],
  );
  const ready = condition !== screenOnly;
  const rowsOf = useCallback(
    (one: Colorway | null) => (facts && ready ? rowsIn(facts.colors, one, swatchOf, condition) : NONE),
    [facts, swatchOf, condition, ready],
  );
  const rows = useMemo(() => rowsOf(colorway), [rowsOf, colorway]);
  const madeOf = useCallback(
    (own: Row[]) => (artwork && facts && ready ? madeIn(artwork, facts, own, swatchOf, condition) : null),
    [artwork, facts, swatchOf, condition, ready],
  );
  const made = useMemo(() => madeOf(rows), [madeOf, rows]);
  const drawn = useMemo(() => madeOf(rowsOf(null)), [madeOf, rowsOf]);
  const strays = useMemo(
    () => straysIn(rows, allSwatches(library), condition).filter(isOff),
    [rows, library, condition],
  );
  const to = useCallback(
    (part: Record<string, string | null>, replace = false) =>
      setSearch(
        (was) => {
          const next = new URLSearchParams(was);
          for (const [key, value] of Object.entries(part))
            if (value === null) next.delete(key);
            else next.set(key, value);
          return next;
        },
        { replace, preventScrollReset: true },
      ),
    [setSearch],
  );
  const view = VIEWS.find((v) => v === search.get('view')) ?? 'recolour';

  const make = (name: string, links: Readonly<Record<string, Wish>>): Colorway => ({
    ...{ id: newId(), kind: COLORWAY, name },
    ...withLinks({ refs: [], data: { artwork: artwork!.id, links: {} } }, links),
  });
  const change = (wishes: Readonly<Record<string, Wish | null>>, label: string, swatches: Swatch[] = []) => {
    if (!artwork) return;
    const put = swatches.length > 0 ? placed(store, artwork, swatches) : [];
    const links = Object.fromEntries(
      Object.entries(wishes).filter((e): e is [string, Wish] => e[1] !== null),
    );
    if (!colorway && Object.keys(links).length === 0) return;
    // what is drawn stays as it is: the first change begins a colourway
    const fresh = colorway ? null : make(freeName(colorways, 'Colourway'), links);
    const draft = fresh ? addColorways(store.rows, [fresh]) : setLinks(colorway!, wishes, label);
    if (store.edit({ label, ops: [...put, ...draft.ops] }) && fresh) to({ way: fresh.id }, true);
  };
  return {
    ...{
      store,
      library,
      condition,
      artworks,
      artwork,
      facts,
      colorways,
      colorway,
      rows,
      made,
      drawn,
      strays,
      view,
    },
    ...{ swatchOf, rowsOf, make },
    problem: (asset && problems[asset]) || null,
    open: (id) => to({ work: id, way: null, page: null }),
    choose: (id) => to({ way: id ?? 'drawn' }),
    look: (next) => to({ view: next === 'recolour' ? null : next }, true),
    turn: (next) => to({ page: next === 0 ? null : String(next + 1) }, true),
    paint: (wishes, label) => change(wishes, label),
    bring: (swatch, wish, label) => change(wish(swatch), label, [swatch]),
    add: (list) => {
      if (store.edit(addColorways(store.rows, list)) && list[0]) to({ way: list[0].id });
    },
  };
}

/** What is known of a work while one of its pages is looked at. */
function ofPage(facts: ArtworkFacts, wanted: number): ArtworkFacts {
  const { pages } = facts;
  if (!pages) return facts;
  const page = Number.isInteger(wanted) ? Math.min(pages.length - 1, Math.max(0, wanted)) : 0;
  return { ...facts, page, size: pages[page]! };
}

/** A name that no other colourway has: with a number from the second on. */
export function freeName(colorways: readonly { name: string }[], name: string): string {
  const taken = new Set(colorways.map((c) => c.name));
  let free = name;
  for (let n = 2; taken.has(free); n++) free = `${name} ${n}`;
  return free;
}

/** The steps that put swatches where artwork of the library takes its own from. */
function placed(store: LibraryStore, artwork: ArtworkItem, swatches: Swatch[]) {
  const { groups } = store.rows.library;
  const name = baseName(artwork.name);
  const home = groups.find((g) => g.name === name) ?? groups.find((g) => isLoose(store.rows.library, g));
  return home
    ? addSwatches(store.rows, home.id, swatches).ops
    : addGroups(store.rows, [{ id: newId(), name, swatches }]).ops;
}
