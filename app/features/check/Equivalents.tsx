import Button from '@mui/material/Button';
import { useVirtualizer } from '@tanstack/react-virtual';
import { nanoid } from 'nanoid';
import { type KeyboardEvent, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { takenFrom } from '#core/books/index';
import {
  type Condition,
  differenceInWords,
  type Lab,
  METRICS,
  type MetricId,
  toHex,
  toLab,
} from '#core/color/index';
import { PAIRING, pairingsOf, pairOps, swapFor } from '#core/match/index';
import {
  addGroups,
  allSwatches,
  freeGroupName,
  type Library,
  type Op,
  type Swatch,
} from '#core/swatch/index';
import { equivalentOf } from '~/features/shared/match/equivalent';
import { limitsOf, metricName, USUAL_ASKING } from '~/features/shared/match/limits';
import { useNearestKey } from '~/features/shared/match/nearest';
import { SourceChoice, useSources } from '~/features/shared/match/SourceChoice';
import { useToTray } from '~/features/shared/use-to-tray';
import type { FoundColor } from '~/messages/match-messages';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { BottomBar, Panel, Stage, Toolbar } from '~/ui/Frame';
import { LabFigures } from '~/ui/lab-figures';
import { Notice } from '~/ui/notice';
import { NumberField } from '~/ui/number-field';
import { Choose } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { count, swatchLabel } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { useToast, wayBack } from '~/ui/toast';
import { useAsked } from '~/ui/use-asked';
import { WingPair } from '~/ui/wing-pair';
import { openMatchClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import { StoppedError } from '~/workers/worker-client';
import css from './Equivalents.module.css';

const LINE = 53;
const FIVE = 5;

interface Row {
  swatch: Swatch;
  lab: Lab;
  near: FoundColor[];
  /** The one taken for it. */
  chosen: FoundColor;
  /** It is the one that was kept with the library before. */
  kept: boolean;
}

/** What a colour goes by among several sources. */
const idOf = (source: string, id: string) => `${source} ${id}`;

/** What the library's swatches are in a book: every one with its five nearest, the worst first. */
export function Equivalents() {
  const { store, book } = useLibrary();
  const { library, whole } = useStore(store);
  const condition = useCondition();
  const sources = useSources(store.id);
  const [metric, setMetric] = useState<MetricId>('de00');
  const [within, setWithin] = useState(2);
  const [once, setOnce] = useState(false);
  /** What the user has chosen, and said to be taken or not, by swatch. */
  const [picked, setPicked] = useState<Readonly<Record<string, string>>>({});
  const [said, setSaid] = useState<Readonly<Record<string, boolean>>>({});
  const [at, setAt] = useState<string | null>(null);
  const { answer, stage, problem, again, stop } = useNearestOfAll(whole ? library : null, {
    sources: sources.chosen,
    metric,
    once,
    condition,
  });
  const nowhere = sources.ready && sources.chosen.length === 0;
  const kept = useMemo(() => pairingsOf(library), [library]);
  const rows = useMemo(() => {
    if (!answer || nowhere) return null;
    const made = answer.rows.flatMap(({ swatch, lab, near, first }): Row[] => {
      const own = kept.get(swatch.id)?.map((p) => idOf(p.data.source, p.data.code ?? p.data.name)) ?? [];
      // two that were kept may be one number, which is not what is asked for here
      const before = once ? undefined : near.find((n) => own.includes(idOf(n.source, n.code ?? n.name)));
      const chosen =
        near.find((n) => idOf(n.source, n.id) === picked[swatch.id]) ?? before ?? first ?? near[0];
      return chosen ? [{ swatch, lab, near, chosen, kept: chosen === before }] : [];
    });
    return made.sort((a, b) => b.chosen.difference - a.chosen.difference);
  }, [answer, picked, kept, nowhere, once]);
  // what was kept before is accepted, however far it is
  const taken = useCallback(
    (row: Row) => said[row.swatch.id] ?? (row.kept || row.chosen.difference <= within),
    [said, within],
  );
  // handed on in the library's own order, and not the worst first
  const accepted = useMemo(() => {
    const order = new Map(allSwatches(library).map((s, i) => [s.id, i]));
    const list = (rows ?? []).filter((r) => order.has(r.swatch.id) && taken(r));
    return list.sort((a, b) => order.get(a.swatch.id)! - order.get(b.swatch.id)!);
  }, [rows, taken, library]);
  const place = Math.max(0, rows?.findIndex((r) => r.swatch.id === at) ?? 0);
  const row = rows?.[place] ?? null;
  useNearestKey(() =>
    row
      ? {
          color: row.swatch.color,
          name: swatchLabel(row.swatch, condition),
          not: [store.id, row.swatch.id],
          // a book is not edited
          ...(book ? {} : { swap: { store, ids: [row.swatch.id] } }),
        }
      : null,
  );
  const pick = (one: Row, found: FoundColor) =>
    setPicked({ ...picked, [one.swatch.id]: idOf(found.source, found.id) });

  const inside = rows?.filter((r) => r.chosen.difference <= within).length ?? 0;
  const largest = rows?.[0]?.chosen.difference ?? 0;
  const mean = rows?.length ? rows.reduce((sum, r) => sum + r.chosen.difference, 0) / rows.length : 0;
  const names = sources.all.filter((s) => sources.chosen.includes(s.id)).map((s) => s.name);
  return (
    <>
      <Stage>
        <h1 className="unseen">Check</h1>
        <Toolbar className={css.toolbar}>
          <strong>Every swatch</strong>
          <SourceChoice sources={sources} />
          <span className={css.options}>
            <Choose
              label="by"
              value={metric}
              values={METRICS.map((m) => [m.id, m.name] as const)}
              onChange={(m) => setMetric(m as MetricId)}
            />
            <NumberField
              label="tolerance"
              value={within}
              min={0}
              max={50}
              step={0.5}
              decimals={1}
              onChange={setWithin}
            />
            <Tick label="Use each number once" checked={once} onChange={setOnce} />
          </span>
        </Toolbar>
        {problem || sources.problem ? (
          <div className={css.alone}>
            <Notice>{sources.problem ?? problem}</Notice>
            <Button onClick={sources.problem ? sources.again : again}>Look again</Button>
          </div>
        ) : nowhere ? (
          <p className={`second ${css.alone}`}>Choose a book or a library to look in, above.</p>
        ) : !rows ? (
          <p role="status" className={`second ${css.alone}`}>
            {stage ?? 'Looking for the nearest…'}{' '}
            <PlainButton look="link" onClick={stage ? stop : again}>
              {stage ? 'Stop' : 'Look again'}
            </PlainButton>
          </p>
        ) : (
          <div className={css.body}>
            <h2 className="title">
              {rows.length === 0
                ? 'No swatches to find equivalents for'
                : `${inside === rows.length ? 'All' : inside} of ${rows.length} have an equivalent within ${within.toFixed(1)}`}
            </h2>
            <p className="second" role="status">
              {rows.length === 0
                ? 'Technical separations are identified by their names, and are left out.'
                : `Largest difference ${largest.toFixed(1)}, mean ${mean.toFixed(1)}.${
                    rows.length > inside
                      ? ` ${count(rows.length - inside, 'swatch has', 'swatches have')} none; the nearest is shown.`
                      : ''
                  }${stage ? ` ${stage}` : ''}`}
            </p>
            <Rows
              rows={rows}
              at={place}
              metric={metricName(metric)}
              within={within}
              condition={condition}
              taken={taken}
              onAt={setAt}
              onPick={pick}
              onTake={(one, on) => setSaid({ ...said, [one.swatch.id]: on })}
            />
          </div>
        )}
      </Stage>
      <Detail
        row={row}
        metric={metric}
        others={sources.all.filter((s) => !sources.chosen.includes(s.id)).map((s) => s.id)}
      />
      <Accepted rows={accepted} metric={metric} bookName={names[0] ?? ''} />
    </>
  );
}

function Rows({
  rows,
  at,
  metric,
  within,
  condition,
  taken,
  onAt,
  onPick,
  onTake,
}: {
  rows: Row[];
  at: number;
  metric: string;
  within: number;
  condition: Condition;
  taken(row: Row): boolean;
  onAt(id: string): void;
  onPick(row: Row, found: FoundColor): void;
  onTake(row: Row, on: boolean): void;
}) {
  const scroller = useRef<HTMLFieldSetElement>(null);
  /** Whether the keyboard is in here: then it follows what is chosen. */
  const inside = useRef(false);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE,
    overscan: 6,
  });
  const current = rows[at]?.swatch.id;
  // biome-ignore lint/correctness/useExhaustiveDependencies: only where it goes matters
  useEffect(() => {
    if (current === undefined) return;
    virtual.scrollToIndex(at);
    if (!inside.current) return;
    const frame = requestAnimationFrame(() =>
      scroller.current?.querySelector<HTMLElement>(`[data-swatch="${CSS.escape(current)}"]`)?.focus(),
    );
    return () => cancelAnimationFrame(frame);
  }, [at, current]);
  const key = (event: KeyboardEvent) => {
    const row = rows[at];
    if (!row) return;
    const by = { ArrowDown: 1, ArrowUp: -1, Home: -rows.length, End: rows.length }[event.key];
    if (by) onAt(rows[Math.min(rows.length - 1, Math.max(0, at + by))]!.swatch.id);
    else if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
      const next = row.near[row.near.indexOf(row.chosen) + (event.key === 'ArrowRight' ? 1 : -1)];
      if (next) onPick(row, next);
    } else if (event.key === ' ' && !(event.target instanceof HTMLInputElement)) onTake(row, !taken(row));
    else return;
    event.preventDefault();
  };
  return (
    <>
      <div className={`caption ${css.row} ${css.head}`} aria-hidden>
        <span>here · there</span>
        <span>swatch</span>
        <span>its five nearest</span>
        <span className={css.number}>{metric}</span>
        <span />
      </div>
      <fieldset
        ref={scroller}
        className={css.list}
        aria-label="Equivalents"
        onKeyDown={key}
        onFocus={() => {
          inside.current = true;
        }}
        onBlur={(e) => {
          // a line that scrolls away takes the focus with it
          if (e.relatedTarget) inside.current = false;
        }}
      >
        <div className={css.lines} style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index, start }) => {
            const row = rows[index]!;
            const { swatch, near, chosen } = row;
            const label = swatchLabel(swatch, condition);
            return (
              // biome-ignore lint/a11y/noStaticElementInteractions: the name in it is the button
              // biome-ignore lint/a11y/useKeyWithClickEvents: see above
              <div
                key={swatch.id}
                className={`${css.row} ${css.line}`}
                aria-current={index === at || undefined}
                style={{ top: start, height: LINE }}
                onClick={() => onAt(swatch.id)}
              >
                <span className={css.pair}>
                  <WingPair left={toHex(swatch.color, condition)} right={chosen.hex} />
                </span>
                <PlainButton
                  className={css.name}
                  data-swatch={swatch.id}
                  tabIndex={index === at ? 0 : -1}
                  aria-current={index === at || undefined}
                  onClick={() => onAt(swatch.id)}
                >
                  <strong className="cut" dir="auto" title={label}>
                    {label}
                  </strong>
                  <span className="caption cut" dir="auto" title={`${chosen.name}, ${chosen.sourceName}`}>
                    {chosen.name}
                  </span>
                  <span className="unseen">
                    , {metric} {chosen.difference.toFixed(1)}
                    {taken(row) ? ', accepted' : ''}
                  </span>
                </PlainButton>
                <span className={css.five}>
                  {near.map((n) => (
                    <PlainButton
                      key={idOf(n.source, n.id)}
                      tabIndex={-1}
                      aria-pressed={n === chosen}
                      aria-label={`${n.name}, ${metric} ${n.difference.toFixed(1)}`}
                      title={`${n.name}, ${n.sourceName} · ${metric} ${n.difference.toFixed(1)}`}
                      style={{ background: n.hex }}
                      onClick={() => onPick(row, n)}
                    />
                  ))}
                </span>
                <span className={`mono ${css.number}`} data-outside={chosen.difference > within}>
                  {chosen.difference.toFixed(1)}
                </span>
                <span className={css.take}>
                  <Tick
                    silent
                    label={`Accept ${chosen.name} for ${label}`}
                    checked={taken(row)}
                    onChange={(on) => onTake(row, on)}
                  />
                  <span className="caption">{chosen.difference > within ? 'outside' : ''}</span>
                </span>
              </div>
            );
          })}
        </div>
      </fieldset>
    </>
  );
}

