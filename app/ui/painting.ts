import { useEffect, useLayoutEffect, useRef, useState } from 'react';

/** A size in CSS pixels, as it changes. */
export function useSize(): [(element: HTMLElement | null) => void, { width: number; height: number }] {
  const [element, setElement] = useState<HTMLElement | null>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      setSize({ width: Math.round(width), height: Math.round(height) });
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, [element]);
  return [setElement, size];
}

/** Repaints a canvas when what it shows changes. */
export function usePainting(
  size: { width: number; height: number },
  screen: 'rgb' | 'p3',
  paint: (pixels: { pixels: Uint8ClampedArray; width: number; height: number }) => void,
) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useLayoutEffect(() => {
    const { width, height } = size;
    const context = canvas.current?.getContext('2d', {
      colorSpace: screen === 'p3' ? 'display-p3' : 'srgb',
    });
    if (!context || width === 0 || height === 0) return;
    const image = context.createImageData(width, height);
    paint({ pixels: image.data, width, height });
    context.putImageData(image, 0, 0);
  }, [size, screen, paint]);
  return canvas;
}
