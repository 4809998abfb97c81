import { type CSSProperties, useEffect, useMemo, useRef, useState } from 'react';
import { fromRgb8, toHex } from '#core/color/index';
import type { PictureClient } from '~/workers/picture-client';
import type { OpenedPicture, PictureQueries } from '~/workers/picture-messages';
import { latestOnly } from '~/workers/worker-client';
import type { PaletteState } from './palette';

const thousands = (n: number) => n.toLocaleString('en-GB').replaceAll(',', ' ');

/** The picture, and under a divider the picture drawn with the palette; in point mode a place to take colours. */
export function PictureView({
  name,
  opened,
  client,
  palette,
  drawn,
  setDrawn,
}: {
  name: string;
  opened: OpenedPicture;
  client: PictureClient;
  palette: PaletteState;
  drawn: boolean;
  setDrawn(drawn: boolean): void;
}) {
  const { preview } = opened;
  const original = useRef<HTMLCanvasElement>(null);
  const redrawn = useRef<HTMLCanvasElement>(null);
  const [divider, setDivider] = useState(50);

  useEffect(() => {
    original.current
      ?.getContext('2d')
      ?.putImageData(new ImageData(preview.data, preview.width, preview.height), 0, 0);
  }, [preview]);

  const draw = useMemo(
    () =>
      latestOnly(
        (colors: number[][]) => client.ask('draw', { palette: colors }),
        ({ data }) =>
          redrawn.current
            ?.getContext('2d')
            ?.putImageData(new ImageData(data, preview.width, preview.height), 0, 0),
      ),
    [client, preview],
  );
  const colors = palette.palette;
  useEffect(() => {
    if (drawn) draw(colors.map((c) => c.rgb));
  }, [draw, drawn, colors]);

  const canvas: CSSProperties = { position: 'absolute', inset: 0, width: '100%', height: '100%' };
  return (
    <section className="picture-column" aria-label="Picture">
      <div style={{ display: 'flex', gap: 8, alignItems: 'baseline', marginBottom: 8 }}>
        <strong className="cut" title={name}>
          {name}
        </strong>
        <span className="caption" style={{ whiteSpace: 'nowrap' }}>
          {thousands(opened.width)} × {thousands(opened.height)} · stays on this machine
        </span>
      </div>
      <div className="picture-room">
        <div
          className="picture-box"
          style={
            {
              aspectRatio: `${preview.width} / ${preview.height}`,
              '--ratio': preview.width / preview.height,
            } as CSSProperties
          }
        >
          <canvas ref={original} width={preview.width} height={preview.height} style={canvas} />
          {drawn && (
            <>
              <canvas
                ref={redrawn}
                width={preview.width}
                height={preview.height}
                style={{ ...canvas, clipPath: `inset(0 0 0 ${divider}%)` }}
              />
              <span className="divider" style={{ left: `${divider}%` }} />
              <input
                type="range"
                min={0}
                max={100}
                value={divider}
                onChange={(e) => setDivider(Number(e.target.value))}
                aria-label="Divider between the picture and the picture drawn with the palette"
                className="divider-range"
              />
            </>
          )}
          {palette.method === 'point' && <PointLayer opened={opened} client={client} palette={palette} />}
        </div>
        <div
          className="caption"
          style={{ display: 'flex', justifyContent: 'space-between', marginTop: 8, gap: 12 }}
        >
          {palette.method === 'point' ? (
            <span>Click the picture to take a colour. Arrow keys move the pointer, Enter takes.</span>
          ) : (
            <label style={{ display: 'flex', gap: 6, alignItems: 'center', cursor: 'pointer' }}>
              <input
                type="checkbox"
                checked={drawn}
                onChange={(e) => setDrawn(e.target.checked)}
                style={{ accentColor: 'var(--ink)', margin: 0 }}
              />
              {drawn ? 'Left: the picture. Right: drawn with the palette.' : 'Show it drawn with the palette'}
            </label>
          )}
          {palette.meanDeltaE00 !== null && (
            <span style={{ whiteSpace: 'nowrap' }}>mean ΔE00 {palette.meanDeltaE00.toFixed(1)}</span>
          )}
        </div>
      </div>
    </section>
  );
}

