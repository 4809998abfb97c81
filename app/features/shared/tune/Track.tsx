import Slider from '@mui/material/Slider';
import { NumberField } from '~/ui/number-field';
import css from './Tune.module.css';

/** A slider with the colours it leads to, and a field for its number; arrow keys step by one, ten with Shift, a tenth with Alt. */
export function Track({
  label,
  unit,
  value,
  min,
  max,
  one = 1,
  decimals,
  colors,
  onChange,
}: {
  label: string;
  unit?: string;
  value: number;
  min: number;
  max: number;
  /** One step. */
  one?: number;
  decimals: number;
  colors?: string[];
  onChange(value: number): void;
}) {
  const step = (event: React.KeyboardEvent) => {
    const way = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    const by = way * one * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
    onChange(Math.min(max, Math.max(min, Number((value + by).toFixed(decimals)))));
  };
  return (
    <div className={css.track}>
      <span id={`tune-${label}`}>{label}</span>
      <Slider
        className={css.slider}
        style={colors ? { backgroundImage: `linear-gradient(90deg, ${colors.join()})` } : undefined}
        data-painted={!!colors}
        aria-labelledby={`tune-${label}`}
        value={value}
        min={min}
        max={max}
        step={one / 10}
        onKeyDownCapture={step}
        onChange={(_, v) => onChange(Number((v as number).toFixed(decimals)))}
      />
      <NumberField
        silent
        label={`${label}${unit ? `, ${unit}` : ''}`}
        value={value}
        min={min}
        max={max}
        step={one}
        decimals={decimals}
        onChange={onChange}
      />
    </div>
  );
}
