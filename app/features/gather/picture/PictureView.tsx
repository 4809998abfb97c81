import {
  type CSSProperties,
  type PointerEvent,
  type ReactNode,
  useEffect,
  useMemo,
  useRef,
  useState,
} from 'react';
import { screenOnly, toHex } from '#core/color/index';
import { type PaletteColor, type Region, rectangle } from '#core/picture/index';
import type { OpenedPicture, PictureQueries } from '~/messages/picture-messages';
import { Divider, rightOf } from '~/ui/divider';
import { useView, type ViewState, zoomKey } from '~/ui/use-view';
import { ZoomButtons } from '~/ui/zoom-buttons';
import { latestOnly } from '~/workers/worker-client';
import { ChartOutlines, Line, Marks, RegionOutline } from './overlays';
import css from './PictureView.module.css';
import { fits, type TakeState } from './use-take';

/** What dragging on the picture does. */
export type Tool = 'look' | 'rectangle' | 'freehand' | 'line';

/** A hand that moves less than this has clicked. */
const CLICK = 4;

interface Point {
  x: number;
  y: number;
}

/** The picture, and under a divider the picture drawn with the palette; a place to take colours and mark regions. */
export function PictureView({
  id,
  opened,
  state,
  drawn,
  tool,
  onMarked,
  onTake,
  onLine,
  children,
}: {
  id: string;
  opened: OpenedPicture;
  state: TakeState;
  drawn: boolean;
  tool: Tool;
  /** A region has been drawn. */
  onMarked(): void;
  onTake(color: PaletteColor): void;
  /** A line has been drawn, from one pixel to another. */
  onLine(from: [number, number], to: [number, number]): void;
  /** What is reported below the picture. */
  children: ReactNode;
}) {
  const { recipe, colors, store, answer } = state;
  const { client } = store;
  const box = useRef<HTMLDivElement>(null);
  const view = useView(box, opened);
  const [divider, setDivider] = useState(50);
  const [draft, setDraft] = useState<Region['outline'] | null>(null);
  const [at, setAt] = useState<Point | null>(null);
  const point = recipe.method === 'point';
  const takes = point || recipe.method === 'reduce';
  const palette = useMemo(() => colors.map((c) => c.color), [colors]);

  const take = async (where: Point) => {
    const [x, y] = [where.x, where.y].map(Math.floor);
    if (x < 0 || y < 0 || x >= opened.width || y >= opened.height) return;
    const ask = { id, x, y, size: recipe.sampleSize, cell: recipe.cell };
    const { color } = await client.ask('peek', ask);
    if (color) onTake(color);
  };

  const gesture = useRef<{ from: Point; last: Point; moved: boolean } | null>(null);
  const placeOf = (e: PointerEvent): Point => {
    const { left, top } = e.currentTarget.getBoundingClientRect();
    return { x: e.clientX - left, y: e.clientY - top };
  };
  const down = (e: PointerEvent<HTMLDivElement>) => {
    // a second finger makes a pinch of it
    if (!e.isPrimary) gesture.current = null;
    if (e.button !== 0 || !e.isPrimary) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    const place = placeOf(e);
    gesture.current = { from: place, last: place, moved: false };
  };
  const move = (e: PointerEvent<HTMLDivElement>) => {
    const place = placeOf(e);
    if (e.isPrimary && e.pointerType !== 'touch') setAt(view.toPicture(place.x, place.y));
    const now = gesture.current;
    if (!now || !e.isPrimary) return;
    if (Math.hypot(place.x - now.from.x, place.y - now.from.y) >= CLICK) now.moved = true;
    if (!now.moved) return;
    if (tool === 'look') view.pan(place.x - now.last.x, place.y - now.last.y);
    else {
      const [p, q] = [view.toPicture(now.from.x, now.from.y), view.toPicture(place.x, place.y)];
      setDraft((was) =>
        tool === 'line'
          ? [
              [p.x, p.y],
              [q.x, q.y],
            ]
          : tool === 'rectangle'
            ? rectangle(p.x, p.y, q.x, q.y)
            : ([...(was ?? [[p.x, p.y]]), [q.x, q.y]] as Region['outline']),
      );
    }
    now.last = place;
  };
  const up = (e: PointerEvent<HTMLDivElement>) => {
    const now = gesture.current;
    gesture.current = null;
    if (!now || !e.isPrimary) return;
    if (now.moved) {
      if (draft && tool === 'line') {
        onLine(draft[0]!, draft[1]!);
        onMarked();
      } else if (draft && draft.length > 2) {
        state.set({ region: { outline: draft, outside: recipe.region?.outside ?? false } });
        onMarked();
      }
      setDraft(null);
    } else if (takes && tool === 'look') void take(view.toPicture(now.from.x, now.from.y));
  };

  const key = (e: React.KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const arrow = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    const step = e.shiftKey ? Math.ceil(opened.width / 40) : Math.max(1, recipe.cell);
    if (zoomKey(e.key, view)) e.preventDefault();
    else if (arrow && takes) {
      const was = at ?? { x: opened.width / 2, y: opened.height / 2 };
      const next = {
        x: Math.min(opened.width - 1, Math.max(0, was.x + arrow[0] * step)),
        y: Math.min(opened.height - 1, Math.max(0, was.y + arrow[1] * step)),
      };
      setAt(next);
      view.reveal(next.x, next.y);
      e.preventDefault();
    } else if (arrow) {
      view.pan(-arrow[0] * 40, -arrow[1] * 40);
      e.preventDefault();
    } else if ((e.key === 'Enter' || e.key === ' ') && takes && at) {
      void take(at);
      e.preventDefault();
    }
  };

  // a chart's chips say nothing about the paper they lie on
  const half = drawn && fits(recipe.method) && colors.length > 0;
  const outside = recipe.region?.outside ?? false;
  const region =
    draft && tool !== 'line' ? { outline: draft, outside } : fits(recipe.method) ? recipe.region : null;
  return (
    <>
      <div
        className={css.box}
        style={
          {
            aspectRatio: `${opened.width} / ${opened.height}`,
            '--ratio': opened.width / opened.height,
          } as CSSProperties
        }
      >
        <div
          ref={box}
          role="application"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: it is moved over with the arrow keys
          tabIndex={0}
          className={css.area}
          aria-label={
            takes
              ? 'The picture. Arrow keys move the pointer, Enter takes the colour under it, plus and minus zoom.'
              : 'The picture. Arrow keys move it, plus and minus zoom.'
          }
          style={{
            cursor: tool !== 'look' || takes ? 'crosshair' : view.scale > view.whole ? 'grab' : 'default',
          }}
          onPointerDown={down}
          onPointerMove={move}
          onPointerUp={up}
          onPointerCancel={() => {
            gesture.current = null;
            setDraft(null);
          }}
          onPointerLeave={() => !gesture.current && setAt(null)}
          onKeyDown={key}
        >
          <Shown id={id} store={store} view={view} cell={recipe.cell} palette={null} />
          {half && (
            <Shown id={id} store={store} view={view} cell={recipe.cell} palette={palette} from={divider} />
          )}
          <svg className={css.overlay} aria-hidden>
            {draft && tool === 'line' && <Line outline={draft} view={view} />}
            {region && <RegionOutline region={region} view={view} />}
            {recipe.method === 'chart' && answer?.chart && (
              <ChartOutlines chips={answer.chart.chips} view={view} />
            )}
            {point && <Marks points={recipe.points} width={opened.width} view={view} />}
          </svg>
        </div>
        {half && (
          <Divider
            value={divider}
            onChange={setDivider}
            label="Divider between the picture and the picture drawn with the palette"
          />
        )}
        {takes && at && (point || recipe.cell > 1) && tool === 'look' && (
          <Loupe id={id} at={at} state={state} view={view} />
        )}
      </div>
      <div className={`${css.caption} caption`}>
        {children}
        <ZoomButtons view={view} />
      </div>
    </>
  );
}