/** The pair in figures and words, and what is near in other places. */
function Detail({ row, metric, others }: { row: Row | null; metric: MetricId; others: string[] }) {
  const condition = useCondition();
  const { store } = useLibrary();
  const match = useClient(openMatchClient);
  const { value } = useAsked<FoundColor[][]>(
    row && others.length > 0
      ? () =>
          match.ask('nearest', {
            sources: others,
            metric,
            limits: limitsOf(USUAL_ASKING),
            setting: condition.setting,
            wanted: [{ lab: row.lab, not: [store.id, row.swatch.id] }],
            n: 3,
          })
      : null,
    [row?.swatch.id, metric, others.join(' ')],
    { wait: 120, fresh: true },
  );
  const also = value?.[0] ?? [];
  if (!row)
    return (
      <Panel side="readout" label="Equivalent">
        <p className={`second ${css.hint}`}>The chosen swatch beside its equivalent is shown here.</p>
      </Panel>
    );
  const { swatch, lab, chosen, near } = row;
  const here = toHex(swatch.color, condition);
  const words = differenceInWords(lab, chosen.lab);
  return (
    <Panel side="readout" label="Equivalent">
      <div className={css.large}>
        <WingPair left={here} right={chosen.hex} />
      </div>
      <div className={css.words}>
        <p className={`caption ${css.ends}`}>
          <span className="cut" dir="auto">
            {swatchLabel(swatch, condition)}, here
          </span>
          <span className="cut" dir="auto">
            {chosen.name} · {metricName(metric)} {chosen.difference.toFixed(1)}
          </span>
        </p>
        <LabFigures labs={[lab, chosen.lab]} heads={['here', 'there']} />
        <p>
          {words.charAt(0).toLocaleUpperCase('en') + words.slice(1)}.{' '}
          {chosen === near[0]
            ? 'Nothing there is closer.'
            : `${near[0]!.name} is closer, ${near[0]!.difference.toFixed(1)}.`}
        </p>
        {also.length > 0 && (
          <section aria-label="Also near">
            <h2 className={css.also}>Also near</h2>
            {also.map((f) => (
              <div key={idOf(f.source, f.id)} className={css.other}>
                <span className={css.small}>
                  <WingPair left={here} right={f.hex} />
                </span>
                <span className={css.name}>
                  <span className="cut" dir="auto">
                    {f.name || f.hex.toUpperCase()}
                  </span>
                  <span className="caption cut" dir="auto">
                    {f.sourceName}
                  </span>
                </span>
                <span className="mono">{f.difference.toFixed(1)}</span>
              </div>
            ))}
          </section>
        )}
      </div>
    </Panel>
  );
}

