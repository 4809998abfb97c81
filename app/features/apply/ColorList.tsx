import { useVirtualizer } from '@tanstack/react-virtual';
import { type DragEvent, type KeyboardEvent, useEffect, useRef } from 'react';
import type { ArtworkFacts, Row } from '#core/artwork/index';
import { usePart } from '~/state/store';
import { useCondition } from '~/ui/condition';
import { SelectField } from '~/ui/field';
import { count, swatchLabel } from '~/ui/swatch';
import { WingPair } from '~/ui/wing-pair';
import css from './ColorList.module.css';
import { type Entry, type ListOrder, ORDERS } from './entries';
import type { Pointed } from './pointed';

const LINE = 51;

/** The colours of the artwork, old beside new; arrow keys go from one to the next, letters and digits begin its new name. */
export function ColorList({
  entries,
  facts,
  order,
  onOrder,
  chosen,
  pointed,
  onChoose,
  onDrop,
}: {
  entries: readonly Entry[];
  facts: ArtworkFacts;
  order: ListOrder;
  onOrder(order: ListOrder): void;
  chosen: Entry | null;
  pointed: Pointed;
  onChoose(entry: Entry): void;
  onDrop(entry: Entry, event: DragEvent): void;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  const at = chosen ? entries.indexOf(chosen) : -1;
  const virtual = useVirtualizer({
    count: entries.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE,
    overscan: 6,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: only where it goes matters
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at);
  }, [at]);
  const key = (event: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1, Home: -entries.length, End: entries.length }[event.key];
    if (!by || entries.length === 0) return;
    event.preventDefault();
    onChoose(entries[Math.min(entries.length - 1, Math.max(0, at + by))]!);
  };
  return (
    <>
      <div className={css.head}>
        <strong>
          {count(facts.colors.length, 'colour')} in {count(facts.parts, 'part')}
        </strong>
        <SelectField
          className={css.order}
          aria-label="Sort the list"
          value={order}
          onChange={(e) => onOrder(e.target.value as ListOrder)}
        >
          {ORDERS.map(([id, label]) => (
            <option key={id} value={id}>
              {label}
            </option>
          ))}
        </SelectField>
      </div>
      <div
        ref={scroller}
        className={css.list}
        style={{ maxHeight: Math.max(1, entries.length) * LINE }}
        role="listbox"
        aria-label="Colours of the artwork"
        data-work
        aria-activedescendant={at >= 0 ? `color-${at}` : undefined}
        tabIndex={0}
        onKeyDown={key}
        onMouseLeave={() => pointed.at(null)}
      >
        <div className={css.lines} style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => {
            const entry = entries[item.index]!;
            return (
              <Line
                key={entry.id}
                id={`color-${item.index}`}
                entry={entry}
                chosen={entry === chosen}
                pointed={pointed}
                top={item.start}
                onChoose={() => onChoose(entry)}
                onDrop={(event) => onDrop(entry, event)}
              />
            );
          })}
        </div>
      </div>
    </>
  );
}

function Line({
  id,
  entry,
  chosen,
  pointed,
  top,
  onChoose,
  onDrop,
}: {
  id: string;
  entry: Entry;
  chosen: boolean;
  pointed: Pointed;
  top: number;
  onChoose(): void;
  onDrop(event: DragEvent): void;
}) {
  const { rows, parts, share } = entry;
  const [row] = rows as [Row];
  const name = useBecomes(entry);
  const over = usePart(pointed, (s) => s.entry === entry.id);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the list hears the keys
    // biome-ignore lint/a11y/useFocusableInteractive: the list has the focus
    <div
      id={id}
      role="option"
      aria-selected={chosen}
      data-over={over}
      className={css.line}
      style={{ top, height: LINE }}
      onMouseEnter={() => pointed.at(entry.id)}
      onClick={onChoose}
      onDragOver={(e) => e.preventDefault()}
      onDrop={onDrop}
    >
      <span className={css.pair}>
        <WingPair left={row.from.hex} right={row.to} />
      </span>
      <span className={css.words}>
        <span className="cut" dir="auto" title={name}>
          {name}
        </span>
        <span className="caption cut" dir="auto">
          {[
            entry.name || row.from.written,
            rows.length > 1 ? count(rows.length, 'colour') : '',
            partsText(parts.length, share),
          ]
            .filter(Boolean)
            .join(' · ')}
        </span>
      </span>
      <span className={`mono ${css.figure}`} title="ΔE00 between old and new">
        {rows.length > 1 ? '' : figureOf(row)}
      </span>
    </div>
  );
}

const partsText = (parts: number, share: number) =>
  parts === 1 && share >= 0.005 ? `${Math.round(share * 100)} %` : count(parts, 'part');

/** How far the new colour is from the old; of what a machine looks for only the name counts. */
const figureOf = (row: Row) =>
  row.swatch?.kind === 'technical'
    ? 'exact'
    : row.state === 'drawn'
      ? '–'
      : row.deltaE00 >= 10
        ? row.deltaE00.toFixed(0)
        : Number(row.deltaE00.toFixed(1)).toString();

/** What a colour is now, in words. */
export function useBecomes({ rows }: Pick<Entry, 'rows'>): string {
  const condition = useCondition();
  const [row] = rows as [Row];
  if (rows.length > 1) return 'several';
  if (row.state === 'follows') {
    const shade = row.lighter ? `, ${row.lighter > 0 ? '+' : '−'}${Math.abs(row.lighter)} L*` : '';
    return `follows ${row.followsName ?? row.follows}${shade}`;
  }
  if (row.swatch) return swatchLabel(row.swatch, condition);
  if (row.state === 'gone') return `${row.was || 'its swatch'}, deleted`;
  return row.state === 'drawn' ? `${row.to.toUpperCase()}, as drawn` : row.to.toUpperCase();
}
