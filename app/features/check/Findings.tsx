import { useVirtualizer } from '@tanstack/react-virtual';
import { type KeyboardEvent, useEffect, useRef } from 'react';
import type { Finding, Found } from '#core/check/index';
import { WingPair } from '~/ui/wing-pair';
import css from './Findings.module.css';

const LINE = 53;

/** What does not hold as wing pairs, the worst first; arrow keys go from one to the next. */
export function Findings({
  found,
  chosen,
  onChoose,
}: {
  found: Found;
  chosen: Finding | null;
  onChoose(finding: Finding): void;
}) {
  const { findings, total } = found;
  const scroller = useRef<HTMLDivElement>(null);
  const at = chosen ? findings.indexOf(chosen) : -1;
  const virtual = useVirtualizer({
    count: findings.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE,
    overscan: 6,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: only where it goes matters
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at);
  }, [at]);
  const key = (event: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1, Home: -findings.length, End: findings.length }[event.key];
    if (!by) return;
    event.preventDefault();
    onChoose(findings[Math.min(findings.length - 1, Math.max(0, at + by))]!);
  };
  if (findings.length === 0) return null;
  // what is here beside what becomes of it, or two of the library
  const beside = findings[0]!.left.label === 'here';
  return (
    <>
      <div className={`${css.row} ${css.head} caption`} aria-hidden>
        <span className={css.ends}>
          <span>{beside ? 'here' : 'one'}</span>
          <span>{beside ? (findings[0]!.right?.label ?? '') : 'the other'}</span>
        </span>
        <span>swatch</span>
        <span>finding</span>
        <span className={css.number} />
      </div>
      <div
        ref={scroller}
        className={css.list}
        role="listbox"
        aria-label="Findings"
        data-work
        aria-activedescendant={at >= 0 ? `finding-${at}` : undefined}
        tabIndex={0}
        onKeyDown={key}
      >
        <div className={css.lines} style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => {
            const finding = findings[item.index]!;
            return (
              // biome-ignore lint/a11y/useKeyWithClickEvents: the list hears the keys
              // biome-ignore lint/a11y/useFocusableInteractive: the list has the focus
              <div
                key={finding.key}
                id={`finding-${item.index}`}
                role="option"
                aria-selected={finding === chosen}
                className={`${css.row} ${css.line}`}
                style={{ top: item.start, height: LINE }}
                onClick={() => onChoose(finding)}
              >
                <span className={css.pair}>
                  <WingPair left={finding.left.hex} right={finding.right?.hex ?? finding.left.hex} />
                </span>
                <strong className="cut" title={finding.name} dir="auto">
                  {finding.name}
                </strong>
                <span className={css.says} title={finding.says}>
                  {finding.says}
                </span>
                <span className={`mono ${css.number}`}>{finding.figure}</span>
              </div>
            );
          })}
        </div>
        {total > findings.length && (
          <p className={`caption ${css.more}`}>
            {(total - findings.length).toLocaleString('en-GB')} more; these are the worst.
          </p>
        )}
      </div>
    </>
  );
}
