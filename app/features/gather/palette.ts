import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import {
  type ExactResult,
  lookAlikes,
  merged,
  type PaletteColor,
  type PaletteOrder,
  paletteOrders,
  type SampleSize,
} from '#core/picture/index';
import type { PictureClient } from '~/workers/picture-client';
import { latestOnly } from '~/workers/worker-client';

export type Method = 'reduce' | 'exact' | 'point';

export const colorKey = (c: PaletteColor) => c.rgb.join();

/**
 * The palette being taken from the open picture. The full result is never altered: what is removed and merged
 * is laid over it, so that starting over always brings everything back.
 */
export function usePalette(client: PictureClient | null, ready: boolean) {
  const [method, setMethodOnly] = useState<Method>('reduce');
  const [count, setCountOnly] = useState(10);
  const [reduced, setReduced] = useState<PaletteColor[]>([]);
  const [exact, setExact] = useState<ExactResult | null>(null);
  const [points, setPoints] = useState<PaletteColor[]>([]);
  const [sampleSize, setSampleSize] = useState<SampleSize>(5);
  const [keepBackground, setKeepBackground] = useState(false);
  const [threshold, setThreshold] = useState(3);
  const [mergedUnder, setMergedUnder] = useState<number | null>(null);
  const [removed, setRemoved] = useState<ReadonlySet<string>>(new Set());
  const [order, setOrder] = useState<PaletteOrder>('share');
  const [meanDeltaE00, setMean] = useState<number | null>(null);

  const startOver = useCallback(() => {
    setMergedUnder(null);
    setRemoved(new Set());
    setPoints([]);
  }, []);

  const askReduce = useMemo(
    () =>
      client &&
      latestOnly(
        (n: number) => client.ask('reduce', { count: n }),
        ({ colors }) => setReduced(colors),
      ),
    [client],
  );
  const askQuality = useMemo(
    () =>
      client &&
      latestOnly(
        (palette: number[][]) => client.ask('quality', { palette }),
        (answer) => setMean(answer.meanDeltaE00),
      ),
    [client],
  );

  // another picture begins anew
  const lastClient = useRef(client);
  useEffect(() => {
    if (lastClient.current === client) return;
    lastClient.current = client;
    setReduced([]);
    setExact(null);
    startOver();
  }, [client, startOver]);

  useEffect(() => {
    if (ready && method === 'reduce') askReduce?.(count);
  }, [ready, method, count, askReduce]);

  useEffect(() => {
    if (!ready || method !== 'exact' || !client) return;
    let live = true;
    client.ask('exact', { keepBackground }).then((answer) => live && setExact(answer));
    return () => {
      live = false;
    };
  }, [ready, method, keepBackground, client]);

  const full = method === 'reduce' ? reduced : method === 'exact' ? (exact?.colors ?? []) : points;
  const left = useMemo(() => full.filter((c) => !removed.has(colorKey(c))), [full, removed]);
  const palette = useMemo(
    () => (mergedUnder === null ? left : merged(left, lookAlikes(left, mergedUnder))),
    [left, mergedUnder],
  );
  const wouldMerge = useMemo(
    () => (palette.length <= 256 ? lookAlikes(palette, threshold) : []),
    [palette, threshold],
  );
  const ordered = useMemo(() => {
    const list = palette.map((color, index) => ({
      color,
      merge: wouldMerge.find((m) => m.gone === index) ?? null,
    }));
    // a picture is read in the order of its squares, points in the order they were taken
    if (method === 'point' || (method === 'exact' && order === 'appearance')) return list;
    return list.sort((a, b) => paletteOrders[order].compare(a.color, b.color));
  }, [palette, wouldMerge, order, method]);

  useEffect(() => {
    if (ready && palette.length > 0 && method !== 'point') askQuality?.(palette.map((c) => c.rgb));
    else setMean(null);
  }, [ready, palette, askQuality, method]);

  const setMethod = (next: Method) => {
    setMethodOnly(next);
    setOrder(next === 'exact' ? 'appearance' : 'share');
    setMergedUnder(null);
    setRemoved(new Set());
  };
  const setCount = (next: number) => {
    setCountOnly(next);
    // what looked alike among ten need not among twenty-four
    setMergedUnder(null);
    setRemoved(new Set());
  };

  return {
    method,
    setMethod,
    count,
    setCount,
    exact,
    keepBackground,
    setKeepBackground,
    sampleSize,
    setSampleSize,
    addPoint: (color: PaletteColor) =>
      setPoints((list) => (list.some((c) => colorKey(c) === colorKey(color)) ? list : [...list, color])),
    threshold,
    setThreshold,
    palette,
    ordered,
    wouldMerge,
    merge: () => setMergedUnder(Math.max(mergedUnder ?? 0, threshold)),
    remove: (color: PaletteColor) => setRemoved(new Set([...removed, colorKey(color)])),
    altered: mergedUnder !== null || removed.size > 0 || (method === 'point' && points.length > 0),
    startOver,
    order,
    setOrder,
    meanDeltaE00,
  };
}

export type PaletteState = ReturnType<typeof usePalette>;
