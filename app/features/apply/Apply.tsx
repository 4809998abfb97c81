import Button from '@mui/material/Button';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { type Row, wouldTurn } from '#core/artwork/index';
import { screenOnly, toHex } from '#core/color/index';
import type { Swatch, Wish } from '#core/swatch/index';
import { useKeepArtwork } from '~/features/shared/artwork/keep';
import { PlateList, Separations, usePlates } from '~/features/shared/artwork/Separations';
import { colorAt, usePainted, usePartMap } from '~/features/shared/artwork/use-painted';
import { Lit, type Over, Quick, type Spot, WorkView } from '~/features/shared/artwork/WorkView';
import { useFileTaker, useOpenFiles } from '~/features/shared/open/OpenFiles';
import type { Made } from '~/messages/artwork-messages';
import { usePart } from '~/state/store';
import { useStores } from '~/state/stores';
import { useCondition } from '~/ui/condition';
import { Divider, rightOf } from '~/ui/divider';
import { droppedSwatch } from '~/ui/drag-swatch';
import { Empty } from '~/ui/empty';
import { Panel, Stage, Toolbar } from '~/ui/Frame';
import { Notice } from '~/ui/notice';
import { PageButtons } from '~/ui/page-buttons';
import { PlainButton } from '~/ui/plain-button';
import { Progress } from '~/ui/progress';
import { Choices } from '~/ui/setting';
import { useShortcut } from '~/ui/shortcuts';
import { count, swatchLabel } from '~/ui/swatch';
import css from './Apply.module.css';
import { Becomes } from './Becomes';
import { ColorList } from './ColorList';
import { ColorwayStrip } from './ColorwayStrip';
import { type Entry, entriesOf, idsOf, type ListOrder, partWith } from './entries';
import { OutBar } from './OutBar';
import type { Meant } from './PaintField';
import { PaintWith } from './PaintWith';
import { Pointed } from './pointed';
import { useApply, VIEWS } from './use-apply';
import { WorkList } from './WorkList';

const TABS = { recolour: 'Recolour', compare: 'Before and after', separations: 'Separations' } as const;
const NOTHING: ReadonlySet<number> = new Set();

