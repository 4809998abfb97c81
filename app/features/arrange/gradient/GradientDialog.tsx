import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Popover from '@mui/material/Popover';
import Slider from '@mui/material/Slider';
import { nanoid } from 'nanoid';
import { type PointerEvent, useEffect, useMemo, useRef, useState } from 'react';
import { type InterpolationId, interpolations, toHex } from '#core/color/index';
import { paintGradient, shading } from '#core/gradient/index';
import {
  addSwatches,
  type Gradient,
  type GradientData,
  MAX_GRADIENT_STEPS,
  removeGradients,
  resolvedStops,
  type Stop,
  type Swatch,
  setGradient,
} from '#core/swatch/index';
import { BasePicker } from '~/features/shared/BasePicker';
import { Comments } from '~/features/shared/comments/Comments';
import { TuneDialog } from '~/features/shared/tune/TuneDialog';
import { useStore } from '~/state/store';
import { TRAY, useTray } from '~/state/stores';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { download } from '~/ui/download';
import { Field } from '~/ui/field';
import { NumberField } from '~/ui/number-field';
import { Choose } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { count, swatchLabel } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { useToast, wayBack } from '~/ui/toast';
import css from './GradientDialog.module.css';
import { GradientStrip } from './GradientStrip';

/** By their ids; what writes them comes when it is asked for. */
const FORMATS = [
  ['css', 'CSS'],
  ['svg', 'SVG'],
  ['ggr', 'GGR'],
  ['tokens', 'Design tokens'],
  ['strip', 'PNG strip'],
] as const;

