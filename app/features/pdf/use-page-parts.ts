import { useEffect, useMemo, useState } from 'react';
import { type ArtworkFacts, ordersOf, rowsIn } from '#core/artwork/index';
import type { Library } from '#core/swatch/index';
import { usePlates } from '~/features/shared/artwork/Separations';
import { usePartMap } from '~/features/shared/artwork/use-painted';
import type { Made } from '~/messages/artwork-messages';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useCondition } from '~/ui/condition';

/** What is shown of a page. */
export const PAGE_VIEWS = ['page', 'press', 'change'] as const;
export type PageView = (typeof PAGE_VIEWS)[number];

/** Its inks come with the file, and it is printed under the usual condition. */
const NO_LIBRARY: Library = { id: '', name: '', groups: [] };

type Color = ArtworkFacts['colors'][number];
type Part = Color['parts'][number];

const ROLES = { fill: 'fill', stroke: 'line', stop: 'in a gradient' };

/** What is known of a part: how it is painted, in which ink or numbers, and how much else is like it. */
export function partText({ hex, ink, names, written, parts }: Color, { role, layer }: Part): string {
  const color = ink ? `${ink.name} ${ink.percent} %` : names[0] || hex.toUpperCase();
  const others = parts.length === 1 ? '1 part' : `${parts.length} parts`;
  return [color, ROLES[role], written, layer, others].filter(Boolean).join(' · ');
}

export type PageParts = ReturnType<typeof usePageParts>;

/** The parts of a PDF and its plates, as far as it can be held; `why` says where it cannot. */
export function usePageParts(file: Blob | null, page: number, onPress: boolean) {
  const { artworks } = useStores();
  const { works } = useStore(artworks);
  const condition = useCondition();
  const [state, setState] = useState<{ of: Blob; hash?: string; why?: string } | null>(null);
  useEffect(() => {
    if (!file) return;
    let live = true;
    let opened: string | undefined;
    const close = () => opened && artworks.close(opened);
    artworks.look(file).then(
      ({ hash }) => {
        opened = hash;
        if (live) setState({ of: file, hash });
        else close();
      },
      (error: Error) => live && setState({ of: file, why: error.message }),
    );
    return () => {
      live = false;
      close();
    };
  }, [artworks, file]);
  const here = state?.of === file ? state : null;
  const hash = here?.hash;
  const facts = (hash && works[hash]?.facts) || null;
  const made = useMemo(
    (): Made | null =>
      facts && {
        // every colour as it is
        orders: ordersOf(rowsIn(facts.colors, null, () => undefined, condition)),
        outlines: [],
        size: facts.pages?.[page] ?? facts.size,
        page,
      },
    [facts, page, condition],
  );
  const known = facts ? hash : undefined;
  const map = usePartMap(known, made, facts?.parts ?? 0);
  const plates = usePlates(known, made, NO_LIBRARY, onPress, true);
  return { facts, made, map, plates, why: here?.why };
}