/** What is done with the accepted ones. All of it keeps the pairs, so that either side finds the other. */
function Accepted({ rows, metric, bookName }: { rows: Row[]; metric: MetricId; bookName: string }) {
  const { store, book } = useLibrary();
  const stores = useStores();
  const { books } = stores;
  const navigate = useNavigate();
  const toTray = useToTray();
  const toast = useToast();
  const [busy, setBusy] = useState(false);
  const pairs = () =>
    pairOps(
      store.rows,
      rows.map((r) => ({ swatch: r.swatch.id, with: equivalentOf(r.chosen, metric) })),
      () => nanoid(12),
    );
  const entries = () =>
    Promise.all(
      rows.map(async ({ swatch, chosen }) => {
        const entry = await books.entry(chosen.source, chosen.id);
        if (!entry) throw new Error(`“${chosen.name}” no longer exists.`);
        const taken = chosen.book
          ? takenFrom({ id: chosen.source, name: chosen.sourceName }, entry, nanoid(12))
          : { ...entry, id: nanoid(12) };
        return { swatch, taken };
      }),
    );
  const doing = (run: () => Promise<void>) => async () => {
    if (busy || rows.length === 0) return;
    setBusy(true);
    try {
      await run();
    } catch (error) {
      toast({ text: `Nothing was changed. ${(error as Error).message}`, stays: true });
    }
    setBusy(false);
  };
  const edit = (label: string, ops: Op[], text: string) => {
    const id = store.edit({ label, ops });
    if (id) toast({ text, ...wayBack([store, id]) });
  };
  const n = count(rows.length, 'equivalent');
  // an ink that several share is taken once
  const once = (list: { taken: Swatch }[]) => [
    ...new Map(list.map(({ taken }) => [`${taken.origin?.book} ${taken.name}`, taken])).values(),
  ];
  const keep = doing(async () => edit(`keep ${n}`, pairs(), `${n} kept as pairs.`));
  const tray = doing(async () => {
    const list = once(await entries());
    if (!book) store.edit({ label: `keep ${n}`, ops: pairs() });
    await toTray(list);
  });
  const group = doing(async () => {
    const swatches = once(await entries());
    const name = freeGroupName(store.rows.library, bookName || 'Equivalents');
    const added = addGroups(store.rows, [{ id: nanoid(12), name, swatches }]);
    edit(`${added.label}, and keep ${n}`, [...added.ops, ...pairs()], `${n} in the group “${name}”.`);
  });
  const swap = doing(async () => {
    const ops = (await entries()).flatMap(({ swatch, taken }) => swapFor([swatch.id], taken, true).ops);
    edit(
      `swap ${rows.length} swatches for their equivalents`,
      ops,
      `${count(rows.length, 'swatch', 'swatches')} swapped.`,
    );
  });
  // a book itself is not edited: its inks and what they are there become a library
  const library = doing(async () => {
    const { id, name } = store.snapshot().library;
    const swatches = rows.map(({ swatch }) => takenFrom({ id, name }, swatch, nanoid(12)));
    const items = rows.map(({ chosen }, i) => ({
      id: nanoid(12),
      kind: PAIRING,
      name: chosen.name,
      refs: [swatches[i]!.id],
      data: equivalentOf(chosen, metric),
    }));
    const made = await stores.createLibrary({
      id,
      name: `${name} in ${bookName || 'others'}`,
      groups: [{ id: nanoid(12), name: '', swatches }],
      items,
    });
    await navigate(`/libraries/${made}/arrange`);
  });
  const off = busy || rows.length === 0;
  if (book)
    return (
      <BottomBar label="Equivalents">
        <strong>Equivalents</strong>
        <span className={`caption ${css.accepted}`}>
          {rows.length} accepted · kept as pairs in a library of their own
        </span>
        <Button disabled={off} onClick={() => void tray()}>
          To the tray
        </Button>
        <Button variant="contained" disabled={off} onClick={() => void library()}>
          Keep as a library
        </Button>
      </BottomBar>
    );
  return (
    <BottomBar label="Equivalents">
      <strong>Equivalents</strong>
      <span className={`caption ${css.accepted}`}>
        {rows.length} accepted · kept as pairs, so that either side finds the other
      </span>
      <Button variant="text" disabled={off} onClick={() => void keep()}>
        Keep the pairs alone
      </Button>
      <Button disabled={off} onClick={() => void swap()}>
        Swap in place
      </Button>
      <Button disabled={off} onClick={() => void tray()}>
        To the tray
      </Button>
      <Button variant="contained" disabled={off} onClick={() => void group()}>
        Keep as a group
      </Button>
    </BottomBar>
  );
}