/** A gradient large: its stops are moved, its midpoints, what it is mixed in, and it goes out as a file. */
export function GradientDialog({ gradient, onClose }: { gradient: Gradient; onClose(): void }) {
  const { store, book } = useLibrary();
  const { library } = useStore(store);
  const condition = useCondition();
  const tray = useTray();
  const toast = useToast();
  const [name, setName] = useState(gradient.name);
  /** What is being dragged; one edit when it is let go. */
  const [live, setLive] = useState<GradientData | null>(null);
  const [chosen, setChosen] = useState(0);
  const [bands, setBands] = useState(false);
  const [saving, setSaving] = useState<HTMLElement | null>(null);
  const [tuning, setTuning] = useState(false);
  const [adding, setAdding] = useState<HTMLElement | null>(null);
  const data = live ?? gradient.data;
  const shown = useMemo(() => ({ data, refs: gradient.refs }), [data, gradient.refs]);
  const stops = useMemo(
    () => library && resolvedStops(shown, (id) => store.rows.find(id)?.swatch),
    [shown, store, library],
  );
  const at = Math.min(chosen, data.stops.length - 1);
  const stop = data.stops[at]!;
  const set = (next: Partial<GradientData>, refs?: string[]) => {
    setLive(null);
    store.edit(setGradient(gradient, { data: { ...data, ...next }, ...(refs ? { refs } : {}) }));
  };
  const setStop = (part: Partial<Stop>, done = true) => {
    const next = data.stops.map((s, i) => (i === at ? { ...s, ...part } : s));
    if (done) set({ stops: next });
    else setLive({ ...data, stops: next });
  };
  const room = (i: number) => ({
    min: data.stops[i - 1]?.at ?? 0,
    max: data.stops[i + 1]?.at ?? 1,
  });
  const add = (color: Swatch['color'], swatch: Swatch | undefined) => {
    // in the widest gap, or behind the one that is looked at
    const next = data.stops[at + 1] ?? data.stops[at - 1];
    const place = next ? (stop.at + next.at) / 2 : 1;
    const own = swatch && store.rows.find(swatch.id) ? swatch.id : null;
    const refs = own && !gradient.refs.includes(own) ? [...gradient.refs, own] : gradient.refs;
    const made: Stop = { color, at: place, ...(own ? { ref: refs.indexOf(own) } : {}) };
    const index = data.stops.findIndex((s) => s.at > place);
    const list = data.stops.toSpliced(index < 0 ? data.stops.length : index, 0, made);
    set({ stops: list }, refs);
    setChosen(list.indexOf(made));
    setAdding(null);
  };
  const save = async (id: string) => {
    setSaving(null);
    const files = await import('./files').catch(() => null);
    const format = files?.gradientFormats.find((f) => f.id === id);
    if (!format) {
      toast({ text: 'Nothing was saved. The server does not answer.', stays: true });
      return;
    }
    const used = new Set(gradient.refs);
    const part = {
      ...library,
      name: gradient.name || library.name,
      groups: library.groups.map((g) => ({ ...g, swatches: g.swatches.filter((s) => used.has(s.id)) })),
      items: [gradient],
    };
    const bytes = format.encode(part, { condition });
    download(
      `${(gradient.name || 'gradient').replace(/[\\/:*?"<>|\s]+/g, '-')}.${format.endings[0]}`,
      bytes,
      format.mime,
    );
  };
  const toTray = async () => {
    const n = data.steps ?? 5;
    const shade = shading({ way: data.way }, stops, condition);
    await tray.whole();
    const made = Array.from({ length: n }, (_, i): Swatch => {
      const { color, alpha } = shade(i / (n - 1 || 1));
      return {
        id: nanoid(12),
        name: `${gradient.name} ${i + 1}`,
        kind: 'process',
        color: { space: 'oklab', components: [...color] },
        ...(alpha < 1 ? { alpha } : {}),
        origin: { from: 'harmony', name: `the gradient ${gradient.name}` },
      };
    });
    const added = tray.edit(addSwatches(tray.rows, TRAY, made));
    if (added) toast({ text: `${count(n, 'colour')} in the tray.`, ...wayBack([tray, added]) });
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>Gradient</DialogTitle>
      <DialogContent>
        <div className={css.top}>
          <Field
            aria-label="Name of the gradient"
            dir="auto"
            value={name}
            disabled={book}
            onChange={(e) => setName(e.target.value)}
            onBlur={() => name !== gradient.name && store.edit(setGradient(gradient, { name }))}
            onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
          />
          <Choose
            label="mixed in"
            value={data.way}
            values={interpolations.map((i) => [i.id, i.name] as const)}
            onChange={(way) => set({ way: way as InterpolationId })}
          />
          <Tick
            label="in flat steps"
            checked={!!data.steps}
            onChange={(on) => {
              const { steps: _, ...smooth } = data;
              setLive(null);
              store.edit(setGradient(gradient, { data: on ? { ...smooth, steps: 5 } : smooth }));
            }}
          />
          {data.steps && (
            <NumberField
              label="how many"
              value={data.steps}
              min={1}
              max={MAX_GRADIENT_STEPS}
              onChange={(steps) => set({ steps: Math.round(steps) })}
            />
          )}
          <Tick label="show the bands of 8 bits" checked={bands} onChange={setBands} />
        </div>
        <GradientStrip gradient={shown} rows={store.rows} height={120} />
        {bands && <Bands data={data} stops={stops} condition={condition} />}
        <Track
          data={data}
          colors={stops.map((s) => toHex(s.color, condition))}
          names={stops.map((s, i) => (s.swatch ? swatchLabel(s.swatch, condition) : `stop ${i + 1}`))}
          chosen={at}
          room={room}
          onChoose={setChosen}
          onMove={(next, done) => (done ? set({ stops: next }) : setLive({ ...data, stops: next }))}
        />
        <div className={css.stop}>
          <span className={css.swatch} style={{ background: toHex(stops[at]!.color, condition) }} />
          <strong className="cut" dir="auto">
            {stops[at]!.swatch ? swatchLabel(stops[at]!.swatch!, condition) : 'a colour of its own'}
          </strong>
          <NumberField
            label="at"
            unit="%"
            value={stop.at * 100}
            min={room(at).min * 100}
            max={room(at).max * 100}
            decimals={1}
            onChange={(v) => setStop({ at: v / 100 })}
          />
          {at < data.stops.length - 1 && (
            <NumberField
              label="midpoint"
              unit="%"
              value={(stop.middle ?? 0.5) * 100}
              min={1}
              max={99}
              decimals={0}
              onChange={(v) => setStop({ middle: v / 100 })}
            />
          )}
          <span className={css.alpha}>
            <span className="caption">opacity</span>
            <Slider
              aria-label="Opacity of the stop"
              value={stop.alpha ?? 1}
              min={0}
              max={1}
              step={0.01}
              onChange={(_, v) => setStop({ alpha: v as number }, false)}
              onChangeCommitted={(_, v) => setStop({ alpha: v as number })}
            />
          </span>
        </div>
        <div className={css.ways}>
          <PlainButton look="link" onClick={(e) => setAdding(e.currentTarget)}>
            Add a stop…
          </PlainButton>
          <PlainButton look="link" disabled={book} onClick={() => setTuning(true)}>
            Tune this stop…
          </PlainButton>
          {data.stops.length > 2 && (
            <PlainButton
              look="link"
              onClick={() => {
                set({ stops: data.stops.toSpliced(at, 1) });
                setChosen(Math.max(0, at - 1));
              }}
            >
              Take this stop out
            </PlainButton>
          )}
          <PlainButton
            look="link"
            onClick={() =>
              set({
                stops: [...data.stops].reverse().map(({ middle: _, ...s }, i, list) => {
                  // a midpoint belongs to the stretch before it now
                  const before = list[i + 1]?.middle;
                  return { ...s, at: 1 - s.at, ...(before === undefined ? {} : { middle: 1 - before }) };
                }),
              })
            }
          >
            Turn it around
          </PlainButton>
          <PlainButton look="link" onClick={() => void toTray()}>
            {data.steps ?? 5} steps to the tray
          </PlainButton>
        </div>
        {tuning && (
          <TuneDialog
            title={stops[at]!.swatch ? 'Tune the swatch of this stop' : 'Tune this stop'}
            swatches={[
              stops[at]!.swatch ?? {
                id: 'stop',
                name: `stop ${at + 1}`,
                kind: 'process',
                color: stops[at]!.color,
              },
            ]}
            save="Save"
            onSave={([one], edit) => {
              if (stops[at]!.swatch) store.edit(edit);
              else if (one) setStop({ color: one.color });
            }}
            onClose={() => setTuning(false)}
          />
        )}
        <Popover open={!!adding} anchorEl={adding} onClose={() => setAdding(null)}>
          {adding && (
            <div role="dialog" aria-label="Another stop" className={css.picker}>
              <BasePicker onPick={({ color, swatch }) => add(color, swatch)} />
            </div>
          )}
        </Popover>
        <Comments on={gradient.id} name={gradient.name || 'the gradient'} />
      </DialogContent>
      <DialogActions>
        <Button
          onClick={() => {
            const change = store.edit(removeGradients([gradient]));
            if (change)
              toast({ text: `The gradient “${gradient.name}” was deleted.`, ...wayBack([store, change]) });
            onClose();
          }}
        >
          Delete
        </Button>
        <Button aria-haspopup="menu" onClick={(e) => setSaving(e.currentTarget)}>
          Save as…
        </Button>
        <Menu anchorEl={saving} open={!!saving} onClose={() => setSaving(null)}>
          {FORMATS.map(([id, label]) => (
            <MenuItem key={id} onClick={() => void save(id)}>
              {label}
            </MenuItem>
          ))}
        </Menu>
        <Button variant="contained" onClick={onClose}>
          Done
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** Where one 8-bit colour ends and the next begins: light and dark by turns, so that wide bands are seen before they print. */
function Bands({
  data,
  stops,
  condition,
}: {
  data: GradientData;
  stops: ReturnType<typeof resolvedStops>;
  condition: ReturnType<typeof useCondition>;
}) {
  const width = 1024;
  const canvas = useRef<HTMLCanvasElement>(null);
  const found = useMemo(() => {
    const row = new Uint32Array(paintGradient(data, stops, condition, width).buffer);
    const runs: number[] = [];
    for (let x = 0; x < width; x++) {
      if (x > 0 && row[x] === row[x - 1]) runs[runs.length - 1]!++;
      else runs.push(1);
    }
    return runs;
  }, [data, stops, condition]);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    let x = 0;
    found.forEach((run, i) => {
      context.fillStyle = i % 2 ? '#fff' : '#000';
      context.fillRect(x, 0, run, 8);
      x += run;
    });
  }, [found]);
  return (
    <>
      <canvas ref={canvas} width={width} height={8} className={css.bands} aria-hidden />
      <p className="caption" role="status">
        {count(found.length, 'colour')} of 8 bits over {width} pixels, the widest band {Math.max(...found)}.
      </p>
    </>
  );
}

