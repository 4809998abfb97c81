import {
  type CSSProperties,
  type DragEvent,
  type PointerEvent,
  type ReactNode,
  useCallback,
  useLayoutEffect,
  useRef,
  useState,
} from 'react';
import { useView, type ViewState, zoomKey } from '~/ui/use-view';
import { ZoomButtons } from '~/ui/zoom-buttons';
import { type PartMap, partUnder } from './use-painted';
import css from './WorkView.module.css';

/** A hand that moves less than this has clicked. */
const CLICK = 4;

/** A place of the artwork, 0–1 across and down. */
export interface Spot {
  x: number;
  y: number;
}

/** The artwork on white, to be looked at closely and pointed at. */
export function WorkView({
  size,
  label,
  map,
  layers,
  onPoint,
  onChoose,
  onDrop,
  children,
  below,
}: {
  size: { width: number; height: number };
  label: string;
  map: PartMap | null;
  /** What lies over it where its parts are. */
  layers?(over: Over): ReactNode;
  /** The hand is over a part, or over none. */
  onPoint?(id: number | null, at: Spot | null): void;
  onChoose?(id: number | null, at: Spot, event: { altKey: boolean }): void;
  onDrop?(id: number | null, at: Spot, event: DragEvent): void;
  /** Drawn where the view says. */
  children(view: { style: CSSProperties }): ReactNode;
  below?: ReactNode;
}) {
  const box = useRef<HTMLDivElement>(null);
  // the artwork's own units do not matter: it is a thousand wide
  const whole = { width: 1000, height: (1000 * size.height) / size.width };
  const view = useView(box, whole);
  const [aim, setAim] = useState<Spot | null>(null);
  const gesture = useRef<{ from: Spot; last: Spot; moved: boolean } | null>(null);
  const inBox = (e: { clientX: number; clientY: number }): Spot => {
    const { left, top } = box.current!.getBoundingClientRect();
    return { x: e.clientX - left, y: e.clientY - top };
  };
  const spotAt = (place: Spot): Spot => {
    const { x, y } = view.toPicture(place.x, place.y);
    return { x: x / whole.width, y: y / whole.height };
  };
  const partAt = ({ x, y }: Spot) => (map ? partUnder(map, x, y) : null);

  const down = (e: PointerEvent<HTMLDivElement>) => {
    if (!e.isPrimary) gesture.current = null;
    if (e.button !== 0 || !e.isPrimary) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    const place = inBox(e);
    gesture.current = { from: place, last: place, moved: false };
  };
  const move = (e: PointerEvent<HTMLDivElement>) => {
    if (!e.isPrimary) return;
    const place = inBox(e);
    const spot = spotAt(place);
    setAim(null);
    onPoint?.(partAt(spot), spot);
    const now = gesture.current;
    if (!now) return;
    if (Math.hypot(place.x - now.from.x, place.y - now.from.y) >= CLICK) now.moved = true;
    if (now.moved) view.pan(place.x - now.last.x, place.y - now.last.y);
    now.last = place;
  };
  const up = (e: PointerEvent<HTMLDivElement>) => {
    const now = gesture.current;
    gesture.current = null;
    if (!now || now.moved || !e.isPrimary) return;
    const spot = spotAt(now.from);
    onChoose?.(partAt(spot), spot, e);
  };
  const key = (e: React.KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey) return;
    const arrow = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    if (zoomKey(e.key, view)) e.preventDefault();
    else if (arrow && onChoose) {
      const step = (e.shiftKey ? 0.05 : 0.01) * (view.whole / view.scale);
      const was = aim ?? { x: 0.5, y: 0.5 };
      const held = (v: number) => Math.min(0.999, Math.max(0.001, v));
      const next = { x: held(was.x + arrow[0]! * step), y: held(was.y + arrow[1]! * step) };
      setAim(next);
      view.reveal(next.x * whole.width, next.y * whole.height);
      onPoint?.(partAt(next), next);
      e.preventDefault();
    } else if (arrow) {
      view.pan(-arrow[0]! * 40, -arrow[1]! * 40);
      e.preventDefault();
    } else if ((e.key === 'Enter' || e.key === ' ') && aim && onChoose) {
      onChoose(partAt(aim), aim, e);
      e.preventDefault();
    }
  };
  const style: CSSProperties = {
    left: -view.x * view.scale,
    top: -view.y * view.scale,
    width: whole.width * view.scale,
    height: whole.height * view.scale,
  };
  return (
    <>
      <div
        className={css.paper}
        style={
          {
            aspectRatio: `${size.width} / ${size.height}`,
            '--ratio': size.width / size.height,
          } as CSSProperties
        }
      >
        <div
          ref={box}
          role="application"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: it is moved over with the arrow keys
          tabIndex={0}
          className={css.area}
          data-work
          aria-label={label}
          style={{ cursor: onChoose ? 'crosshair' : view.scale > view.whole ? 'grab' : 'default' }}
          onPointerDown={down}
          onPointerMove={move}
          onPointerUp={up}
          onPointerCancel={() => {
            gesture.current = null;
          }}
          onPointerLeave={() => !gesture.current && onPoint?.(null, null)}
          onBlur={() => {
            setAim(null);
            onPoint?.(null, null);
          }}
          onKeyDown={key}
          onDragOver={(e) => {
            if (!onDrop) return;
            e.preventDefault();
            const spot = spotAt(inBox(e));
            onPoint?.(partAt(spot), spot);
          }}
          onDrop={(e) => {
            const spot = spotAt(inBox(e));
            onDrop?.(partAt(spot), spot, e);
          }}
        >
          {children({ style })}
          {map && layers?.({ map, style, view })}
          {aim && (
            <span
              className={css.aim}
              style={{
                left: view.toBox(aim.x * whole.width, 0).x,
                top: view.toBox(0, aim.y * whole.height).y,
              }}
            />
          )}
        </div>
      </div>
      <div className={`${css.caption} caption`}>
        {below}
        <ZoomButtons view={view} fitted />
      </div>
    </>
  );
}

