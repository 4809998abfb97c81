import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import type { Library } from '#core/swatch/index';
import { layOut } from './layout';

/** How chips stand on a stage, px. */
export const GAP = 8;
export const MARGIN = 20;
const HEAD_HEIGHT = 34;

/** A library in lines on a scrolled stage, of which only those in sight are drawn. */
export function useLines(
  library: Library,
  { chipWidth, lineHeight, list = false }: { chipWidth: number; lineHeight: number; list?: boolean },
) {
  const scroller = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const element = scroller.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setWidth(element.clientWidth));
    observer.observe(element);
    setWidth(element.clientWidth);
    return () => observer.disconnect();
  }, []);
  const columns = list ? 1 : Math.max(1, Math.floor((width - 2 * MARGIN + GAP) / (chipWidth + GAP)));
  const layout = useMemo(
    () => layOut(library, { columns, lineHeight, headHeight: HEAD_HEIGHT }),
    [library, columns, lineHeight],
  );
  const virtual = useVirtualizer({
    count: layout.count,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => layout.heightAt(i),
    paddingStart: 6,
    paddingEnd: 24,
    overscan: 4,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: sizes are taken again whenever the lines stand elsewhere
  useEffect(() => {
    virtual.measure();
  }, [layout.shape]);
  return { scroller, width, layout, virtual };
}
