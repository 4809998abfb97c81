import Button from '@mui/material/Button';
import { useState } from 'react';
import { conditionOf } from '#core/color/index';
import { withDensity } from '#core/formats/png/density';
import { baseName, fileName } from '#core/text/names';
import { madeIn } from '~/features/shared/artwork/made';
import { asImage } from '~/features/shared/artwork/use-painted';
import { pressOf } from '~/messages/artwork-messages';
import { useStores } from '~/state/stores';
import { download } from '~/ui/download';
import { ExportOptions } from '~/ui/export-options';
import { BottomBar } from '~/ui/Frame';
import { SelectField } from '~/ui/field';
import { NumberField } from '~/ui/number-field';
import { pngOf } from '~/ui/png';
import { Progress } from '~/ui/progress';
import { count } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { useToast } from '~/ui/toast';
import { useJob } from '~/ui/use-job';
import { sizeText } from './entries';
import css from './OutBar.module.css';
import type { ApplyState } from './use-apply';

/** The longest picture a browser's canvas holds, pixels. */
const MAX_SIDE_PIXELS = 16_384;

/** What the colourway is, and the files it goes out in. */
export function OutBar({ state }: { state: ApplyState }) {
  const { artwork, facts, colorway, colorways, rows, made, rowsOf, swatchOf, condition, library } = state;
  const { artworks } = useStores();
  const toast = useToast();
  const [links, setLinks] = useState<'' | 'classes' | 'variables'>('');
  const [dpi, setDpi] = useState(300);
  const [every, setEvery] = useState(false);
  const [sheet, setSheet] = useState(false);
  const [fresh, setFresh] = useState(false);
  const [x4, setX4] = useState(false);
  const { job, start, stop } = useJob(() => artworks.client.stopAll());
  if (!artwork || !facts || !made) return null;
  const hash = artwork.data.asset;
  const isPicture = facts.form === 'picture';
  const isPdf = facts.form === 'pages';
  const linked = rows.filter((r) => r.swatch);
  const kinds = new Set(linked.flatMap((r) => (r.swatch!.kind === 'spot' ? [r.swatch!.id] : [])));
  const lines = rows.filter((r) => r.line).length + (artwork.data.outlines?.length ?? 0);
  const name = (ending: string) =>
    fileName(colorway ? `${baseName(artwork.name)} ${colorway.name}` : baseName(artwork.name), ending);

  const run = (what: string, make: (stage: (text: string) => void) => Promise<void>) =>
    start(
      'Making the file',
      async ({ stage }) => {
        stage(what);
        await make(stage);
      },
      (why) => `${what} was not made: ${why}`,
    );
  const svg = () =>
    run('The SVG', async () => {
      const bytes = await artworks.client.ask('svg', { hash, made, ...(links ? { links } : {}) });
      download(name('svg'), bytes, 'image/svg+xml');
    });
  const png = () =>
    run('The PNG', async () => {
      const picture = await artworks.client.ask('paint', { hash, made });
      if (isPicture) {
        download(name('png'), picture, 'image/png');
        return;
      }
      const { width, height, unit } = made.size;
      const inches = unit === 'mm' ? 25.4 : 96;
      const [w, h] = [width, height].map((v) => Math.max(1, Math.round((v / inches) * dpi))) as [
        number,
        number,
      ];
      if (Math.max(w, h) > MAX_SIDE_PIXELS)
        throw new Error(
          `it would be ${Math.max(w, h).toLocaleString('en-GB')} pixels long. Take fewer to an inch.`,
        );
      const image = isPdf ? await asImage(picture, made.page, Math.max(w, h)) : picture;
      download(name('png'), withDensity(await pngOf(image, w, h), dpi), 'image/png');
    });
  const pdf = () =>
    run('The PDF', async (stage) => {
      const pageOf = (one: typeof colorway) => ({
        made: madeIn(artwork, facts, rowsOf(one), swatchOf, condition),
        name: one?.name || 'As drawn',
      });
      const pages =
        every && !isPdf && colorways.length > 0
          ? colorways.map(pageOf)
          : [{ made, name: colorway?.name || 'As drawn' }];
      const { bytes, warnings } = await artworks.client.ask(
        'pdf',
        {
          ...{ hash, pages, title: baseName(artwork.name) },
          press: pressOf(library, conditionOf(library)),
          ...(isPdf ? { fresh } : { sheet, x4 }),
        },
        stage,
      );
      download(
        every && !isPdf ? fileName(`${baseName(artwork.name)} colourways`, 'pdf') : name('pdf'),
        bytes,
        'application/pdf',
      );
      if (warnings.length > 0) toast({ text: warnings.join(' '), stays: true });
    });
  const size = made.size.unit === 'mm' ? sizeText(made.size) : 'size in pixels';
  return (
    <BottomBar label="Take the work">
      <strong>Colourway</strong>
      <span className={`caption cut ${css.facts}`} role="status">
        {[
          colorway?.name || 'As drawn',
          `${linked.length} of ${rows.length} colours from the library`,
          kinds.size > 0 ? count(kinds.size, 'spot ink') : '',
          lines > 0 ? count(lines, 'line for a machine', 'lines for a machine') : '',
          size,
        ]
          .filter(Boolean)
          .join(' · ')}
      </span>
      {!isPicture && (
        <ExportOptions>
          {!isPdf && (
            <label>
              <span className="caption">SVG: which swatch a part has</span>
              <SelectField value={links} onChange={(e) => setLinks(e.target.value as typeof links)}>
                <option value="">None</option>
                <option value="classes">CSS classes</option>
                <option value="variables">CSS custom properties</option>
              </SelectField>
            </label>
          )}
          <NumberField
            label="PNG: pixels to an inch"
            value={dpi}
            min={10}
            max={2400}
            step={10}
            onChange={setDpi}
          />
          {isPdf ? (
            <Tick
              checked={fresh}
              onChange={setFresh}
              label="PDF: a new file without the old colours, not an update behind the old file"
            />
          ) : (
            <>
              <Tick
                checked={every}
                onChange={setEvery}
                label={`PDF: a page for each of ${count(Math.max(1, colorways.length), 'colourway')}`}
              />
              <Tick
                checked={sheet}
                onChange={setSheet}
                label="PDF: and a sheet with their swatches, names and numbers"
              />
              <Tick
                checked={x4}
                onChange={setX4}
                label="PDF/X-4: with the profile it is printed on, and spectra where they are known"
              />
            </>
          )}
        </ExportOptions>
      )}
      {!isPicture && !isPdf && (
        <Button disabled={!!job} onClick={() => void svg()}>
          SVG
        </Button>
      )}
      <Button variant={isPicture ? 'contained' : 'outlined'} disabled={!!job} onClick={() => void png()}>
        PNG
      </Button>
      {!isPicture && (
        <Button variant="contained" disabled={!!job} onClick={() => void pdf()}>
          {isPdf ? 'Save PDF' : 'PDF with separations'}
        </Button>
      )}
      {job && <Progress {...job} onStop={stop} />}
    </BottomBar>
  );
}
