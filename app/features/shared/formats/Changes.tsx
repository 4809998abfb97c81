import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { count } from '~/ui/swatch';
import { WingPair } from '~/ui/wing-pair';
import css from './Changes.module.css';
import { type ShownChanges, type useChanges, useRows } from './use-changes';

const LINE = 49;
const STILL_LINE = 33;

/** Every swatch as a wing pair, here and there; those that change first, under one line that sums them up. */
export function Changes({
  found,
  changes,
}: {
  found: ShownChanges;
  changes: Pick<ReturnType<typeof useChanges>, 'ask' | 'again'>;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  const { title, detail, stay, changed, total } = found.head;
  const still = total - changed;
  // a line between those that change and those that do not
  const headed = changed > 0 && still > 0;
  const { rowAt, see } = useRows(found, changes);
  const virtual = useVirtualizer({
    count: total + (headed ? 1 : 0),
    getScrollElement: () => scroller.current,
    estimateSize: (i) => (i < changed ? LINE : STILL_LINE),
    overscan: 8,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new report is read from its top, one that is made again is not
  useEffect(() => {
    if (scroller.current) scroller.current.scrollTop = 0;
    virtual.measure();
  }, [found.library, found.key]);
  const lines = virtual.getVirtualItems();
  const [first, last] = [lines[0]?.index ?? 0, lines.at(-1)?.index ?? 0];
  useEffect(() => see(first, last), [see, first, last]);
  return (
    <div className={css.changes}>
      <h2 className="title">{title}</h2>
      <p className={`second ${css.detail}`}>{detail}</p>
      <div className={`${css.row} ${css.head} caption`} data-stay={stay}>
        <span className={css.ends}>
          <span>here</span>
          <span>there</span>
        </span>
        <span>swatch</span>
        <span>what changes</span>
        {!stay && <span className={css.number}>ΔE00</span>}
      </div>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: the arrow keys scroll it */}
      <section ref={scroller} className={css.list} tabIndex={0} aria-label="Every swatch">
        <div className={css.lines} style={{ height: virtual.getTotalSize() }}>
          {lines.map((item) => {
            if (headed && item.index === changed)
              return (
                <p
                  key="heading"
                  className={`second ${css.still}`}
                  style={{ top: item.start, height: STILL_LINE }}
                >
                  {`${count(still, 'swatch arrives', 'swatches arrive')} exactly as ${still === 1 ? 'it is' : 'they are'}`}
                </p>
              );
            const row = rowAt(item.index > changed && headed ? item.index - 1 : item.index);
            return (
              row && (
                <div
                  key={row.id}
                  className={`${css.row} ${css.line}`}
                  data-stay={stay}
                  style={{ top: item.start, height: item.size }}
                >
                  <span style={{ height: item.size - 11 }}>
                    <WingPair left={row.left} right={row.right} />
                  </span>
                  <strong className="cut" title={row.label} dir="auto">
                    {row.label}
                  </strong>
                  <span className={css.twoLines} title={row.what}>
                    {row.what}
                  </span>
                  {!stay && (
                    <span className={`mono ${css.number}`}> {row.right ? row.deltaE00.toFixed(1) : '—'}</span>
                  )}
                </div>
              )
            );
          })}
        </div>
      </section>
    </div>
  );
}