/** Where a layer over the artwork lies, and what it is drawn by. */
export interface Over {
  map: PartMap;
  style: CSSProperties;
  view: ViewState;
}

/** A canvas over the artwork, a pixel for each place of the map. */
function Layer({
  over: { map, style },
  draw,
  ...rest
}: {
  over: Over;
  draw(pixels: Uint32Array): void;
} & Record<`data-${string}`, boolean>) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height } = map;
  useLayoutEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    const image = context.createImageData(width, height);
    draw(new Uint32Array(image.data.buffer));
    context.putImageData(image, 0, 0);
  }, [width, height, draw]);
  return <canvas ref={canvas} className={css.lit} width={width} height={height} style={style} {...rest} />;
}

/** Lines around parts: dark with a light edge, so that they are seen on anything. */
export function Lit({ over, lit }: { over: Over; lit: ReadonlySet<number> }) {
  const {
    map: { ids, width, height },
    view,
  } = over;
  // as wide on the screen however near one is
  // a box that has not been measured yet has no width
  const wide = Math.min(3, Math.max(1, Math.round(width / (view.box.width * (view.scale / view.whole)))));
  const draw = useCallback(
    (pixels: Uint32Array) => {
      const on = flagged(lit);
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          const i = y * width + x;
          if (!on(ids[i]!)) continue;
          const edge = x === 0 || y === 0 || x === width - 1 || y === height - 1;
          const inside =
            !edge && on(ids[i - 1]!) && on(ids[i + 1]!) && on(ids[i - width]!) && on(ids[i + width]!);
          if (inside) continue;
          for (let dy = -wide; dy <= wide; dy++)
            for (let dx = -wide; dx <= wide; dx++) {
              const [px, py] = [x + dx, y + dy];
              if (px < 0 || py < 0 || px >= width || py >= height) continue;
              const j = py * width + px;
              // outside light, inside dark
              pixels[j] = on(ids[j]!) ? 0xff161616 : 0xfff4f4f4;
            }
        }
    },
    [ids, width, height, lit, wide],
  );
  return lit.size > 0 ? <Layer over={over} draw={draw} data-lit /> : null;
}

/** A set of numbers that is quickly asked. */
function flagged(set: ReadonlySet<number>): (id: number) => boolean {
  let most = 0;
  for (const id of set) most = Math.max(most, id);
  const flags = new Uint8Array(most + 1);
  for (const id of set) flags[id] = 1;
  return (id) => flags[id] === 1;
}

/** Parts in flat new colours, at once, until the drawing itself has them. @param colors `#rrggbb` by the numbers of parts */
export function Quick({ over, colors }: { over: Over; colors: ReadonlyMap<number, string> }) {
  const { ids } = over.map;
  const draw = useCallback(
    (pixels: Uint32Array) => {
      let most = 0;
      for (const id of colors.keys()) most = Math.max(most, id);
      const words = new Uint32Array(most + 1);
      for (const [id, hex] of colors) {
        const n = Number.parseInt(hex.slice(1), 16);
        words[id] = 0xff000000 | ((n & 255) << 16) | (n & 0xff00) | (n >> 16);
      }
      for (let i = 0; i < ids.length; i++) {
        const id = ids[i]!;
        if (id >= 0 && id <= most) pixels[i] = words[id]!;
      }
    },
    [ids, colors],
  );
  return colors.size > 0 ? <Layer over={over} draw={draw} data-quick /> : null;
}
