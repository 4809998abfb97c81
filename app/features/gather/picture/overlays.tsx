import type { Chip, PaletteColor, Region } from '#core/picture/index';
import type { ViewState } from '~/ui/use-view';

const line = (outline: [number, number][], view: ViewState) =>
  outline
    .map(([x, y]) => {
      const at = view.toBox(x, y);
      return `${at.x.toFixed(1)},${at.y.toFixed(1)}`;
    })
    .join(' ');

/** A line that shows on any colour: light with dark round it. */
function Outline({ points }: { points: string }) {
  return (
    <>
      <polygon points={points} fill="none" stroke="#000a" strokeWidth={3} />
      <polygon points={points} fill="none" stroke="#fff" strokeWidth={1} />
    </>
  );
}

/** A line that is being drawn. */
export function Line({ outline, view }: { outline: [number, number][]; view: ViewState }) {
  return <Outline points={line(outline, view)} />;
}

/** A region; what does not belong to it is veiled. */
export function RegionOutline({ region, view }: { region: Region; view: ViewState }) {
  const points = line(region.outline, view);
  const { width, height } = view.box;
  const frame = `M0,0H${width}V${height}H0Z`;
  return (
    <>
      <path
        d={region.outside ? `M${points}Z` : `${frame}M${points}Z`}
        fillRule="evenodd"
        fill="var(--surround)"
        fillOpacity={0.72}
      />
      <Outline points={points} />
    </>
  );
}

export function ChartOutlines({ chips, view }: { chips: Chip[]; view: ViewState }) {
  return chips.map((chip) => (
    <Outline key={`${chip.row},${chip.column}`} points={line(chip.outline, view)} />
  ));
}

/** Where colours were taken. */
export function Marks({ points, width, view }: { points: PaletteColor[]; width: number; view: ViewState }) {
  return points.map((p) => {
    const at = view.toBox((p.first % width) + 0.5, Math.floor(p.first / width) + 0.5);
    return (
      <g key={p.first} fill="none">
        <circle cx={at.x} cy={at.y} r={6} stroke="#000a" strokeWidth={4} />
        <circle cx={at.x} cy={at.y} r={6} stroke="#fff" strokeWidth={2} />
      </g>
    );
  });
}