/** The stops as handles, and between them marks for the midpoints. */
function Track({
  data,
  colors,
  names,
  chosen,
  room,
  onChoose,
  onMove,
}: {
  data: GradientData;
  colors: string[];
  names: string[];
  chosen: number;
  room(i: number): { min: number; max: number };
  onChoose(i: number): void;
  onMove(stops: Stop[], done: boolean): void;
}) {
  const track = useRef<HTMLDivElement>(null);
  const held = useRef(false);
  const place = (event: PointerEvent) => {
    const box = track.current!.getBoundingClientRect();
    return Math.min(1, Math.max(0, (event.clientX - box.left) / box.width));
  };
  const put = (i: number, at: number, done: boolean) => {
    const { min, max } = room(i);
    const next = Math.min(max, Math.max(min, at));
    onMove(
      data.stops.map((s, k) => (k === i ? { ...s, at: next } : s)),
      done,
    );
  };
  const bend = (i: number, at: number, done: boolean) => {
    const [from, to] = [data.stops[i]!.at, data.stops[i + 1]!.at];
    const middle = Math.min(0.99, Math.max(0.01, (at - from) / (to - from || 1)));
    onMove(
      data.stops.map((s, k) => (k === i ? { ...s, middle } : s)),
      done,
    );
  };
  const handlers = (act: (at: number, done: boolean) => void, choose: () => void) => ({
    onPointerDown: (e: PointerEvent<HTMLElement>) => {
      if (e.button !== 0) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      held.current = true;
      choose();
    },
    onPointerMove: (e: PointerEvent<HTMLElement>) => held.current && act(place(e), false),
    onPointerUp: (e: PointerEvent<HTMLElement>) => {
      if (held.current) act(place(e), true);
      held.current = false;
    },
    onPointerCancel: () => {
      held.current = false;
    },
  });
  const step = (e: React.KeyboardEvent, from: number, act: (at: number, done: boolean) => void) => {
    const by = { ArrowLeft: -0.01, ArrowRight: 0.01 }[e.key];
    if (!by) return;
    e.preventDefault();
    act(from + by * (e.shiftKey ? 0.1 : 1), true);
  };
  return (
    <div className={css.track} ref={track}>
      {data.stops.slice(0, -1).map((s, i) => {
        const next = data.stops[i + 1]!;
        if (next.at - s.at < 0.01) return null;
        const at = s.at + (next.at - s.at) * (s.middle ?? 0.5);
        return (
          <span
            key={`m${i}`}
            role="slider"
            tabIndex={0}
            className={css.middle}
            style={{ left: `${at * 100}%` }}
            aria-label={`Midpoint between ${names[i]} and ${names[i + 1]}`}
            aria-valuemin={1}
            aria-valuemax={99}
            aria-valuenow={Math.round((s.middle ?? 0.5) * 100)}
            {...handlers(
              (v, done) => bend(i, v, done),
              () => onChoose(i),
            )}
            onKeyDown={(e) => step(e, at, (v, done) => bend(i, v, done))}
          />
        );
      })}
      {data.stops.map((s, i) => (
        <span
          key={i}
          role="slider"
          tabIndex={0}
          className={css.handle}
          data-chosen={i === chosen}
          style={{ left: `${s.at * 100}%`, background: colors[i] }}
          aria-label={`Stop ${names[i]}`}
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round(s.at * 100)}
          {...handlers(
            (v, done) => put(i, v, done),
            () => onChoose(i),
          )}
          onFocus={() => onChoose(i)}
          onKeyDown={(e) => step(e, s.at, (v, done) => put(i, v, done))}
        />
      ))}
    </div>
  );
}
