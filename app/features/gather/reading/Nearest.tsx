import { useMemo } from 'react';
import { toHex } from '#core/color/index';
import { spectralDifference } from '#core/reading/compare';
import { labOfSpectrum } from '#core/reading/figures';
import type { Spectrum } from '#core/swatch/index';
import { limitsOf, USUAL_ASKING } from '~/features/shared/match/limits';
import { useSources } from '~/features/shared/match/SourceChoice';
import { useStores } from '~/state/stores';
import { useCondition } from '~/ui/condition';
import { useAsked } from '~/ui/use-asked';
import { openMatchClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import css from './ReadingSource.module.css';

/** How many of those nearest in daylight have their spectra compared. */
const CANDIDATES = 12;
const SHOWN = 3;

/** The nearest in books, by their spectra where those are known: what is near in three lights is near. */
export function Nearest({ spectrum }: { spectrum: Spectrum }) {
  const { books } = useStores();
  const condition = useCondition();
  const match = useClient(openMatchClient);
  const sources = useSources();
  const lab = useMemo(() => labOfSpectrum(spectrum), [spectrum]);
  const wanted = sources.chosen.join(' ');
  const { value } = useAsked(
    sources.ready && wanted !== ''
      ? async () => {
          const [near] = await match.ask('nearest', {
            sources: sources.chosen,
            metric: 'de00',
            limits: limitsOf(USUAL_ASKING),
            setting: condition.setting,
            wanted: [{ lab }],
            n: CANDIDATES,
          });
          const whole = await Promise.all(
            (near ?? []).map(async (f) => ({
              found: f,
              swatch: await books.entry(f.source, f.id).catch(() => null),
            })),
          );
          return whole
            .map(({ found, swatch }) => ({
              found,
              off: swatch?.spectrum ? spectralDifference(spectrum, swatch.spectrum) : null,
            }))
            .sort((a, b) => (a.off?.most ?? a.found.difference) - (b.off?.most ?? b.found.difference))
            .slice(0, SHOWN);
        }
      : null,
    [spectrum, wanted, condition.setting.profile],
    { wait: 200 },
  );
  if (!value || value.length === 0) return null;
  return (
    <section aria-label="Nearest in books" className={css.nearest}>
      <p className="caption">Nearest in books, by their spectra under D50, A and F11</p>
      {value.map(({ found, off }) => (
        <p key={`${found.source} ${found.id}`} className={css.near}>
          <span
            className={css.chip}
            style={{ background: toHex({ space: 'lab', components: found.lab }, condition) }}
          />
          <span className="cut">
            {found.name} · {found.sourceName}
          </span>
          <span className="mono">
            {off
              ? `ΔE00 ${off.each.map((v) => v.toFixed(1)).join(' / ')} · RMS ${off.rms.toFixed(3)}`
              : `ΔE00 ${found.difference.toFixed(1)}, no spectrum`}
          </span>
        </p>
      ))}
    </section>
  );
}