/** Apply: the library on a piece of artwork. */
export function Apply() {
  const state = useApply();
  const { artwork, facts, rows, made, drawn, view, library, condition, colorway } = state;
  const { keep, stage, stop } = useKeepArtwork(state.open);
  useFileTaker(keep);
  const openFiles = useOpenFiles();
  const { artworks } = useStores();
  const hash = artwork?.data.asset;
  const painted = usePainted(hash, made);
  const before = usePainted(view === 'compare' ? hash : undefined, drawn);
  // what is seen comes first
  const map = usePartMap(painted.url ? hash : undefined, made, facts?.parts ?? 0);
  const plates = usePlates(hash, made, library, view === 'separations');

  const [order, setOrder] = useState<ListOrder>('area');
  const [chosen, setChosen] = useState<string | null>(null);
  /** A part that was pointed at, whose colour alone may be meant. */
  const [single, setSingle] = useState<string | null>(null);
  const [alone, setAlone] = useState(false);
  const [pointed] = useState(() => new Pointed());
  const [divider, setDivider] = useState(50);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another work has other colours
  useEffect(() => {
    setChosen(null);
    setSingle(null);
    setAlone(false);
  }, [artwork?.id]);

  const entries = useMemo(() => entriesOf(rows, order), [rows, order]);
  const byId = useMemo(() => new Map(entries.map((e) => [e.id, e])), [entries]);
  // what is chosen stays chosen in a list of another kind, by its colour
  const entry =
    byId.get(chosen ?? '') ?? (chosen ? entries.find((e) => e.keys.includes(chosen)) : undefined) ?? null;
  const part = entry?.parts.find((p) => p.key === single) ?? null;
  const target: Entry | null =
    entry && part && alone && entry.parts.length > 1
      ? { ...entry, id: part.key, keys: [part.key], parts: [part], name: part.name, share: part.share }
      : entry;

  const entryWith = (row: Row, key: string) =>
    entries.find((e) => e.keys.includes(key)) ?? entries.find((e) => e.rows.includes(row)) ?? null;
  const point = (id: number | null) => {
    const found = id === null ? null : partWith(rows, id);
    pointed.at(found ? (entryWith(found.row, found.part.key)?.id ?? null) : null, found?.part.key ?? null);
  };
  const quick = useMemo(() => newSince(rows, painted.of), [rows, painted.of]);

  const namesOf = (one: Entry) => one.name || one.rows[0]!.from.hex.toUpperCase();
  const paint = useCallback(
    (one: Entry, wish: Wish | null, label: string) =>
      state.paint(Object.fromEntries(one.keys.map((key) => [key, wish])), label),
    [state],
  );
  const paintSwatch = (one: Entry, swatch: Swatch) => {
    const line = one.rows[0]?.line;
    paint(
      one,
      { swatch, ...(line && swatch.kind === 'technical' ? { line } : {}) },
      `make “${namesOf(one)}” ${swatchLabel(swatch, condition)}`,
    );
  };
  const take = (one: Entry, meant: Meant) => {
    if (meant.is === 'swatch') paintSwatch(one, meant.swatch);
    else if (meant.is === 'color')
      paint(
        one,
        { color: meant.color },
        `make “${namesOf(one)}” ${toHex(meant.color, condition).toUpperCase()}`,
      );
    else {
      // an ink that the library has already is not brought twice
      const known = library.groups
        .flatMap((g) => g.swatches)
        .find(
          (s) =>
            s.origin?.book === meant.swatch.origin?.book &&
            s.origin?.code === meant.swatch.origin?.code &&
            s.origin?.book,
        );
      if (known) paintSwatch(one, known);
      else
        state.bring(
          meant.swatch,
          (swatch) => Object.fromEntries(one.keys.map((key) => [key, { swatch }])),
          `make “${namesOf(one)}” ${swatchLabel(meant.swatch, condition)}`,
        );
    }
  };
  const choose = async (id: number | null, spot: Spot, picks: boolean) => {
    const first = id === null ? null : partWith(rows, id);
    if (id === null || !first || !made || !painted.url) return;
    // of a gradient the stop is meant that is the nearest to what is seen
    const found =
      first.part.gradient === undefined
        ? first
        : partWith(rows, id, await colorAt(painted.url, spot, made.size.width / made.size.height))!;
    if (picks && target) {
      const { swatch, color } = found.row;
      if (swatch) paintSwatch(target, swatch);
      else paint(target, { color }, `make “${namesOf(target)}” as “${found.row.names[0] || found.row.to}”`);
      return;
    }
    setChosen(entryWith(found.row, found.part.key)?.id ?? null);
    setSingle(found.part.key);
    setAlone(false);
  };
  const dropped = (id: number | null, event: React.DragEvent) => {
    const swatch = droppedSwatch(event);
    const found = id === null ? null : partWith(rows, id);
    if (!swatch || !found) return;
    const one = entryWith(found.row, found.part.key);
    if (!one) return;
    const own = library.groups.flatMap((g) => g.swatches).find((s) => s.id === swatch.id);
    setChosen(one.id);
    setSingle(found.part.key);
    take(one, own ? { is: 'swatch', swatch: own } : { is: 'color', color: swatch.color });
  };
  // a letter or digit anywhere begins the name or number of what is chosen
  useShortcut('begin', () => {
    document.querySelector<HTMLInputElement>('[data-paint-field]')?.focus();
    // the letter goes into the field
    return false;
  });

  if (condition === screenOnly)
    return (
      <Stage wide>
        <h1 className="unseen">Apply</h1>
        <p role="status" className={`second ${css.alone}`}>
          Opening the library…
        </p>
      </Stage>
    );
  return (
    <>
      <Panel side="outline" label="Artwork">
        <WorkList state={state} onOpen={openFiles} />
        {artwork && (
          <PaintWith
            library={library}
            current={target?.rows[0]?.swatch ?? null}
            says={target ? namesOf(target) : null}
            onTake={(swatch) => target && paintSwatch(target, swatch)}
          />
        )}
      </Panel>
      <Stage wide={!artwork}>
        <h1 className="unseen">Apply</h1>
        {!artwork ? (
          <Empty
            level="h2"
            title="Put the colours on the artwork"
            text="Drop a drawing (SVG), a PDF or a picture of few flat colours. Its colours stand in a list beside it; each becomes a swatch, a number or a code you choose, and everything else in it stays as it is."
          >
            <Button variant="contained" onClick={openFiles}>
              Open artwork…
            </Button>
          </Empty>
        ) : (
          <>
            <Toolbar>
              <Choices className={css.tabs} aria-label="What is shown">
                {VIEWS.map((v) => (
                  <PlainButton look="tab" key={v} aria-pressed={view === v} onClick={() => state.look(v)}>
                    {TABS[v]}
                  </PlainButton>
                ))}
              </Choices>
              <span className={`caption ${css.hint}`}>
                {view === 'recolour'
                  ? 'click a part, then a swatch · Alt takes the colour of another part'
                  : view === 'compare'
                    ? 'as drawn on the left, as it is now on the right'
                    : 'point to read how much of each ink there is'}
              </span>
              {facts?.pages && (
                <PageButtons page={facts.page ?? 0} count={facts.pages.length} onTurn={state.turn} />
              )}
            </Toolbar>
            {state.problem || painted.problem ? (
              <div className={css.problem}>
                <Notice>{state.problem ?? painted.problem}</Notice>
                {state.problem && hash && <Button onClick={() => void artworks.open(hash)}>Try again</Button>}
              </div>
            ) : !facts || !made || !painted.url ? (
              <p role="status" className={`second ${css.alone}`}>
                Opening the artwork…
              </p>
            ) : (
              <div className={css.stage}>
                {view === 'separations' ? (
                  <Separations name={artwork.name} made={made} plates={plates} />
                ) : (
                  <WorkView
                    size={made.size}
                    map={map}
                    layers={(over) => (
                      <>
                        {view === 'recolour' && <Quick over={over} colors={quick} />}
                        <LitParts over={over} pointed={pointed} byId={byId} target={target} />
                      </>
                    )}
                    label={`${artwork.name}. Arrow keys point at parts, Enter chooses the one pointed at, plus and minus zoom.`}
                    onPoint={point}
                    onChoose={(id, spot, { altKey }) => void choose(id, spot, altKey)}
                    onDrop={(id, _, event) => dropped(id, event)}
                    below={<SaidOver rows={rows} pointed={pointed} />}
                  >
                    {({ style }) => (
                      <>
                        {view === 'compare' && before.url && <img src={before.url} alt="" style={style} />}
                        <span
                          className={css.layer}
                          style={
                            view === 'compare' && before.url ? { clipPath: rightOf(divider) } : undefined
                          }
                        >
                          {view === 'compare' && <i className={css.white} />}
                          <img src={painted.url!} alt={artwork.name} style={style} draggable={false} />
                        </span>
                        {view === 'compare' && (
                          <Divider
                            value={divider}
                            onChange={setDivider}
                            label="Divider between the artwork as it was drawn and as it is now"
                          />
                        )}
                      </>
                    )}
                  </WorkView>
                )}
              </div>
            )}
            {facts && <ColorwayStrip state={state} shown={painted.url} />}
          </>
        )}
      </Stage>
      {artwork && (
        <Panel side="readout" label="Colours" className={css.readout}>
          {view === 'separations' ? (
            <PlateList library={library} condition={condition} plates={plates} />
          ) : (
            facts && (
              <>
                <ColorList
                  entries={entries}
                  facts={facts}
                  order={order}
                  onOrder={setOrder}
                  chosen={entry}
                  pointed={pointed}
                  onChoose={(one) => {
                    setChosen(one.id);
                    setSingle(null);
                    setAlone(false);
                  }}
                  onDrop={(one, event) => {
                    const swatch = droppedSwatch(event);
                    if (!swatch) return;
                    const own = library.groups.flatMap((g) => g.swatches).find((s) => s.id === swatch.id);
                    take(one, own ? { is: 'swatch', swatch: own } : { is: 'color', color: swatch.color });
                  }}
                />
                <Becomes
                  key={target?.id ?? ''}
                  state={state}
                  target={target}
                  entry={entry}
                  part={part}
                  alone={alone}
                  onAlone={setAlone}
                  onTake={(meant) => target && take(target, meant)}
                  onWish={(wish, label) => target && paint(target, wish, label)}
                  canFollow={(key) => !colorway || !target?.keys.some((k) => wouldTurn(colorway, k, key))}
                />
              </>
            )
          )}
        </Panel>
      )}
      {artwork && facts && <OutBar state={state} />}
      {stage !== null && <Progress title="Looking through the artwork" stage={stage} onStop={stop} />}
    </>
  );
}

