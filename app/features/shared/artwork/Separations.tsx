import { useEffect, useMemo, useRef, useState } from 'react';
import type { Plate } from '#core/artwork/index';
import { type Condition, conditionOf } from '#core/color/index';
import type { Library, Swatch } from '#core/swatch/index';
import { type Made, pressOf } from '~/messages/artwork-messages';
import { useStores } from '~/state/stores';
import { Notice } from '~/ui/notice';
import { SwatchFace } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import css from './Separations.module.css';
import { asImage, pixelsOf } from './use-painted';
import { WorkView } from './WorkView';

const SIDE = 1000;

/** A plate with how much of its ink lies where, 0–255. */
interface SeenPlate extends Plate {
  url: string;
  /** The same in its ink. */
  inkUrl: string;
  ink: Uint8Array;
  width: number;
  height: number;
  /** Of the whole sheet, 0–1. */
  coverage: number;
}

export interface Plates {
  all: SeenPlate[] | null;
  problem: string | null;
  /** Whether they are shown in their inks, one printed over the other. */
  inInks: boolean;
  showInks(on: boolean): void;
  /** Those that are not looked at, by name. */
  off: ReadonlySet<string>;
  turn(name: string, on: boolean): void;
  /** Where the hand is, 0–1 across and down. */
  at: { x: number; y: number } | null;
  point(at: { x: number; y: number } | null): void;
}

/** The plates of an artwork, rebuilt when what is printed changes. @param library whose inks and condition are printed with */
export function usePlates(
  hash: string | undefined,
  made: Made | null,
  library: Library,
  wanted: boolean,
  startInInks = false,
): Plates {
  const { artworks } = useStores();
  const [all, setAll] = useState<SeenPlate[] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [off, setOff] = useState<ReadonlySet<string>>(new Set());
  const [inInks, showInks] = useState(startInInks);
  const [at, point] = useState<Plates['at']>(null);
  const urls = useRef<string[]>([]);
  useEffect(() => {
    if (!wanted || !hash || !made) return;
    let live = true;
    const press = pressOf(library, conditionOf(library));
    void (async () => {
      try {
        const plates = await artworks.client.ask('plates', { hash, made, press });
        const seen: SeenPlate[] = [];
        for (const { picture: painted, ...plate } of plates) {
          const picture = await asImage(painted, made.page, SIDE);
          const { data, width, height } = await pixelsOf(picture, made.size.width / made.size.height, SIDE);
          if (!live) return;
          const ink = new Uint8Array(width * height);
          let sum = 0;
          for (let i = 0; i < ink.length; i++) {
            ink[i] = 255 - data[4 * i]!;
            sum += ink[i]!;
          }
          const coverage = sum / 255 / ink.length;
          const inked = await inkPicture(ink, width, height, plate.hex);
          seen.push({
            ...{ ...plate, ink, width, height, coverage },
            ...{ url: URL.createObjectURL(picture), inkUrl: URL.createObjectURL(inked) },
          });
        }
        const old = urls.current;
        urls.current = seen.flatMap((p) => [p.url, p.inkUrl]);
        setAll(seen);
        setProblem(null);
        for (const url of old) URL.revokeObjectURL(url);
      } catch (error) {
        if (live) setProblem((error as Error).message);
      }
    })();
    return () => {
      live = false;
    };
  }, [artworks, wanted, hash, made, library]);
  useEffect(
    () => () => {
      for (const url of urls.current) URL.revokeObjectURL(url);
    },
    [],
  );
  return {
    ...{ all, problem, off, at, point, inInks, showInks },
    turn: (name, on) =>
      setOff((was) => {
        const next = new Set(was);
        if (on) next.delete(name);
        else next.add(name);
        return next;
      }),
  };
}

/** A plate in its ink: white where it has none. */
async function inkPicture(ink: Uint8Array, width: number, height: number, hex: string): Promise<Blob> {
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d')!;
  const image = context.createImageData(width, height);
  const solid = [1, 3, 5].map((i) => Number.parseInt(hex.slice(i, i + 2), 16));
  ink.forEach((amount, i) => {
    const part = amount / 255;
    solid.forEach((v, c) => {
      image.data[4 * i + c] = 255 + part * (v - 255);
    });
    image.data[4 * i + 3] = 255;
  });
  context.putImageData(image, 0, 0);
  return canvas.convertToBlob();
}

