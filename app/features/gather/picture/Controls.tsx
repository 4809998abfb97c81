import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { memo } from 'react';
import { screenOnly, toHex } from '#core/color/index';
import {
  type Amendment,
  colorKey,
  largestCell,
  MAX_PALETTE_COLORS,
  METHODS,
  type Method,
  MIN_PALETTE_COLORS,
  plainRecipe,
  SAMPLE_SIZES,
  type SampleSize,
} from '#core/picture/index';
import type { OpenedPicture } from '~/messages/picture-messages';
import { NumberField } from '~/ui/number-field';
import { useOneStop } from '~/ui/one-stop';
import { PlainButton } from '~/ui/plain-button';
import { Setting } from '~/ui/setting';
import { count as many } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { WingPair } from '~/ui/wing-pair';
import { StepButtons } from '../StepButtons';
import { ChartControl } from './ChartControl';
import css from './Controls.module.css';
import { CorrectionControl } from './CorrectionControl';
import { HeldColors } from './HeldColors';
import { LineControl } from './LineControl';
import type { Tool } from './PictureView';
import { RegionControl } from './RegionControl';
import type { Pair, TakeState } from './use-take';

/** The count slider goes by doubling, so that few colours are as easy to set as many. */
const toStep = (n: number) => Math.log2(n) * 100;
const fromStep = (s: number) => Math.round(2 ** (s / 100));

const METHOD_NAMES: Record<Method, string> = {
  reduce: 'Reduce',
  exact: 'Exact',
  chart: 'Chart',
  point: 'Point',
};

