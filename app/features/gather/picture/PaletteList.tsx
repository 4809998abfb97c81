import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { ChevronDown, X } from 'lucide-react';
import { nanoid } from 'nanoid';
import { memo, useState } from 'react';
import { screenOnly, toHex } from '#core/color/index';
import {
  type Correction,
  colorKey,
  NEVER,
  type PaletteColor,
  type PaletteOrder,
  paletteOrders,
} from '#core/picture/index';
import type { Origin, Swatch } from '#core/swatch/index';
import type { OpenPicture } from '~/state/picture-store';
import { useOneStop } from '~/ui/one-stop';
import { PlainButton } from '~/ui/plain-button';
import { RenameField } from '~/ui/rename-field';
import { count } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { useToast } from '~/ui/toast';
import { openFilesClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import { ToTray } from '../ToTray';
import { FitCharts } from './FitCharts';
import css from './PaletteList.module.css';
import { fits, remove, rename, type TakeState, useNames } from './use-take';

/** More colours than this are shown as a dense grid instead of rows. */
const MAX_ROWS = 40;

/** The palette as it stands, and the ways out of it. */
export const PaletteList = memo(function PaletteList({
  state,
  pictures,
}: {
  state: TakeState;
  pictures: OpenPicture[];
}) {
  const { recipe, colors, pairs, set, change, take } = state;
  const names = useNames(state);
  const stop = useOneStop<HTMLDivElement>('[data-stop]');
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [renaming, setRenaming] = useState<string | null>(null);
  const largest = Math.max(...colors.map((c) => c.share), 1e-9);
  const shares = fits(recipe.method);
  const goes = new Set(pairs.map((p) => colorKey(p.right)));
  const swatches = colors.map(
    (color, i): Swatch => ({
      id: nanoid(12),
      name: names[i].text,
      kind: 'process',
      color: color.color,
      ...(recipe.correction && !color.held ? { note: estimateText(recipe.correction) } : {}),
      origin: originOf(color, pictures),
    }),
  );

  return (
    <section aria-label="Palette" className={css.column}>
      <div className={css.head}>
        <strong role="status">{count(colors.length, 'colour')}</strong>
        <PlainButton
          look="tab"
          className={css.order}
          aria-haspopup="menu"
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          {recipe.method === 'point' ? 'as taken' : `by ${paletteOrders[recipe.order].label}`}{' '}
          <ChevronDown size={13} />
        </PlainButton>
        <Menu anchorEl={anchor} open={!!anchor} onClose={() => setAnchor(null)}>
          {recipe.method !== 'point' &&
            (Object.keys(paletteOrders) as PaletteOrder[]).map((id) => (
              <MenuItem
                key={id}
                selected={id === recipe.order}
                onClick={() => {
                  set({ order: id });
                  setAnchor(null);
                }}
              >
                by {paletteOrders[id].label}
              </MenuItem>
            ))}
          <MenuItem disableRipple>
            <Tick
              checked={take.suggest}
              onChange={(suggest) => change((t) => ({ ...t, suggest }))}
              label="Suggest names"
            />
          </MenuItem>
        </Menu>
      </div>
      {/* by place: a colour that changes is the same row in another colour, and nothing is rebuilt while a hand drags */}
      <div {...stop} className={css.list} data-no-act>
        {colors.length > MAX_ROWS ? (
          <div className={css.grid}>
            {colors.map((color, i) => (
              <PlainButton
                key={i}
                data-stop
                title={`${names[i].text} · ${toHex(color.color, screenOnly).toUpperCase()} · ${percent(color.share)} · click to remove`}
                aria-label={`Remove ${names[i].text}`}
                onClick={() => remove(state, color)}
                style={{
                  background: toHex(color.color, screenOnly),
                  opacity: goes.has(colorKey(color)) ? 0.45 : 1,
                }}
              />
            ))}
          </div>
        ) : (
          colors.map((color, i) => {
            const key = colorKey(color);
            const hex = toHex(color.color, screenOnly);
            return (
              <div key={i} className={css.row} data-goes={goes.has(key)} title={hex.toUpperCase()}>
                <span className={css.face} style={{ background: hex }}>
                  {color.held && <i aria-hidden />}
                </span>
                <span className={css.words}>
                  {renaming === key ? (
                    <RenameField
                      label={`Name of ${hex}`}
                      name={names[i].text}
                      onRename={(typed) => rename(state, color, typed.slice(0, 1000))}
                      onDone={() => setRenaming(null)}
                    />
                  ) : (
                    <PlainButton
                      className={`${css.name} cut ${take.suggest || names[i].typed ? '' : 'mono'}`}
                      data-stop
                      title={`${names[i].text} · ${hex.toUpperCase()} · click to rename, Delete removes it`}
                      onClick={() => setRenaming(key)}
                      onKeyDown={(e) => e.key === 'Delete' && remove(state, color)}
                    >
                      {names[i].text}
                    </PlainButton>
                  )}
                  {shares && (
                    <span className={css.share} style={{ width: `${(color.share / largest) * 100}%` }} />
                  )}
                </span>
                <span className="mono">
                  {shares
                    ? color.first === NEVER
                      ? 'held'
                      : percent(color.share)
                    : recipe.method === 'chart'
                      ? hex.toUpperCase()
                      : placeText(color, pictures)}
                </span>
                <PlainButton
                  look="icon"
                  className={css.remove}
                  tabIndex={-1}
                  aria-label={`Remove ${names[i].text}`}
                  onClick={() => remove(state, color)}
                >
                  <X size={14} />
                </PlainButton>
              </div>
            );
          })
        )}
        {colors.length === 0 && (
          <p className="second">{recipe.method === 'point' ? 'No colour taken yet.' : 'No colours.'}</p>
        )}
      </div>
      {colors.length > 0 && (
        <div className={css.actions}>
          <ToTray
            n={colors.length}
            make={() => swatches}
            isSuggested={(i) => take.suggest && !names[i].typed}
          />
          <CopyButton
            name={pictures.map((p) => p.name.replace(/\.\w+$/, '')).join(', ')}
            swatches={swatches}
          />
        </div>
      )}
      {shares && colors.length > 0 && <FitCharts fit={state.fit} colors={colors} />}
    </section>
  );
});

/** Which picture a colour was first seen in, and where. */
function placeOf(color: PaletteColor, pictures: OpenPicture[]) {
  let first = color.first;
  for (const picture of pictures) {
    const { width = 1, height = 1 } = picture.opened ?? {};
    if (first < width * height)
      return { picture, point: [first % width, Math.floor(first / width)] as [number, number] };
    first -= width * height;
  }
  return null;
}

/** What a colour of a corrected photograph is worth. */
const estimateText = ({ reference, mean, p95 }: Correction) =>
  `Estimated from a photograph with ${reference}: ΔE00 ${mean.toFixed(1)} on average, ${p95.toFixed(1)} for 95 %.`;

function originOf(color: PaletteColor, pictures: OpenPicture[]): Origin {
  const place = placeOf(color, pictures);
  return place
    ? { from: 'picture', name: place.picture.name, point: place.point }
    : { from: 'picture', name: pictures.map((p) => p.name).join(', ') };
}

const placeText = (color: PaletteColor, pictures: OpenPicture[]) =>
  placeOf(color, pictures)?.point.join(', ') ?? '';
const percent = (share: number) => (share >= 0.0005 ? `${(share * 100).toFixed(1)} %` : '< 0.1 %');

/** The palette as a picture in the clipboard, to be pasted on the page one is painting on. */
function CopyButton({ name, swatches }: { name: string; swatches: Swatch[] }) {
  const files = useClient(openFilesClient);
  const toast = useToast();
  const copy = async () => {
    const library = { id: 'sheet', name, groups: [{ id: 'all', name: '', swatches }] };
    try {
      const sheet = files
        .ask('write', { library, choice: { format: 'png', perGroup: false, options: {} } })
        .then(({ bytes, mime }) => new Blob([bytes], { type: mime }));
      // the promise goes in as it is: a clipboard must be asked for while the click still counts
      await navigator.clipboard.write([new ClipboardItem({ 'image/png': sheet })]);
      toast({ text: 'Palette copied as a picture.' });
    } catch {
      toast({
        text: 'This browser does not let the page write pictures to the clipboard. Hand over has a PNG sheet.',
      });
    }
  };
  return <Button onClick={() => void copy()}>Copy as picture</Button>;
}