/** The plates that are switched on, in grey or in their inks, one over the other. */
export function Separations({ name, made, plates }: { name: string; made: Made; plates: Plates }) {
  const { all, off, problem, point } = plates;
  const shown = useMemo(() => all?.filter((p) => !off.has(p.name)) ?? [], [all, off]);
  if (problem) return <Notice>{problem}</Notice>;
  if (!all)
    return (
      <p role="status" className="second">
        Making the plates…
      </p>
    );
  return (
    <WorkView
      size={made.size}
      map={null}
      label={`The plates of ${name}. Arrow keys move, plus and minus zoom.`}
      onPoint={(_, at) => point(at)}
    >
      {({ style }) =>
        shown.map((p) => (
          <img
            key={p.name}
            src={plates.inInks ? p.inkUrl : p.url}
            alt={`Plate ${p.name}`}
            style={{ ...style, mixBlendMode: 'multiply' }}
          />
        ))
      }
    </WorkView>
  );
}

/** How much ink there is at a place, 0–1. */
export function inkAt({ ink, width, height }: SeenPlate, at: { x: number; y: number }): number {
  const [x, y] = [Math.floor(at.x * width), Math.floor(at.y * height)];
  return x < 0 || y < 0 || x >= width || y >= height ? 0 : ink[y * width + x]! / 255;
}

/** The ink of a plate, as its chip shows it. */
const inkOf = ({ name, kind, hex }: Plate): Swatch => ({
  ...{ id: name, name, kind },
  color: { space: 'rgb', components: [1, 3, 5].map((i) => Number.parseInt(hex.slice(i, i + 2), 16) / 255) },
});

const percent = (v: number) => `${Math.round(100 * v)} %`;

/** The plates with how much of each there is, at the hand and in all. */
export function PlateList({
  library,
  condition,
  plates,
}: {
  library: Library;
  condition: Condition;
  plates: Plates;
}) {
  const { all, off, turn, at } = plates;
  if (!all) return null;
  const total = at ? all.reduce((sum, p) => sum + (p.kind === 'technical' ? 0 : inkAt(p, at)), 0) : 0;
  const limit = conditionOf(library).inkLimit;
  return (
    <section className={css.list} aria-label="Plates">
      <div className={css.head}>
        <strong>{all.length === 1 ? '1 plate' : `${all.length} plates`}</strong>
        <span className="caption">{condition.name}</span>
      </div>
      <div className={css.inks}>
        <Tick checked={plates.inInks} onChange={plates.showInks} label="In their inks, one over the other" />
      </div>
      <div className={`${css.plate} caption`} aria-hidden>
        <span />
        <span />
        <span className={css.figure}>in all</span>
        <span className={css.figure}>here</span>
      </div>
      {all.map((p) => (
        <div key={p.name} className={css.plate}>
          <Tick
            silent
            checked={!off.has(p.name)}
            onChange={(on) => turn(p.name, on)}
            label={`Show ${p.name}`}
          />
          <span className={css.name}>
            <SwatchFace swatch={inkOf(p)} className={css.chip!} />
            <span className="cut" dir="auto" title={p.name}>
              {p.name}
            </span>
            <span className="unseen">{p.kind}</span>
          </span>
          <span className={`mono ${css.figure}`}>
            {p.coverage > 0 && p.coverage < 0.005 ? '< 1 %' : percent(p.coverage)}
          </span>
          <span className={`mono ${css.figure}`}>{at ? percent(inkAt(p, at)) : ''}</span>
        </div>
      ))}
      <div className={css.total}>
        <span>
          Total ink <span className="caption">of at most {limit} %</span>
        </span>
        <strong className="mono" role="status">
          {at ? percent(total) : '–'}
        </strong>
      </div>
      {at && 100 * total > limit + 0.5 && (
        <p className={css.over} role="alert">
          More ink than the paper takes.
        </p>
      )}
    </section>
  );
}
