import { memo } from 'react';
import type { Library, Swatch } from '#core/swatch/index';
import { useCondition } from '~/ui/condition';
import { dragSwatch } from '~/ui/drag-swatch';
import { PlainButton } from '~/ui/plain-button';
import { count, groupLabel, SwatchFace, swatchLabel } from '~/ui/swatch';
import css from './PaintWith.module.css';

/** This many are shown; the rest are found by name or number. */
const MAX_SHOWN = 240;
const IN_ROW = 8;

/** The swatches of the library, to paint with: clicked for what is chosen, or dragged onto a part. */
export const PaintWith = memo(function PaintWith({
  library,
  current,
  says,
  onTake,
}: {
  library: Library;
  /** What the chosen colour is now. */
  current: Swatch | null;
  /** What is chosen; null when nothing is. */
  says: string | null;
  onTake(swatch: Swatch): void;
}) {
  const condition = useCondition();
  let left = MAX_SHOWN;
  const groups = library.groups.flatMap((group, i) => {
    const some = group.swatches.slice(0, left);
    left -= some.length;
    return some.length > 0 ? [{ group, some, label: groupLabel(library, i) }] : [];
  });
  const hidden = library.groups.reduce((n, g) => n + g.swatches.length, 0) - (MAX_SHOWN - left);
  return (
    <section aria-label="Paint with" className={css.paint}>
      <h2 className={`caption ${css.heading}`}>Paint with</h2>
      {groups.length === 0 && (
        <p className="caption">
          The library is empty. Type a number or a code on the right, or gather some colours.
        </p>
      )}
      {groups.map(({ group, some, label }) => (
        <section key={group.id} aria-label={label}>
          <h3 className="caption cut" dir="auto">
            {label}
          </h3>
          <div
            className={css.faces}
            style={{ gridTemplateColumns: `repeat(${Math.min(IN_ROW, some.length)}, minmax(0, 1fr))` }}
          >
            {some.map((swatch) => {
              const name = swatchLabel(swatch, condition);
              return (
                <PlainButton
                  key={swatch.id}
                  className={css.face}
                  draggable
                  onDragStart={dragSwatch(swatch)}
                  aria-pressed={swatch === current}
                  aria-label={says ? `Make ${says} ${name}` : name}
                  title={says ? name : `${name}. Choose a part first, or drag this onto one.`}
                  onClick={() => onTake(swatch)}
                >
                  <SwatchFace swatch={swatch} className={css.chip} />
                </PlainButton>
              );
            })}
          </div>
        </section>
      ))}
      {hidden > 0 && (
        <p className="caption">
          {count(hidden, 'more swatch', 'more swatches')}: type the name or number of one.
        </p>
      )}
    </section>
  );
});
