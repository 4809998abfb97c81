import { useRef, useState } from 'react';
import { toLab } from '#core/color/index';
import type { Verified } from '#core/picture/index';
import { allSwatches, type Swatch } from '#core/swatch/index';
import { useCondition } from '~/ui/condition';
import { PlainButton } from '~/ui/plain-button';
import { Progress } from '~/ui/progress';
import { Setting } from '~/ui/setting';
import { count } from '~/ui/swatch';
import { useJob } from '~/ui/use-job';
import { openFilesClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import type { TakeState } from './use-take';

/** Brings the picture to what a reference chart in it measures: its colours are Lab then, and estimated. */
export function CorrectionControl({ state: { recipe, set, source, store } }: { state: TakeState }) {
  const { correction } = recipe;
  const condition = useCondition();
  const files = useClient(openFilesClient);
  const { job, start, stop } = useJob(files.stop);
  const input = useRef<HTMLInputElement>(null);
  const second = useRef<HTMLInputElement>(null);
  const [verified, setVerified] = useState<Verified | null>(null);
  /** The values of a chart's patches, in the order of their list. */
  const valuesOf = async (file: File, stage: (text: string) => void) => {
    const [came] = await files.ask('read', { files: [{ file, path: file.name }], text: false }, stage);
    if (came?.kind !== 'swatches')
      throw new Error(
        `${file.name} has no values of a chart. Choose the file that came with it: CGATS, CxF or CSV with Lab or spectra, one row for each patch.`,
      );
    return allSwatches(came.read.library).map((s: Swatch) => toLab(s.color, condition));
  };
  const read = (file: File) =>
    start('Reading the reference chart', async ({ stage, isWanted }) => {
      const known = await valuesOf(file, stage);
      stage('Fitting the picture to it');
      const asked = { id: source[0]!, known, reference: file.name, grid: recipe.grid };
      const found = await store.client.ask('correct', asked);
      if (!isWanted()) return;
      setVerified(null);
      set({ correction: found });
    });
  const verify = (file: File) =>
    start('Reading the second chart', async ({ stage, isWanted }) => {
      if (!correction) return;
      const known = await valuesOf(file, stage);
      const asked = { id: source[0]!, correction, known, reference: file.name, grid: recipe.grid };
      const found = await store.client.ask('verify', asked);
      if (isWanted()) setVerified(found);
    });
  return (
    <Setting label="Reference chart">
      {correction ? (
        <>
          <p className="caption" role="status">
            Corrected by {correction.reference}: colours are Lab, estimated. ΔE00 {correction.mean.toFixed(1)}{' '}
            on average, {correction.p95.toFixed(1)} for 95 % of the patches, {correction.max.toFixed(1)} at
            most.
          </p>
          <p className="caption">
            {[
              `${count(correction.patches, 'patch', 'patches')}, root polynomial of degree ${correction.degree}`,
              correction.clipped > 0 && `${correction.clipped} too bright or dark, left out`,
              correction.shadowed > 0 && `${correction.shadowed} in a shadow or glare, left out`,
            ]
              .filter(Boolean)
              .join('; ')}
            .
          </p>
          {verified && (
            <p className="caption" role="status">
              On {verified.reference}, {count(verified.patches, 'patch', 'patches')}: ΔE00{' '}
              {verified.mean.toFixed(1)} on average, {verified.max.toFixed(1)} at most.
            </p>
          )}
          <p className="caption">
            <PlainButton look="link" onClick={() => second.current?.click()}>
              Check with a second chart…
            </PlainButton>
          </p>
          <PlainButton look="link" onClick={() => set({ correction: undefined })}>
            As the picture is
          </PlainButton>
        </>
      ) : (
        <PlainButton look="link" onClick={() => input.current?.click()}>
          Correct by a chart in the picture…
        </PlainButton>
      )}
      {(
        [
          [input, 'Values of the reference chart', read],
          [second, 'Values of the second chart', verify],
        ] as const
      ).map(([ref, label, take]) => (
        <input
          key={label}
          ref={ref}
          type="file"
          hidden
          aria-label={label}
          onChange={(e) => {
            const [file] = e.target.files ?? [];
            // the same file can be chosen again
            e.target.value = '';
            if (file) void take(file);
          }}
        />
      ))}
      {job && <Progress {...job} onStop={stop} />}
    </Setting>
  );
}