/** The outlines of what the hand is over, else of what is chosen. */
function LitParts({
  over,
  pointed,
  byId,
  target,
}: {
  over: Over;
  pointed: Pointed;
  byId: ReadonlyMap<string, Entry>;
  target: Entry | null;
}) {
  const entry = usePart(pointed, (s) => s.entry);
  const shown = byId.get(entry ?? '') ?? target;
  const lit = useMemo(() => (shown ? idsOf(shown.parts) : NOTHING), [shown]);
  return <Lit over={over} lit={lit} />;
}

/** What is reported of the part under the hand. */
function SaidOver({ rows, pointed }: { rows: readonly Row[]; pointed: Pointed }) {
  const condition = useCondition();
  const key = usePart(pointed, (s) => s.part);
  const said = useMemo(() => {
    for (const row of key ? rows : []) {
      const part = row.parts.find((p) => p.key === key);
      if (!part) continue;
      const now = row.swatch ? swatchLabel(row.swatch, condition) : row.to.toUpperCase();
      const what = { stop: 'in a gradient', stroke: 'line', fill: '' }[part.role];
      const called = part.name || part.layer || 'part without a name';
      return [called, what, now, count(row.parts.length, 'part')].filter(Boolean).join(' · ');
    }
    return '';
  }, [rows, key, condition]);
  return <span className="cut">{said}</span>;
}

/** The parts whose colours are others than those that are seen. */
function newSince(rows: readonly Row[], seen: Made | null): ReadonlyMap<number, string> {
  const colors = new Map<number, string>();
  if (!seen) return colors;
  const before = new Map(seen.orders.map((o) => [o.parts?.[0] ?? o.from, o.to]));
  for (const row of rows) {
    if ((before.get(row.key) ?? before.get(row.from.hex)) === row.to) continue;
    for (const part of row.parts) if (part.gradient === undefined) colors.set(part.id, row.to);
  }
  return colors;
}
