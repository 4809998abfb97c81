import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { ChevronDown, X } from 'lucide-react';
import { nanoid } from 'nanoid';
import { useState } from 'react';
import { fromRgb8, toHex } from '#core/color/index';
import { type PaletteColor, type PaletteOrder, paletteOrders } from '#core/picture/index';
import { appendEdit, type Swatch } from '#core/swatch/index';
import { useTray } from '~/state/tray';
import { count } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import { colorKey, type PaletteState } from './palette';

/** More colours than this are shown as a dense grid instead of rows. */
const MOST_ROWS = 40;

/** The palette as it stands, and the way into the tray. */
export function PaletteList({
  palette,
  pictureName,
  width,
}: {
  palette: PaletteState;
  pictureName: string;
  width: number;
}) {
  const tray = useTray();
  const toast = useToast();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { ordered, method } = palette;
  const largest = Math.max(...ordered.map(({ color }) => color.share), 1e-9);
  const shares = method !== 'point';

  const gather = () => {
    const swatches = ordered.map(
      ({ color }): Swatch => ({
        id: nanoid(12),
        name: hexOf(color).toUpperCase(),
        kind: 'process',
        color: fromRgb8(...color.rgb),
        origin: {
          from: 'picture',
          name: pictureName,
          point: [color.first % width, Math.floor(color.first / width)],
        },
      }),
    );
    tray.edit(appendEdit(tray.snapshot().library, 'tray', swatches));
    toast({
      text: `${count(swatches.length, 'colour')} in the tray.`,
      action: { label: 'Undo', run: () => tray.undo() },
    });
  };

  return (
    <section aria-label="Palette" className="palette-column">
      <div style={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center', height: 30 }}>
        <strong role="status">{count(ordered.length, 'colour')}</strong>
        {method !== 'point' && (
          <>
            <button
              type="button"
              className="tab"
              style={{ display: 'flex', gap: 4, alignItems: 'center' }}
              aria-haspopup="menu"
              onClick={(e) => setAnchor(e.currentTarget)}
            >
              by {paletteOrders[palette.order].label} <ChevronDown size={13} />
            </button>
            <Menu anchorEl={anchor} open={!!anchor} onClose={() => setAnchor(null)}>
              {(Object.keys(paletteOrders) as PaletteOrder[]).map((id) => (
                <MenuItem
                  key={id}
                  selected={id === palette.order}
                  onClick={() => {
                    palette.setOrder(id);
                    setAnchor(null);
                  }}
                >
                  by {paletteOrders[id].label}
                </MenuItem>
              ))}
            </Menu>
          </>
        )}
      </div>
      <div style={{ overflow: 'auto', flex: '0 1 auto', minHeight: 0 }}>
        {ordered.length > MOST_ROWS ? (
          <div className="palette-grid">
            {ordered.map(({ color, merge }) => (
              <button
                key={colorKey(color)}
                type="button"
                title={`${hexOf(color)} · ${percent(color.share)}${merge ? ' · would merge' : ''} · click to remove`}
                aria-label={`Remove ${hexOf(color)}`}
                onClick={() => palette.remove(color)}
                style={{
                  height: 24,
                  background: hexOf(color),
                  border: 0,
                  cursor: 'pointer',
                  opacity: merge ? 0.45 : 1,
                }}
              />
            ))}
          </div>
        ) : (
          ordered.map(({ color, merge }) => (
            <div key={colorKey(color)} className={`palette-row${merge ? ' goes' : ''}`}>
              <span style={{ height: 22, background: hexOf(color) }} />
              <span style={{ minWidth: 0 }}>
                <span className="mono">{hexOf(color).toUpperCase()}</span>
                {shares && (
                  <span
                    className="share"
                    style={{ display: 'block', width: `${(color.share / largest) * 100}%` }}
                  />
                )}
              </span>
              <span className="mono">
                {shares ? percent(color.share) : `${color.first % width}, ${Math.floor(color.first / width)}`}
              </span>
              <button
                type="button"
                className="x"
                aria-label={`Remove ${hexOf(color)}`}
                onClick={() => palette.remove(color)}
              >
                <X size={14} />
              </button>
            </div>
          ))
        )}
        {ordered.length === 0 && (
          <p className="second">{method === 'point' ? 'No colour taken yet.' : 'No colours.'}</p>
        )}
      </div>
      {ordered.length > 0 && (
        <div style={{ paddingTop: 12 }}>
          <Button variant="contained" fullWidth onClick={gather}>
            Put {ordered.length} in the tray
          </Button>
        </div>
      )}
    </section>
  );
}

const hexOf = (c: PaletteColor) => toHex(fromRgb8(...c.rgb));
const percent = (share: number) => (share >= 0.0005 ? `${(share * 100).toFixed(1)} %` : '< 0.1 %');
