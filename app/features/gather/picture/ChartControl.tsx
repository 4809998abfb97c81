import Button from '@mui/material/Button';
import { type ChartGrid, MAX_CHIPS_PER_SIDE, plainGrid } from '#core/picture/index';
import type { OpenedPicture } from '~/messages/picture-messages';
import { NumberField, NumberFields } from '~/ui/number-field';
import { count } from '~/ui/swatch';
import css from './ChartControl.module.css';
import type { TakeState } from './use-take';

/** What was recognised of a chart, and the ways to correct it. */
export function ChartControl({
  state: { recipe, set, answer, answered },
  opened,
}: {
  state: TakeState;
  opened: OpenedPicture;
}) {
  // what the method before found says nothing of a chart
  if (!answer || answered !== 'chart')
    return (
      <p className="second" role="status">
        Reading the chart…
      </p>
    );
  if (!answer.chart)
    return (
      <div className={css.chart} role="status">
        <p>No chart found. Draw a grid over the picture, or take colours with Reduce or Point.</p>
        <Button onClick={() => set({ grid: plainGrid(opened) })}>Lay a grid</Button>
      </div>
    );
  const { grid, chips, darkest } = answer.chart;
  const repeats = chips.filter((c) => c.color).length - answer.found;
  const put = (part: Partial<ChartGrid>) => set({ grid: { ...grid, ...part } });
  const most = Math.max(opened.width, opened.height);
  const side = (key: 'left' | 'top' | 'right' | 'bottom' | 'gapX' | 'gapY', label: string) => (
    <NumberField
      label={label}
      value={grid[key]}
      min={key.startsWith('gap') ? 0 : -most / 4}
      max={most * 0.9}
      onChange={(v) => put({ [key]: v })}
    />
  );
  return (
    <div className={css.chart}>
      <p role="status">
        {count(chips.length, 'chip')}, read row by row.
        {repeats > 0 &&
          ` ${count(repeats, 'chip repeats', 'chips repeat')} a colour and ${repeats === 1 ? 'is' : 'are'} named once.`}
        {darkest !== null &&
          ` The light was uneven: the darkest place has ${Math.round(100 * darkest)} % of the brightest. Each chip was corrected by the page around it.`}
      </p>
      <NumberFields>
        <NumberField
          label="rows"
          value={grid.rows}
          min={1}
          max={MAX_CHIPS_PER_SIDE}
          onChange={(rows) => put({ rows })}
        />
        <NumberField
          label="columns"
          value={grid.columns}
          min={1}
          max={MAX_CHIPS_PER_SIDE}
          onChange={(columns) => put({ columns })}
        />
        {side('left', 'left')}
        {side('right', 'right')}
        {side('top', 'top')}
        {side('bottom', 'bottom')}
        {side('gapX', 'gap across')}
        {side('gapY', 'gap down')}
        <NumberField
          label="turn, °"
          value={grid.angle}
          min={-20}
          max={20}
          step={0.1}
          decimals={1}
          onChange={(angle) => put({ angle })}
        />
        <NumberField
          label="missing"
          value={grid.empty}
          min={0}
          max={grid.columns - 1}
          onChange={(empty) => put({ empty })}
        />
      </NumberFields>
      {recipe.grid && (
        <Button variant="text" sx={{ px: 0, mt: 0.5 }} onClick={() => set({ grid: null })}>
          Find the chips again
        </Button>
      )}
    </div>
  );
}
