import { type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import type { View } from '#core/picture/index';

/** Css px to a picture's pixel, at most. */
const CLOSEST = 32;
const STEP = 1.25;

export interface ViewState {
  /** The size of the box, css px. */
  box: { width: number; height: number };
  /** Css px to a pixel of the picture, and the place in the picture at the box's upper left corner. */
  scale: number;
  x: number;
  y: number;
  /** The scale at which the whole picture is seen. */
  whole: number;
  /** The same as the worker wants it, in device pixels. */
  view: View;
  zoom(factor: number, at?: { x: number; y: number }): void;
  pan(dx: number, dy: number): void;
  reset(): void;
  /** Picture to box, and back. */
  toBox(x: number, y: number): { x: number; y: number };
  toPicture(x: number, y: number): { x: number; y: number };
  /** Brings a place of the picture into sight. */
  reveal(x: number, y: number): void;
}

/** Zoom and pan of a picture in a box: by wheel, by two fingers, by keys and by the functions given. */
export function useView(
  ref: RefObject<HTMLElement | null>,
  picture: { width: number; height: number },
): ViewState {
  const [box, setBox] = useState({ width: 1, height: 1 });
  const [place, setPlace] = useState({ zoom: 1, x: 0, y: 0 });
  const whole = Math.max(box.width / picture.width, 1e-6);
  // a small picture may be looked at as large as a large one
  const most = Math.max(1, CLOSEST / whole);

  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const observer = new ResizeObserver(() =>
      setBox({ width: element.clientWidth, height: element.clientHeight }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, [ref]);

  const { width, height } = picture;
  const clamp = useCallback(
    (next: { zoom: number; x: number; y: number }) => {
      const zoom = Math.min(most, Math.max(1, next.zoom));
      return {
        zoom,
        x: Math.min(width - width / zoom, Math.max(0, next.x)),
        y: Math.min(height - height / zoom, Math.max(0, next.y)),
      };
    },
    [most, width, height],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: another picture is first seen whole
  useEffect(() => setPlace({ zoom: 1, x: 0, y: 0 }), [width, height]);

  const zoom = useCallback(
    (factor: number, at?: { x: number; y: number }) =>
      setPlace((was) => {
        const to = Math.min(most, Math.max(1, was.zoom * factor));
        const [bx, by] = at ? [at.x, at.y] : [box.width / 2, box.height / 2];
        const before = whole * was.zoom;
        const after = whole * to;
        return clamp({ zoom: to, x: was.x + bx / before - bx / after, y: was.y + by / before - by / after });
      }),
    [box, whole, most, clamp],
  );
  const scale = whole * place.zoom;
  const pan = useCallback(
    (dx: number, dy: number) =>
      setPlace((was) =>
        clamp({ ...was, x: was.x - dx / (whole * was.zoom), y: was.y - dy / (whole * was.zoom) }),
      ),
    [whole, clamp],
  );

  const now = useRef({ zoom, pan });
  now.current = { zoom, pan };
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const at = (e: { clientX: number; clientY: number }) => {
      const { left, top } = element.getBoundingClientRect();
      return { x: e.clientX - left, y: e.clientY - top };
    };
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      // two fingers on a pad come as a wheel with ctrl; shift turns the wheel into a way to the side
      if (e.shiftKey) now.current.pan(-(e.deltaX || e.deltaY), 0);
      else now.current.zoom(Math.exp(-e.deltaY * (e.ctrlKey ? 0.01 : 0.0015)), at(e));
    };
    type Place = { x: number; y: number };
    type Two = [Place, Place];
    const fingers = new Map<number, Place>();
    const down = (e: PointerEvent) => {
      if (e.pointerType === 'touch') fingers.set(e.pointerId, at(e));
    };
    const move = (e: PointerEvent) => {
      if (!fingers.has(e.pointerId)) return;
      const before = [...fingers.values()] as Two;
      fingers.set(e.pointerId, at(e));
      if (fingers.size !== 2) return;
      const after = [...fingers.values()] as Two;
      const gap = ([p, q]: Two) => Math.hypot(p.x - q.x, p.y - q.y);
      const middle = ([p, q]: Two) => ({ x: (p.x + q.x) / 2, y: (p.y + q.y) / 2 });
      now.current.zoom(gap(after) / Math.max(1, gap(before)), middle(after));
      now.current.pan(middle(after).x - middle(before).x, middle(after).y - middle(before).y);
    };
    const up = (e: PointerEvent) => void fingers.delete(e.pointerId);
    element.addEventListener('wheel', wheel, { passive: false });
    element.addEventListener('pointerdown', down);
    element.addEventListener('pointermove', move);
    for (const name of ['pointerup', 'pointercancel', 'pointerleave'] as const)
      element.addEventListener(name, up);
    return () => {
      element.removeEventListener('wheel', wheel);
      element.removeEventListener('pointerdown', down);
      element.removeEventListener('pointermove', move);
      for (const name of ['pointerup', 'pointercancel', 'pointerleave'] as const)
        element.removeEventListener(name, up);
    };
  }, [ref]);

  const ratio = Math.min(2, typeof devicePixelRatio === 'number' ? devicePixelRatio : 1);
  return {
    box,
    scale,
    x: place.x,
    y: place.y,
    whole,
    view: {
      x: place.x,
      y: place.y,
      width: width / place.zoom,
      height: height / place.zoom,
      outWidth: Math.max(1, Math.round(box.width * ratio)),
      outHeight: Math.max(1, Math.round(box.height * ratio)),
    },
    zoom,
    pan,
    reset: useCallback(() => setPlace({ zoom: 1, x: 0, y: 0 }), []),
    toBox: (x, y) => ({ x: (x - place.x) * scale, y: (y - place.y) * scale }),
    toPicture: (x, y) => ({ x: place.x + x / scale, y: place.y + y / scale }),
    reveal: (x, y) =>
      setPlace((was) => {
        const [w, h] = [width / was.zoom, height / was.zoom];
        const into = (from: number, size: number, v: number) =>
          v < from + size * 0.05 ? v - size * 0.2 : v > from + size * 0.95 ? v - size * 0.8 : from;
        return clamp({ ...was, x: into(was.x, w, x), y: into(was.y, h, y) });
      }),
  };
}

/** Plus, minus and nought as a keyboard has them. */
export function zoomKey(key: string, view: ViewState): boolean {
  if (key === '+' || key === '=') view.zoom(STEP);
  else if (key === '-') view.zoom(1 / STEP);
  else if (key === '0') view.reset();
  else return false;
  return true;
}
