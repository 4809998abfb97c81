import Button from '@mui/material/Button';
import { useRef, useState } from 'react';
import { type Lab, toHex } from '#core/color/index';
import { limitsOf, USUAL_ASKING } from '~/features/shared/match/limits';
import { useSources } from '~/features/shared/match/SourceChoice';
import { useStores } from '~/state/stores';
import { CommitField } from '~/ui/commit-field';
import { useCondition } from '~/ui/condition';
import { Panel } from '~/ui/Frame';
import { Choose } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { count } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import { useAsked } from '~/ui/use-asked';
import { WingPair } from '~/ui/wing-pair';
import { openMatchClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import css from './Pdf.module.css';
import type { ShownInk, usePdf } from './use-pdf';

const NEAREST = 6;

/** The ink that is chosen, and what can be done with it. */
export function InkReadout({
  ink,
  inks,
  pdf,
  onRenamed,
}: {
  ink: ShownInk | null;
  inks: readonly ShownInk[];
  pdf: ReturnType<typeof usePdf>;
  onRenamed(name: string): void;
}) {
  return (
    <Panel side="readout" label="Ink">
      {ink ? (
        <Known key={ink.name} ink={ink} inks={inks} pdf={pdf} onRenamed={onRenamed} />
      ) : (
        <p className={`second ${css.hint}`}>
          An ink is shown here with what stands for it and what is near it.
        </p>
      )}
    </Panel>
  );
}

function Known({
  ink,
  inks,
  pdf,
  onRenamed,
}: {
  ink: ShownInk;
  inks: readonly ShownInk[];
  pdf: ReturnType<typeof usePdf>;
  onRenamed(name: string): void;
}) {
  const condition = useCondition();
  const { books } = useStores();
  const toast = useToast();
  const match = useClient(openMatchClient);
  const sources = useSources();
  const input = useRef<HTMLInputElement>(null);
  const [into, setInto] = useState('');
  const lab = ink.lab as Lab | null;
  const wanted = sources.chosen.join(' ');
  const { value: near } = useAsked(
    lab && sources.ready && wanted !== ''
      ? async () => {
          const [list] = await match.ask('nearest', {
            sources: sources.chosen,
            metric: 'de00',
            limits: limitsOf(USUAL_ASKING),
            setting: condition.setting,
            wanted: [{ lab }],
            n: NEAREST,
          });
          return list ?? [];
        }
      : null,
    [lab?.join(), wanted, condition.setting.profile],
  );
  const [best] = near ?? [];
  const hexOf = (color: Lab) => toHex({ space: 'lab', components: color }, condition);
  const isSpot = ink.kind !== 'process';
  const others = inks.filter((i) => i.name !== ink.name);
  const measure = async (file: File) => {
    try {
      const read = await pdf.measured(file);
      const own = read.find((r) => r.name === ink.name) ?? (read.length === 1 ? read[0] : undefined);
      if (!own)
        throw new Error(
          read.length === 0
            ? `${file.name} has no spectra. A measurement is CGATS, CxF or CSV with reflectance by wavelength.`
            : `${file.name} has ${read.length} inks, and none is called “${ink.name}”. Rename the ink, or choose the file of this one.`,
        );
      pdf.change({ do: 'embed', name: ink.name, ink: own });
    } catch (error) {
      toast({ text: (error as Error).message, stays: true });
    }
  };
  const replace = async (source: string, id: string) => {
    const swatch = await books.entry(source, id).catch(() => null);
    if (!swatch) {
      toast({ text: 'The swatch cannot be fetched: the server does not answer.', stays: true });
      return;
    }
    pdf.change({ do: 'swap', from: ink.name, swatch }, () => onRenamed(swatch.name));
  };
  return (
    <>
      <div className={css.pair}>
        <WingPair
          left={lab ? hexOf(lab) : 'transparent'}
          right={best ? hexOf(best.lab) : lab ? hexOf(lab) : 'transparent'}
        />
      </div>
      <p className={`caption ${css.ends}`}>
        <span>in the file</span>
        <span>{best ? `${best.name} · ΔE00 ${best.difference.toFixed(1)}` : ''}</span>
      </p>
      <div className={css.words}>
        {isSpot ? (
          <div className={css.field}>
            <label htmlFor="ink-name" className="second">
              Name
            </label>
            <CommitField
              id="ink-name"
              value={ink.name}
              most={500}
              onCommit={(to) => {
                if (to === ink.name) return;
                pdf.change({ do: 'rename', from: ink.name, to }, () => onRenamed(to));
              }}
            />
          </div>
        ) : (
          <h2 className="title">{ink.name}</h2>
        )}
        <dl className={css.values}>
          <dt className="caption">{ink.kind}</dt>
          <dd>{count(ink.places, 'colour space')}</dd>
          <dt className="caption">Lab</dt>
          <dd className="mono">{lab ? lab.map((v) => v.toFixed(1)).join(' ') : 'not known'}</dd>
          {ink.solidity !== null && (
            <>
              <dt className="caption">Opacity</dt>
              <dd className="mono">{ink.solidity.toFixed(2)}</dd>
            </>
          )}
          {isSpot && (
            <>
              <dt className="caption">Spectrum</dt>
              <dd>{ink.spectral ? 'embedded' : 'not embedded'}</dd>
            </>
          )}
        </dl>
        {isSpot && (
          <>
            <Button fullWidth onClick={() => input.current?.click()}>
              Embed a measurement…
            </Button>
            <input
              ref={input}
              type="file"
              hidden
              aria-label="A measurement of the ink"
              onChange={(e) => {
                const [file] = e.target.files ?? [];
                e.target.value = '';
                if (file) void measure(file);
              }}
            />
            <Button fullWidth onClick={() => pdf.change({ do: 'over', name: ink.name })}>
              Print over what lies below
            </Button>
            <Button fullWidth onClick={() => pdf.change({ do: 'process', name: ink.name })}>
              Print in process inks
            </Button>
            {others.length > 0 && (
              <div>
                <Choose
                  label="print on the plate of"
                  value={into}
                  values={[['', 'its own'], ...others.map((o) => [o.name, o.name] as const)]}
                  onChange={(name) => {
                    setInto('');
                    if (!name) return;
                    pdf.change({ do: 'merge', from: ink.name, into: name }, () => onRenamed(name));
                  }}
                />
              </div>
            )}
            {near && near.length > 0 && (
              <section aria-label="Replace it with">
                <p className="caption">Replace it with</p>
                {near.map((f) => (
                  <PlainButton
                    key={`${f.source} ${f.id}`}
                    className={css.near}
                    title={`${f.name}, ${f.sourceName}`}
                    onClick={() => void replace(f.source, f.id)}
                  >
                    <span className={css.chip} style={{ background: hexOf(f.lab) }} />
                    <span className="cut">{f.name}</span>
                    <span className="mono caption">{f.difference.toFixed(1)}</span>
                  </PlainButton>
                ))}
              </section>
            )}
          </>
        )}
      </div>
    </>
  );
}