const LOUPE = 135;

function PointLayer({
  opened,
  client,
  palette,
}: {
  opened: OpenedPicture;
  client: PictureClient;
  palette: PaletteState;
}) {
  const [at, setAt] = useState<{ x: number; y: number } | null>(null);
  const [seen, setSeen] = useState<PictureQueries['peek']['answer'] | null>(null);
  const loupe = useRef<HTMLCanvasElement>(null);
  const { sampleSize } = palette;

  const peek = useMemo(
    () =>
      latestOnly(
        (ask: { x: number; y: number; size: typeof sampleSize }) => client.ask('peek', ask),
        setSeen,
      ),
    [client],
  );
  useEffect(() => {
    if (at) peek({ ...at, size: sampleSize });
  }, [at, sampleSize, peek]);
  useEffect(() => {
    if (seen)
      loupe.current?.getContext('2d')?.putImageData(new ImageData(seen.around, seen.side, seen.side), 0, 0);
  }, [seen]);

  const place = (event: React.MouseEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    return {
      x: Math.min(
        opened.width - 1,
        Math.max(0, Math.floor(((event.clientX - box.left) / box.width) * opened.width)),
      ),
      y: Math.min(
        opened.height - 1,
        Math.max(0, Math.floor(((event.clientY - box.top) / box.height) * opened.height)),
      ),
    };
  };
  const take = async (point: { x: number; y: number }) => {
    const { rgb } = await client.ask('peek', { ...point, size: sampleSize });
    if (rgb) palette.addPoint({ rgb, share: 0, first: point.y * opened.width + point.x });
  };
  const left = at ? (at.x / opened.width) * 100 : 0;
  const top = at ? (at.y / opened.height) * 100 : 0;
  return (
    <div
      role="application"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: it is moved over with the arrow keys
      tabIndex={0}
      aria-label="Take colours from the picture"
      style={{ position: 'absolute', inset: 0, cursor: 'crosshair' }}
      onMouseMove={(e) => setAt(place(e))}
      onMouseLeave={() => setAt(null)}
      onFocus={() => setAt((was) => was ?? { x: opened.width >> 1, y: opened.height >> 1 })}
      onClick={(e) => void take(place(e))}
      onKeyDown={(e) => {
        const step = e.shiftKey ? Math.ceil(opened.width / 40) : 1;
        const move = {
          ArrowLeft: [-step, 0],
          ArrowRight: [step, 0],
          ArrowUp: [0, -step],
          ArrowDown: [0, step],
        }[e.key];
        if (!at) return;
        if (e.key === 'Enter' || e.key === ' ') void take(at);
        else if (move)
          setAt({
            x: Math.min(opened.width - 1, Math.max(0, at.x + move[0])),
            y: Math.min(opened.height - 1, Math.max(0, at.y + move[1])),
          });
        else return;
        e.preventDefault();
      }}
    >
      {at && (
        <div
          className="loupe"
          style={{
            left: `${left}%`,
            top: `${top}%`,
            transform: `translate(${left > 55 ? 'calc(-100% - 18px)' : '18px'}, ${top > 50 ? 'calc(-100% - 18px)' : '18px'})`,
          }}
        >
          <div style={{ position: 'relative', width: LOUPE, height: LOUPE }}>
            <canvas
              ref={loupe}
              width={15}
              height={15}
              style={{ width: LOUPE, height: LOUPE, imageRendering: 'pixelated', display: 'block' }}
            />
            <span
              className="aim"
              style={{ width: (LOUPE / 15) * sampleSize, height: (LOUPE / 15) * sampleSize }}
            />
          </div>
          {seen?.rgb && (
            <div style={{ display: 'flex', gap: 8, alignItems: 'center', padding: 6 }}>
              <span style={{ width: 34, height: 20, background: toHex(fromRgb8(...seen.rgb)) }} />
              <span className="mono">{toHex(fromRgb8(...seen.rgb)).toUpperCase()}</span>
            </div>
          )}
        </div>
      )}
    </div>
  );
}
