import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef } from 'react';
import { toHex } from '#core/color/index';
import { type ChangeReport, colorsStay, describeChange, summarize } from '#core/formats/changes';
import { useCondition } from '~/ui/condition';
import { count, swatchLabel } from '~/ui/swatch';
import { WingPair } from '~/ui/wing-pair';
import css from './Changes.module.css';

const LINE = 49;
const STILL_LINE = 33;

type Row =
  | { kind: 'changed'; arrival: ChangeReport['arrivals'][number]; what: string }
  | { kind: 'heading'; text: string }
  | { kind: 'still'; arrival: ChangeReport['arrivals'][number] };

/** Every swatch as a wing pair, here and there; those that change first, under one line that sums them up. */
export function Changes({ report }: { report: ChangeReport }) {
  const condition = useCondition();
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useMemo((): Row[] => {
    const byId = new Map<string, string[]>();
    for (const c of report.changes) {
      // what becomes of groups is reported once above
      if (c.what === 'group' || c.what === 'merged') continue;
      const own = byId.get(c.id);
      if (own) own.push(describeChange(c));
      else byId.set(c.id, [describeChange(c)]);
    }
    const changed: Row[] = [];
    const still: Row[] = [];
    for (const arrival of report.arrivals) {
      const own = byId.get(arrival.swatch.id);
      if (own) changed.push({ kind: 'changed', arrival, what: own.join('; ') });
      else still.push({ kind: 'still', arrival });
    }
    const heading = `${count(still.length, 'swatch arrives', 'swatches arrive')} exactly as ${still.length === 1 ? 'it is' : 'they are'}`;
    return [
      ...changed,
      ...(changed.length > 0 && still.length > 0 ? [{ kind: 'heading' as const, text: heading }] : []),
      ...still,
    ];
  }, [report]);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => (rows[i].kind === 'changed' ? LINE : STILL_LINE),
    overscan: 8,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new report is read from its top
  useEffect(() => {
    if (scroller.current) scroller.current.scrollTop = 0;
    virtual.measure();
  }, [report]);
  const { title, detail } = summarize(report);
  // where no colour changes that is reported once, above
  const stay = colorsStay(report) && report.arrivals.every((a) => a.there);
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
          {virtual.getVirtualItems().map((item) => {
            const row = rows[item.index];
            if (row.kind === 'heading')
              return (
                <p
                  key="heading"
                  className={`second ${css.still}`}
                  style={{ top: item.start, height: STILL_LINE }}
                >
                  {row.text}
                </p>
              );
            const { swatch, there, deltaE00 } = row.arrival;
            const what = row.kind === 'changed' ? row.what : '';
            return (
              <div
                key={swatch.id}
                className={`${css.row} ${css.line}`}
                data-stay={stay}
                style={{ top: item.start, height: item.size }}
              >
                <span style={{ height: item.size - 11 }}>
                  <WingPair
                    left={toHex(swatch.color, condition)}
                    right={there && toHex(there.color, condition)}
                  />
                </span>
                <strong className="cut" title={swatch.name} dir="auto">
                  {swatchLabel(swatch, condition)}
                </strong>
                <span className={css.twoLines} title={what}>
                  {what}
                </span>
                {!stay && <span className={`mono ${css.number}`}> {there ? deltaE00.toFixed(1) : '—'}</span>}
              </div>
            );
          })}
        </div>
      </section>
    </div>
  );
}