interface Answer {
  rows: { swatch: Swatch; lab: Lab; near: FoundColor[]; first: FoundColor | null }[];
}

/** Swatches that change one after the other are looked for together, ms. */
const WAIT_MS = 80;

/** The nearest five of every swatch, asked for again when the library or what is asked changes. */
function useNearestOfAll(
  library: Library | null,
  asked: { sources: readonly string[]; metric: MetricId; once: boolean; condition: Condition },
) {
  const match = useClient(openMatchClient);
  const [answer, setAnswer] = useState<Answer | null>(null);
  const [stage, setStage] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [round, setRound] = useState(0);
  const key = JSON.stringify([asked.sources, asked.metric, asked.once, asked.condition.setting]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key stands for what is asked
  useEffect(() => {
    if (!library || asked.sources.length === 0) return;
    let live = true;
    let job: { stop(): void } | null = null;
    const timer = setTimeout(() => {
      // a separation is identified by its name, and a tint is part of its ink
      const swatches = allSwatches(library).filter((s) => s.kind !== 'technical' && !s.tint);
      const labs = swatches.map((s) => toLab(s.color, asked.condition));
      const { sources, metric, condition, once } = asked;
      const wanted = swatches.map((s, i) => ({
        lab: labs[i]!,
        not: [library.id, s.id] as [string, string],
      }));
      const limits = { ...limitsOf(USUAL_ASKING), kinds: ['process', 'spot'] as const };
      const ask = { sources, metric, limits, setting: condition.setting, wanted, n: FIVE };
      setProblem(null);
      const told = (text: string) => live && setStage(text);
      const run = once ? match.ask('translate', ask, told) : match.ask('nearest', ask, told);
      job = run;
      run.then(
        (got) => {
          if (!live) return;
          const { nearest, chosen } = Array.isArray(got) ? { nearest: got, chosen: null } : got;
          const rows = swatches.map((swatch, i) => {
            const first = chosen ? chosen[i]! : (nearest[i]![0] ?? null);
            const same = (f: FoundColor) => f.source === first?.source && f.id === first.id;
            // the one that is its own stands among the five
            const near = nearest[i]!;
            const five = !first || near.some(same) ? near : [...near.slice(0, FIVE - 1), first];
            return { swatch, lab: labs[i]!, near: five, first: five.find(same) ?? null };
          });
          setAnswer({ rows });
          setStage(null);
        },
        (error: Error) => {
          if (!live) return;
          setStage(null);
          if (!(error instanceof StoppedError)) setProblem(error.message);
        },
      );
    }, WAIT_MS);
    return () => {
      live = false;
      clearTimeout(timer);
      job?.stop();
    };
  }, [library, key, round]);
  return { answer, stage, problem, again: () => setRound((n) => n + 1), stop: match.stop };
}
