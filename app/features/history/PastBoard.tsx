import { toHex } from '#core/color/index';
import type { Library, LibraryRows, Swatch } from '#core/swatch/index';
import { GAP, MARGIN, useLines } from '~/features/shared/use-lines';
import { useCondition } from '~/ui/condition';
import { groupLabel, SwatchFace, swatchLabel } from '~/ui/swatch';
import { WingPair } from '~/ui/wing-pair';
import css from './PastBoard.module.css';

const CHIP = { width: 72, height: 44 };
const LABEL = 22;

/** A library of the past, to be looked at. What is different now shows both: left as it was, right as it is. */
export function PastBoard({ then, now, compare }: { then: Library; now: LibraryRows; compare: boolean }) {
  const { scroller, width, layout, virtual } = useLines(then, {
    chipWidth: CHIP.width,
    lineHeight: CHIP.height + LABEL + GAP,
  });
  return (
    <div ref={scroller} className={css.board} role="img" aria-label={`${then.name}, as it was`}>
      <div className={css.surface} style={{ height: virtual.getTotalSize() }}>
        {width > 0 &&
          virtual.getVirtualItems().map((item) => {
            if (item.index >= layout.count) return null;
            const line = layout.line(item.index);
            if (line.kind === 'head')
              return (
                <div key={`head-${line.group.id}`} className={css.head} style={{ top: line.top + 9 }}>
                  <strong className="cut">{groupLabel(then, line.index)}</strong>
                  <span className="caption">{line.group.swatches.length}</span>
                </div>
              );
            if (line.kind === 'empty') return null;
            return line.swatches.map((swatch, i) => (
              <div
                key={swatch.id}
                className={css.chip}
                style={{ left: MARGIN + i * (CHIP.width + GAP), top: line.top, width: CHIP.width }}
              >
                <Face swatch={swatch} now={compare ? (now.find(swatch.id)?.swatch ?? null) : swatch} />
                <Name swatch={swatch} now={compare ? now.find(swatch.id)?.swatch : swatch} />
              </div>
            ));
          })}
      </div>
    </div>
  );
}

/** The name as it was; what it is now stands behind it when it is another. */
function Name({ swatch, now }: { swatch: Swatch; now: Swatch | undefined }) {
  const condition = useCondition();
  const [then, later] = [swatchLabel(swatch, condition), now && swatchLabel(now, condition)];
  const renamed = later !== undefined && later !== then;
  return (
    <span className={`${css.name} cut`} title={renamed ? `${then}, now ${later}` : then}>
      {renamed ? <s>{then}</s> : then}
      {renamed && ` ${later}`}
    </span>
  );
}

function Face({ swatch, now }: { swatch: Swatch; now: Swatch | null }) {
  const condition = useCondition();
  const same = now && toHex(now.color, condition) === toHex(swatch.color, condition);
  if (same) return <SwatchFace swatch={swatch} style={{ height: CHIP.height }} />;
  return (
    <span
      className={css.pair}
      style={{ height: CHIP.height }}
      title={now ? 'Left as it was, right as it is now' : 'It is not in the library now'}
    >
      <WingPair left={toHex(swatch.color, condition)} right={now && toHex(now.color, condition)} />
    </span>
  );
}