/** How the palette is taken. */
export function Controls({
  state,
  opened,
  tool,
  setTool,
  onLine,
}: {
  state: TakeState;
  /** The one picture; null when several are taken together. */
  opened: OpenedPicture | null;
  tool: Tool;
  setTool(tool: Tool): void;
  /** Makes a gradient along a line, where there is a library for it. */
  onLine: ((from: [number, number], to: [number, number]) => void) | null;
}) {
  const { recipe, set } = state;
  const { method } = recipe;
  const altered =
    recipe.amendments.length > 0 ||
    recipe.held.length > 0 ||
    recipe.accent > 0 ||
    recipe.cell > 1 ||
    recipe.region !== null ||
    recipe.grid !== null ||
    recipe.points.length > 0;
  return (
    <section aria-label="How" className={css.column}>
      {opened && (
        <ToggleButtonGroup
          exclusive
          fullWidth
          value={method}
          onChange={(_, next: Method | null) => {
            if (!next) return;
            setTool('look');
            set({ method: next });
          }}
          aria-label="Method"
        >
          {METHODS.map((m) => (
            <ToggleButton key={m} value={m} sx={{ px: 0.5 }}>
              {METHOD_NAMES[m]}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      )}
      {opened?.opaque === 0 && <p>Every pixel of this picture is transparent, so it has no colours.</p>}
      {method === 'reduce' && (
        <>
          <CountControl count={recipe.count} set={set} />
          <BalanceControl accent={recipe.accent} set={set} />
        </>
      )}
      {method === 'exact' && <ExactControl state={state} />}
      {method === 'chart' && opened && <ChartControl state={state} opened={opened} />}
      {method === 'point' && recipe.cell <= 1 && (
        <Setting label="Mean of">
          <ToggleButtonGroup
            exclusive
            fullWidth
            value={recipe.sampleSize}
            onChange={(_, next: SampleSize | null) => next && set({ sampleSize: next })}
            aria-label="Mean of"
          >
            {SAMPLE_SIZES.map((n) => (
              <ToggleButton key={n} value={n} sx={{ px: 0.5 }}>
                {n === 1 ? '1 pixel' : `${n} × ${n}`}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
        </Setting>
      )}
      <LookAlikes pairs={state.pairs} threshold={recipe.threshold} amendments={recipe.amendments} set={set} />
      {opened && method !== 'chart' && (
        <CellControl cell={recipe.cell} most={largestCell(opened)} set={set} />
      )}
      {method === 'reduce' && <HeldColors held={recipe.held} set={set} />}
      {opened && (method === 'reduce' || method === 'exact') && (
        <RegionControl region={recipe.region} set={set} opened={opened} tool={tool} setTool={setTool} />
      )}
      {opened && state.source.length === 1 && <CorrectionControl state={state} />}
      {opened && onLine && <LineControl opened={opened} tool={tool} setTool={setTool} onLine={onLine} />}
      <hr />
      <div className={css.steps}>
        <Button
          variant="text"
          sx={{ px: 0 }}
          disabled={!altered}
          onClick={() => {
            setTool('look');
            set({ ...plainRecipe, method, count: recipe.count, order: recipe.order, amendments: [] });
          }}
        >
          {method === 'point' ? 'Clear the points' : 'Start over'}
        </Button>
        <StepButtons
          steps={state.store.stepsOf(state.board)}
          go={(way) => state.store.step(state.board, way)}
        />
      </div>
    </section>
  );
}

type Set = TakeState['set'];

// each is redrawn only when its own value changes, so that a dragging hand moves one slider and not all
const CountControl = memo(function CountControl({ count, set }: { count: number; set: Set }) {
  const stop = useOneStop<HTMLDivElement>();
  const onChange = (next: number) => set({ count: next });
  const within = (n: number) => Math.min(MAX_PALETTE_COLORS, Math.max(MIN_PALETTE_COLORS, n));
  return (
    <Setting
      label="Colours"
      value={
        <NumberField
          silent
          label="How many colours"
          value={count}
          min={MIN_PALETTE_COLORS}
          max={MAX_PALETTE_COLORS}
          onChange={onChange}
        />
      }
    >
      <Slider
        min={toStep(MIN_PALETTE_COLORS)}
        max={toStep(MAX_PALETTE_COLORS)}
        value={toStep(count)}
        onChange={(_, v) => onChange(fromStep(v as number))}
        onKeyDown={(e) => {
          // a key changes the count by one; the slider's own step would be lost in rounding
          const steps = {
            ArrowRight: 1,
            ArrowUp: 1,
            ArrowLeft: -1,
            ArrowDown: -1,
            PageUp: 10,
            PageDown: -10,
          };
          const by = steps[e.key as keyof typeof steps];
          if (!by) return;
          e.preventDefault();
          e.stopPropagation();
          onChange(within(count + by));
        }}
        scale={fromStep}
        aria-label="Colours"
      />
      <div {...stop} className={`caption ${css.usual}`}>
        {[5, 10, 24, 64, 256].map((n) => (
          <PlainButton
            look="tab"
            key={n}
            className="caption"
            aria-pressed={count === n}
            onClick={() => onChange(n)}
          >
            {n}
          </PlainButton>
        ))}
      </div>
    </Setting>
  );
});

const BalanceControl = memo(function BalanceControl({ accent, set }: { accent: number; set: Set }) {
  return (
    <Setting
      label={
        <>
          Areas <span className="second">to</span> accents
        </>
      }
      value={accent.toFixed(2)}
    >
      <Slider
        min={0}
        max={1}
        step={0.01}
        value={accent}
        onChange={(_, v) => set({ accent: v as number })}
        aria-label="Balance, from areas to accents"
      />
    </Setting>
  );
});

/** The side of the cells goes by doubling too. */
const CellControl = memo(function CellControl({ cell, most, set }: { cell: number; most: number; set: Set }) {
  const onChange = (next: number) => set({ cell: next });
  if (most < 2) return null;
  return (
    <Setting label="Cells" value={cell <= 1 ? 'off' : `${cell} px`}>
      <Slider
        min={0}
        max={toStep(most)}
        value={toStep(Math.min(cell, most))}
        onChange={(_, v) => onChange(Math.min(most, Math.max(1, fromStep(v as number))))}
        onKeyDown={(e) => {
          const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key];
          if (!by) return;
          e.preventDefault();
          e.stopPropagation();
          onChange(Math.min(most, Math.max(1, cell + by)));
        }}
        scale={fromStep}
        aria-label="Cells, side in pixels"
      />
    </Setting>
  );
});

const LookAlikes = memo(function LookAlikes({
  pairs,
  threshold,
  amendments,
  set,
}: {
  pairs: Pair[];
  threshold: number;
  amendments: Amendment[];
  set: Set;
}) {
  const amend = (list: { pair: Pair; keep: 'left' | 'right' | 'mean' }[]) =>
    set({
      amendments: [
        ...amendments,
        ...list.map(({ pair, keep }) => ({ left: colorKey(pair.left), right: colorKey(pair.right), keep })),
      ],
    });
  return (
    <Setting label="Look-alikes under" value={`ΔE00 ${threshold.toFixed(1)}`}>
      <Slider
        min={0}
        max={20}
        step={0.1}
        value={threshold}
        onChange={(_, v) => set({ threshold: v as number })}
        aria-label="Look-alikes under, ΔE00"
      />
      <p className={`caption ${css.said}`} role="status">
        {pairs.length === 0 ? 'No two colours are that close.' : `${many(pairs.length, 'pair')} would merge`}
      </p>
      {pairs.length > 0 && (
        <>
          <div className={css.pairs}>
            {pairs.slice(0, 12).map((pair) => (
              <div key={`${colorKey(pair.left)}/${colorKey(pair.right)}`} className={css.pair}>
                <span title={`ΔE00 ${pair.deltaE00.toFixed(1)}`}>
                  <WingPair
                    left={toHex(pair.left.color, screenOnly)}
                    right={toHex(pair.right.color, screenOnly)}
                  />
                </span>
                <span className={css.keep}>
                  {(['left', 'mean', 'right'] as const).map((keep) => (
                    <PlainButton
                      look="tab"
                      key={keep}
                      className="caption"
                      onClick={() => amend([{ pair, keep }])}
                      aria-label={`Keep ${keep === 'mean' ? 'the mean' : `the ${keep} one`} of ${toHex(pair.left.color, screenOnly)} and ${toHex(pair.right.color, screenOnly)}`}
                    >
                      {keep}
                    </PlainButton>
                  ))}
                </span>
                <span className="mono caption">{pair.deltaE00.toFixed(1)}</span>
              </div>
            ))}
            {pairs.length > 12 && <span className="caption">and {pairs.length - 12} more</span>}
          </div>
          <Button onClick={() => amend(pairs.map((pair) => ({ pair, keep: 'left' })))}>
            {pairs.length === 1 ? 'Merge into the larger' : `Merge all ${pairs.length} into the larger`}
          </Button>
        </>
      )}
    </Setting>
  );
});

function ExactControl({ state: { recipe, set, answer, colors } }: { state: TakeState }) {
  const exact = answer?.exact;
  if (!exact)
    return (
      <p className="second" role="status">
        Reading every colour…
      </p>
    );
  const background = exact.background.length > 0 || recipe.keepBackground;
  return (
    <div className={css.exact} role="status">
      <p>
        {exact.distinct > MAX_PALETTE_COLORS
          ? `The picture has ${many(exact.distinct, 'colour')}; these are the first ${MAX_PALETTE_COLORS} in reading order. Reduce gives a palette of the whole, Chart the chips of a photographed chart.`
          : exact.chart
            ? `A chart of ${many(answer.found + exact.repeats, 'square')}, read in rows.`
            : `All ${many(exact.distinct, 'colour')}, in the order they appear.`}
        {exact.repeats > 0 &&
          ` ${many(exact.repeats, 'square repeats', 'squares repeat')} a colour and ${exact.repeats === 1 ? 'is' : 'are'} named once.`}
        {colors.length === 0 && exact.distinct === 0 && ' The region is fully transparent.'}
      </p>
      {background && (
        <Tick
          checked={recipe.keepBackground}
          onChange={(keepBackground) => set({ keepBackground })}
          label="Take the background too"
        />
      )}
    </div>
  );
}
