import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import Slider from '@mui/material/Slider';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useEffect, useState } from 'react';
import { fromRgb8, toHex } from '#core/color/index';
import { FEWEST, MOST, SAMPLE_SIZES, type SampleSize } from '#core/picture/index';
import { count as many } from '~/ui/swatch';
import type { Method, PaletteState } from './palette';

/** The count slider goes by doubling, so that few colours are as easy to set as many. */
const toStep = (n: number) => Math.log2(n) * 100;
const fromStep = (s: number) => Math.round(2 ** (s / 100));

const hex = (rgb: [number, number, number]) => toHex(fromRgb8(...rgb));

/** How the palette is taken. */
export function Controls({ palette, opaque }: { palette: PaletteState; opaque: number }) {
  return (
    <section aria-label="How" className="controls-column">
      <ToggleButtonGroup
        exclusive
        fullWidth
        value={palette.method}
        onChange={(_, next: Method | null) => next && palette.setMethod(next)}
        aria-label="Method"
      >
        <ToggleButton value="reduce">Reduce</ToggleButton>
        <ToggleButton value="exact">Exact</ToggleButton>
        <ToggleButton value="point">Point</ToggleButton>
      </ToggleButtonGroup>
      {opaque === 0 && <p>Every pixel of this picture is transparent, so there is no colour to take.</p>}
      {palette.method === 'reduce' && <CountControl palette={palette} />}
      {palette.method === 'exact' && <ExactControl palette={palette} />}
      {palette.method === 'point' && (
        <div style={{ marginTop: 16 }}>
          <span id="sample-size">Mean of</span>
          <ToggleButtonGroup
            exclusive
            fullWidth
            sx={{ mt: 1 }}
            value={palette.sampleSize}
            onChange={(_, next: SampleSize | null) => next && palette.setSampleSize(next)}
            aria-labelledby="sample-size"
          >
            {SAMPLE_SIZES.map((n) => (
              <ToggleButton key={n} value={n} sx={{ px: 0.5 }}>
                {n === 1 ? '1 pixel' : `${n} × ${n}`}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
        </div>
      )}
      <div style={{ marginTop: 16 }}>
        <Row label="Look-alikes under" value={`ΔE00 ${palette.threshold.toFixed(1)}`} />
        <Slider
          min={0}
          max={20}
          step={0.1}
          value={palette.threshold}
          onChange={(_, v) => palette.setThreshold(v as number)}
          aria-label="Look-alikes under, ΔE00"
        />
        <p className="caption" style={{ margin: '2px 0 8px' }} role="status">
          {palette.wouldMerge.length === 0
            ? 'No two colours are that close.'
            : `${many(palette.wouldMerge.length, 'colour')} would merge into a larger one`}
        </p>
        {palette.wouldMerge.length > 0 && (
          <>
            <div style={{ display: 'flex', flexWrap: 'wrap', gap: 6, marginBottom: 10 }} aria-hidden>
              {palette.wouldMerge.slice(0, 12).map((m) => (
                <span
                  key={m.gone}
                  className="wing"
                  style={{ width: 46, height: 20 }}
                  title={`ΔE00 ${m.deltaE00.toFixed(1)}`}
                >
                  <i style={{ background: hex(palette.palette[m.gone].rgb) }} />
                  <i style={{ background: hex(palette.palette[m.into].rgb) }} />
                </span>
              ))}
            </div>
            <Button onClick={palette.merge}>Merge {palette.wouldMerge.length}</Button>
          </>
        )}
      </div>
      <hr className="rule" />
      <Button variant="text" sx={{ px: 0 }} disabled={!palette.altered} onClick={palette.startOver}>
        {palette.method === 'point' ? 'Clear the points' : 'Start over'}
      </Button>
    </section>
  );
}

export function Row({ label, value }: { label: string; value: string }) {
  return (
    <div style={{ display: 'flex', justifyContent: 'space-between' }}>
      <span>{label}</span>
      <span className="mono">{value}</span>
    </div>
  );
}

function CountControl({ palette }: { palette: PaletteState }) {
  const [typed, setTyped] = useState(String(palette.count));
  useEffect(() => setTyped(String(palette.count)), [palette.count]);
  const settle = () => {
    const n = Math.round(Number(typed));
    if (typed.trim() !== '' && Number.isFinite(n)) palette.setCount(Math.min(MOST, Math.max(FEWEST, n)));
    setTyped(String(palette.count));
  };
  return (
    <div style={{ marginTop: 16 }}>
      <div style={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center' }}>
        <span id="count-label">Colours</span>
        <input
          className="plain-input mono"
          style={{ width: 52, textAlign: 'right' }}
          inputMode="numeric"
          aria-label="How many colours"
          value={typed}
          onChange={(e) => {
            setTyped(e.target.value);
            const n = Number(e.target.value);
            if (Number.isInteger(n) && n >= FEWEST && n <= MOST) palette.setCount(n);
          }}
          onBlur={settle}
          onKeyDown={(e) => e.key === 'Enter' && settle()}
        />
      </div>
      <Slider
        min={toStep(FEWEST)}
        max={toStep(MOST)}
        value={toStep(palette.count)}
        onChange={(_, v) => palette.setCount(fromStep(v as number))}
        onKeyDown={(e) => {
          // a key changes the count by one; the slider's own step would be lost in rounding
          const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[
            e.key
          ];
          if (!by) return;
          e.preventDefault();
          e.stopPropagation();
          palette.setCount(Math.min(MOST, Math.max(FEWEST, palette.count + by)));
        }}
        scale={fromStep}
        aria-labelledby="count-label"
      />
      <div className="caption" style={{ display: 'flex', justifyContent: 'space-between' }}>
        {[10, 24, 64, 256].map((n) => (
          <button
            key={n}
            type="button"
            className="tab caption"
            style={{ padding: 0 }}
            aria-pressed={palette.count === n}
            onClick={() => palette.setCount(n)}
          >
            {n}
          </button>
        ))}
      </div>
    </div>
  );
}

function ExactControl({ palette }: { palette: PaletteState }) {
  const { exact } = palette;
  if (!exact)
    return (
      <p className="second" role="status">
        Reading every colour…
      </p>
    );
  const background = exact.background.length > 0 || palette.keepBackground;
  return (
    <div style={{ marginTop: 14 }} role="status">
      <p style={{ margin: '0 0 6px' }}>
        {exact.distinct > MOST
          ? `The picture has ${many(exact.distinct, 'colour')}; these are the first ${MOST} in reading order. Reduce gives a palette of the whole.`
          : exact.chart
            ? `A chart of ${many(exact.colors.length + exact.repeats, 'square')}, read in rows.`
            : `All ${many(exact.distinct, 'colour')}, in the order they appear.`}
        {exact.repeats > 0 &&
          ` ${many(exact.repeats, 'square repeats', 'squares repeat')} a colour and ${exact.repeats === 1 ? 'is' : 'are'} named once.`}
      </p>
      {background && (
        <FormControlLabel
          control={
            <Checkbox checked={palette.keepBackground} onChange={(_, on) => palette.setKeepBackground(on)} />
          }
          label="Take the background too"
        />
      )}
    </div>
  );
}
