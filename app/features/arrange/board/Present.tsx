import Dialog from '@mui/material/Dialog';
import { useEffect, useMemo, useState } from 'react';
import type { LaidBoard } from '#core/board/index';
import { toHex } from '#core/color/index';
import { useCondition } from '~/ui/condition';
import { PlainButton } from '~/ui/plain-button';
import css from './BoardView.module.css';
import { type Drawn, PageView } from './PageView';

/** The board alone, page by page, or one or two of its colours as large as the screen, to hold a sample against. */
export function Present({
  laid,
  drawn,
  title,
  first,
  onClose,
}: {
  laid: LaidBoard;
  drawn: Drawn;
  title: string;
  first: number;
  onClose(): void;
}) {
  const condition = useCondition();
  const [page, setPage] = useState(first);
  /** The colours that are shown large, by their places in the list. */
  const [large, setLarge] = useState<readonly number[]>([]);
  /** The next colour that is chosen stands beside the one that is shown. */
  const [beside, setBeside] = useState(false);
  const colors = useMemo(() => {
    const found = new Map<string, string>();
    for (const { marks } of laid.pages)
      for (const m of marks)
        if (m.is === 'area') {
          const hex = toHex(m.swatch.color, condition);
          if (!found.has(hex)) found.set(hex, m.swatch.name || hex.toUpperCase());
        }
    return [...found].map(([hex, name]) => ({ hex, name }));
  }, [laid, condition]);
  const step = (by: number) => {
    if (large.length > 0) setLarge([(large[0]! + by + colors.length) % colors.length, ...large.slice(1)]);
    else setPage(Math.max(0, Math.min(laid.pages.length - 1, page + by)));
  };
  useEffect(() => {
    void document.documentElement.requestFullscreen?.().catch(() => undefined);
    return () => {
      if (document.fullscreenElement) void document.exitFullscreen().catch(() => undefined);
    };
  }, []);
  // another page may take some of it away meanwhile
  const shown = laid.pages[Math.min(page, laid.pages.length - 1)]!;
  const seen = large.filter((n) => n < colors.length);
  return (
    <Dialog
      open
      fullScreen
      onClose={() => (seen.length > 0 ? setLarge([]) : onClose())}
      slotProps={{ paper: { 'aria-label': `${title}, presented` } }}
      onKeyDown={(e) => {
        const by = {
          ArrowRight: 1,
          ArrowDown: 1,
          ' ': 1,
          PageDown: 1,
          ArrowLeft: -1,
          ArrowUp: -1,
          PageUp: -1,
        }[e.key];
        if (by === undefined || (e.key === ' ' && e.target instanceof HTMLButtonElement)) return;
        step(by);
        e.preventDefault();
      }}
    >
      <div className={css.present}>
        {seen.length > 0 ? (
          <div className={css.large}>
            {seen.map((n) => (
              <span key={n} style={{ background: colors[n]!.hex }} role="img" aria-label={colors[n]!.name} />
            ))}
          </div>
        ) : (
          <div className={css.sheet}>
            <PageView page={shown} drawn={drawn} label={`${title}, page ${page + 1}`} />
          </div>
        )}
        <div className={css.bar}>
          <span className="caption" role="status">
            {seen.length > 0
              ? seen.map((n) => colors[n]!.name).join(' · ')
              : laid.pages.length > 1
                ? `page ${page + 1} of ${laid.pages.length} · arrow keys turn`
                : title}
          </span>
          <span className={css.chips}>
            {colors.slice(0, 40).map(({ hex, name }, n) => (
              <PlainButton
                key={hex}
                aria-label={`${name} as large as the screen`}
                title={`${name}; with Shift beside the other`}
                aria-pressed={seen.includes(n)}
                className={css.chip}
                style={{ background: hex }}
                onClick={(e) => {
                  setLarge((e.shiftKey || beside) && seen.length > 0 ? [seen[0]!, n] : [n]);
                  setBeside(false);
                }}
              />
            ))}
          </span>
          {seen.length > 0 && (
            <>
              <PlainButton look="tab" aria-pressed={beside} onClick={() => setBeside(!beside)}>
                Beside another
              </PlainButton>
              <PlainButton look="tab" onClick={() => setLarge([])}>
                Back to the page
              </PlainButton>
            </>
          )}
          <PlainButton look="tab" onClick={onClose}>
            Close
          </PlainButton>
        </div>
      </div>
    </Dialog>
  );
}
