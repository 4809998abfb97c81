import { useEffect, useMemo, useState } from 'react';
import { rowsIn } from '#core/artwork/index';
import { toHex } from '#core/color/index';
import { artworksOf, type Colorway, colorwaysOf, gradientsOf, type Library } from '#core/swatch/index';
import { madeIn } from '~/features/shared/artwork/made';
import { usePainted } from '~/features/shared/artwork/use-painted';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { useOneStop } from '~/ui/one-stop';
import { PlainButton } from '~/ui/plain-button';
import { count, swatchLabel } from '~/ui/swatch';
import { GradientStrip } from '../gradient/GradientStrip';
import css from './Preview.module.css';
import type { After } from './Tune';

const MAX_GRADIENTS = 6;
const MAX_PAIRS = 6;

/** What uses the swatches, as it would be: artwork, gradients, text on its ground. Not there where nothing does. */
export function Preview({ library, after }: { library: Library; after: After }) {
  const { store } = useLibrary();
  const condition = useCondition();
  const chosen = after.ids;
  const works = useMemo(
    () =>
      artworksOf(library).flatMap((artwork) => {
        const ways: (Colorway | null)[] = colorwaysOf(library, artwork.id).filter((c) =>
          c.refs.some((id) => chosen.has(id)),
        );
        // a line around its shapes is painted with a swatch, too
        if (ways.length === 0 && artwork.refs.some((id) => chosen.has(id))) ways.push(null);
        return ways.map((colorway) => ({ artwork, colorway, key: colorway?.id ?? artwork.id }));
      }),
    [library, chosen],
  );
  const gradients = useMemo(
    () => gradientsOf(library).filter((g) => g.refs.some((id) => chosen.has(id))),
    [library, chosen],
  );
  const stop = useOneStop<HTMLDivElement>();
  const [asked, setAsked] = useState<string | null>(null);
  const work = works.find((w) => w.key === asked) ?? works[0];
  const rows = useMemo(
    () => ({
      library: { ...library },
      find: (id: string) => {
        const [placed, swatch] = [store.rows.find(id), after.swatchOf(id)];
        return placed && swatch ? { ...placed, swatch } : placed;
      },
    }),
    [library, store, after],
  );
  const pairs = after.pairs.slice(0, MAX_PAIRS);
  if (!work && gradients.length === 0 && pairs.length === 0) return null;
  const hexOf = (id: string) => {
    const swatch = after.swatchOf(id);
    return swatch ? toHex(swatch.color, condition) : undefined;
  };
  return (
    <section className={css.preview} aria-label="In use">
      {work && <Picture key={work.key} artwork={work.artwork} colorway={work.colorway} after={after} />}
      <div className={css.words}>
        <strong>In use</strong>
        {works.length > 0 && (
          <div {...stop} className={css.works}>
            {works.map(({ artwork, colorway, key }) => (
              <PlainButton
                look="tab"
                key={key}
                className={css.work}
                aria-pressed={key === work?.key}
                onClick={() => setAsked(key)}
              >
                <bdi>{artwork.name || 'Artwork without a name'}</bdi>
                {colorway && (
                  <>
                    , <bdi>{colorway.name || 'colourway without a name'}</bdi>
                  </>
                )}
              </PlainButton>
            ))}
          </div>
        )}
        {gradients.slice(0, MAX_GRADIENTS).map((g) => (
          <span key={g.id} className={css.gradient}>
            <GradientStrip gradient={g} rows={rows} height={20} />
            <span className="caption cut" dir="auto">
              {g.name || 'Gradient without a name'}
            </span>
          </span>
        ))}
        {gradients.length > MAX_GRADIENTS && (
          <p className="caption">{count(gradients.length - MAX_GRADIENTS, 'more gradient')}</p>
        )}
        {pairs.map(({ text, ground, was, is }) => (
          <span key={`${text.id} ${ground.id}`} className={css.readable}>
            <i
              className="cut"
              dir="auto"
              style={{ color: hexOf(text.id), background: hexOf(ground.id) }}
              aria-hidden
            >
              {swatchLabel(text, condition)}
            </i>
            <span className="caption cut">
              <bdi>{swatchLabel(text, condition)}</bdi> on <bdi>{swatchLabel(ground, condition)}</bdi>{' '}
              <span className="mono">
                {was.toFixed(1)} → {is.toFixed(1)} : 1
              </span>
            </span>
          </span>
        ))}
        {after.pairs.length > MAX_PAIRS && (
          <p className="caption">{count(after.pairs.length - MAX_PAIRS, 'more pair')} of text and ground</p>
        )}
      </div>
    </section>
  );
}

function Picture({
  artwork,
  colorway,
  after,
}: {
  artwork: ReturnType<typeof artworksOf>[number];
  colorway: Colorway | null;
  after: After;
}) {
  const { artworks } = useStores();
  const condition = useCondition();
  const { works: open, problems } = useStore(artworks);
  const { asset } = artwork.data;
  useEffect(() => {
    void artworks.open(asset);
  }, [artworks, asset]);
  const facts = open[asset]?.facts;
  const made = useMemo(
    () =>
      facts
        ? madeIn(
            artwork,
            facts,
            rowsIn(facts.colors, colorway, after.swatchOf, condition),
            after.swatchOf,
            condition,
          )
        : null,
    [artwork, facts, colorway, after, condition],
  );
  const { url, problem } = usePainted(asset, made);
  const trouble = problem ?? problems[asset];
  if (trouble)
    return (
      <p className="caption" role="alert">
        {trouble}
      </p>
    );
  return (
    <div className={css.picture} role="img" aria-label={`${artwork.name}, as it would be`}>
      {url && <img src={url} alt="" draggable={false} />}
    </div>
  );
}