/** A canvas that follows the view; the worker makes its pixels, and only the latest wish counts. */
function Shown({
  id,
  store,
  view: { view },
  cell,
  palette,
  from,
}: {
  id: string;
  store: TakeState['store'];
  view: ViewState;
  cell: number;
  palette: PictureQueries['show']['ask']['palette'];
  /** Where on the way across it begins, %. */
  from?: number;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const draw = useMemo(
    () =>
      latestOnly(
        (ask: PictureQueries['show']['ask']) => store.client.ask('show', ask),
        ({ data }, { view }) => {
          const to = canvas.current;
          if (!to) return;
          to.width = view.outWidth;
          to.height = view.outHeight;
          to.getContext('2d')?.putImageData(new ImageData(data, view.outWidth, view.outHeight), 0, 0);
        },
        store.report,
      ),
    [store],
  );
  const { x, y, width, height, outWidth, outHeight } = view;
  useEffect(() => {
    if (outWidth > 1) draw({ id, cell, palette, view: { x, y, width, height, outWidth, outHeight } });
  }, [draw, id, cell, palette, x, y, width, height, outWidth, outHeight]);
  return (
    <canvas
      ref={canvas}
      className={css.canvas}
      style={from === undefined ? undefined : { clipPath: rightOf(from) }}
    />
  );
}

const LOUPE = 135;

/** What lies under the pointer, enlarged, with the colour that would be taken. */
function Loupe({ id, at, state, view }: { id: string; at: Point; state: TakeState; view: ViewState }) {
  const { client } = state.store;
  const { sampleSize, cell, method } = state.recipe;
  const [seen, setSeen] = useState<PictureQueries['peek']['answer'] | null>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const peek = useMemo(
    () =>
      latestOnly(
        (ask: PictureQueries['peek']['ask']) => client.ask('peek', ask),
        setSeen,
        state.store.report,
      ),
    [client, state.store],
  );
  const [x, y] = [at.x, at.y].map(Math.floor);
  useEffect(() => peek({ id, x, y, size: sampleSize, cell }), [peek, id, x, y, sampleSize, cell]);
  useEffect(() => {
    if (seen)
      canvas.current?.getContext('2d')?.putImageData(new ImageData(seen.around, seen.side, seen.side), 0, 0);
  }, [seen]);
  const place = view.toBox(at.x, at.y);
  const [right, below] = [place.x > view.box.width * 0.55, place.y > view.box.height * 0.5];
  return (
    <div
      className={css.loupe}
      style={{
        left: place.x,
        top: place.y,
        transform: `translate(${right ? 'calc(-100% - 18px)' : '18px'}, ${below ? 'calc(-100% - 18px)' : '18px'})`,
      }}
    >
      {cell <= 1 && (
        <div className={css.glass} style={{ width: LOUPE, height: LOUPE }}>
          <canvas ref={canvas} width={15} height={15} />
          <span
            className={css.aim}
            style={{ width: (LOUPE / 15) * sampleSize, height: (LOUPE / 15) * sampleSize }}
          />
        </div>
      )}
      {seen?.color && (
        <div className={css.seen}>
          <span style={{ background: toHex(seen.color.color, screenOnly) }} />
          <span className="mono">{toHex(seen.color.color, screenOnly).toUpperCase()}</span>
          {method === 'reduce' && <span className="caption">click to hold</span>}
        </div>
      )}
    </div>
  );
}
