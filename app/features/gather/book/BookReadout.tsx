import Button from '@mui/material/Button';
import { nanoid } from 'nanoid';
import { lazy, Suspense, useDeferredValue, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { tintFrom, tintLab } from '#core/books/index';
import { screenOnly } from '#core/color/condition';
import { type Color, type Condition, deltaE00, type Lab, notations, toHex } from '#core/color/index';
import { pairingsOf } from '#core/match/index';
import { recipeText, type Swatch } from '#core/swatch/index';
import { reachesOf } from '~/features/shared/Gamuts';
import { useNearest, useNearestKey } from '~/features/shared/match/nearest';
import { useToTray } from '~/features/shared/use-to-tray';
import type { OpenBook } from '~/state/books';
import { usePart, useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useWorkspace } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Panel } from '~/ui/Frame';
import { PlainButton } from '~/ui/plain-button';
import { count } from '~/ui/swatch';
import { useAsked } from '~/ui/use-asked';
import { WingPair } from '~/ui/wing-pair';
import css from './BookReadout.module.css';
import { siblings, useEntry, useOpenBook } from './use-book';
import { useTake } from './use-take';

const Reflectance = lazy(() => import('./Reflectance').then((m) => ({ default: m.Reflectance })));

/** The ink that is looked at: on this paper and on the other, in numbers, as tints, and what it is mixed from. */
export function BookReadout() {
  const { books } = useStores();
  const { list, book: id, at } = useStore(books);
  const open = useOpenBook(id);
  const now = open ? (open.placeOf.get(at[open.id] ?? '') ?? open.first) : -1;
  // a hand that walks goes first; figures follow when there is time
  const shown = useDeferredValue(
    useMemo(() => (open && now >= 0 ? { book: open, place: now } : null), [open, now]),
  );
  const condition = useCondition();
  const listed = list?.find((b) => b.id === shown?.book.id);
  if (!shown || !listed || condition === screenOnly)
    return (
      <Panel side="readout" label="Ink">
        <p className={`second ${css.hint}`}>The chosen ink is shown here, large and in every notation.</p>
      </Panel>
    );
  const other = siblings(list!, listed).find((b) => b.id !== listed.id);
  return (
    <Panel side="readout" label="Ink">
      <Ink {...shown} other={other?.id ?? null} condition={condition} />
    </Panel>
  );
}

const asLab = (lab: Lab): Color => ({ space: 'lab', components: lab });
const PERCENTS = Array.from({ length: 20 }, (_, i) => 5 * (i + 1));

function Ink({
  book,
  place,
  other: otherId,
  condition,
}: {
  book: OpenBook;
  place: number;
  other: string | null;
  condition: Condition;
}) {
  const take = useTake();
  const nearest = useNearest();
  const other = useOpenBook(otherId);
  const { id, name, code, hex, kind, special } = book.swatches;
  const twin = other && code[place] !== null ? other.swatches.code.indexOf(code[place]!) : -1;
  const entry = useEntry(book.id, id[place]);
  const twinEntry = useEntry(other && twin >= 0 ? other.id : null, other?.swatches.id[twin]);
  const lab = book.labs[place]!;
  const color = entry?.color ?? asLab(lab);
  useNearestKey(() => ({ color, name: name[place]!, not: [book.id, id[place]!] }));
  const paper = book.facts.substrate;
  return (
    <>
      <div className={css.pair}>
        {other && twin >= 0 ? (
          <WingPair left={hex[place]!} right={other.swatches.hex[twin]!} />
        ) : (
          <span className={css.face} style={{ background: hex[place] }} />
        )}
      </div>
      <div className={css.words}>
        <div className={`caption ${css.ends}`}>
          <span>{paper ? `on ${paper}` : book.name}</span>
          {other && twin >= 0 && (
            <span>
              same ink on {other.facts.substrate} · ΔE00 {deltaE00(lab, other.labs[twin]!).toFixed(1)}
            </span>
          )}
        </div>
        <h2 className="title" dir="auto">
          {name[place]}
        </h2>
        <p className={`second ${css.kind}`}>
          {special[place] ? `${special[place]}, not to be reproduced` : kind[place]}
          {kind[place] === 'spot' && paper ? ` · measured on ${paper}` : ''}
          {entry?.note ? ` · ${entry.note}` : ''}
        </p>
        <div className={css.ways}>
          <Button variant="contained" onClick={() => void take(book, [{ ids: [id[place]!] }])}>
            To the tray
          </Button>
          <Button onClick={() => nearest({ color, name: name[place]!, not: [book.id, id[place]!] })}>
            Nearest…
          </Button>
        </div>
        <hr />
        <Figures color={color} lab={lab} entry={entry} condition={condition} />
        {entry?.spectrum && (
          <>
            <hr />
            <div className={css.head}>
              <strong>Reflectance</strong>
              <span className="caption">
                {entry.spectrum.start}–
                {entry.spectrum.start + entry.spectrum.step * (entry.spectrum.values.length - 1)} nm
              </span>
            </div>
            <div className={css.chart}>
              <Suspense>
                <Reflectance here={entry.spectrum} there={twinEntry?.spectrum ?? null} />
              </Suspense>
            </div>
          </>
        )}
        {kind[place] === 'spot' && !special[place] && (
          <Tints key={id[place]} book={book} entry={entry} condition={condition} />
        )}
        {entry?.recipe && (
          <>
            <hr />
            <p className={css.recipe}>
              <span className="second">Recipe</span>
              <span>
                {entry.recipe.map((part, i) => (
                  <span key={part.of}>
                    {i > 0 && ' · '}
                    <span className={css.part}>{recipeText([part])}</span>
                  </span>
                ))}
              </span>
            </p>
          </>
        )}
        <Uses book={book} code={code[place] ?? name[place]!} />
      </div>
    </>
  );
}

function Figures({
  color,
  lab,
  entry,
  condition,
}: {
  color: Color;
  lab: Lab;
  entry: Swatch | null;
  condition: Condition;
}) {
  const reaches = useMemo(() => reachesOf(color, condition), [color, condition]);
  const all = notations(color, condition);
  const text = (wanted: string) => all.find((n) => n.id === wanted)?.text ?? '';
  const own = entry?.alternates?.find((a) => a.space === 'cmyk');
  const [srgb, , press] = reaches;
  const rows: [string, string, string?][] = [
    ['Lab D50', lab.map((v) => v.toFixed(1)).join('  ')],
    ...(own
      ? ([['CMYK in the book', `${own.components.map((v) => Math.round(v * 100)).join(' ')} %`]] as [
          string,
          string,
        ][])
      : []),
    ['CMYK', text('cmyk'), condition.name],
    ['sRGB', text('rgb')],
    ['In sRGB', srgb!.inside ? 'yes' : `no, ΔE00 ${srgb!.deltaE00.toFixed(1)}`],
    [
      'On this press',
      press!.inside ? 'within reach' : `ΔE00 ${press!.deltaE00.toFixed(1)} off`,
      condition.name,
    ],
  ];
  return (
    <dl className={css.figures}>
      {rows.map(([what, figure, title]) => (
        <div key={what} title={title}>
          <dt className="second">{what}</dt>
          <dd className="mono">{figure}</dd>
        </div>
      ))}
    </dl>
  );
}

/** Tints of the ink; several are marked and taken together, as tints of it. */
function Tints({ book, entry, condition }: { book: OpenBook; entry: Swatch | null; condition: Condition }) {
  const toTray = useToTray();
  const [marked, setMarked] = useState<readonly number[]>([]);
  const [over, setOver] = useState<number | null>(null);
  const tints = useMemo(
    () =>
      entry &&
      PERCENTS.map((percent) => {
        const lab = tintLab(entry, book.facts, percent, condition);
        return { percent, lab, hex: toHex(asLab(lab), condition) };
      }),
    [entry, book.facts, condition],
  );
  if (!entry || !tints) return <div className={css.tintsWaiting} aria-hidden />;
  const looked = tints.find((t) => t.percent === over);
  const takeMarked = () => {
    const wanted = tints.filter((t) => marked.includes(t.percent));
    void toTray(wanted.map(({ percent, lab }) => tintFrom(book, entry, percent, lab, nanoid(12))));
    setMarked([]);
  };
  return (
    <>
      <hr />
      <div className={css.head}>
        <strong>Tints</strong>
        {marked.length > 0 ? (
          <PlainButton look="link" onClick={takeMarked}>
            {count(marked.length, 'tint')} to the tray
          </PlainButton>
        ) : (
          <span className="caption mono" role="status">
            {looked
              ? `${looked.percent} %  Lab ${looked.lab.map((v) => v.toFixed(1)).join(' ')}`
              : 'mark several'}
          </span>
        )}
      </div>
      <fieldset className={css.tints} aria-label="Tints" onPointerLeave={() => setOver(null)}>
        {tints.map(({ percent, lab, hex }) => (
          <button
            key={percent}
            type="button"
            aria-pressed={marked.includes(percent)}
            aria-label={`${percent} %, Lab ${lab.map((v) => v.toFixed(1)).join(' ')}`}
            title={`${percent} %`}
            style={{ background: hex }}
            onPointerEnter={() => setOver(percent)}
            onFocus={() => setOver(percent)}
            onClick={() =>
              setMarked(marked.includes(percent) ? marked.filter((m) => m !== percent) : [...marked, percent])
            }
          />
        ))}
      </fieldset>
      <div className={`caption ${css.ends}`} aria-hidden>
        <span>5 %</span>
        <span>100 %</span>
      </div>
    </>
  );
}

/** The libraries that hold the ink or an equivalent of it; of the open one, as it is just now. */
function Uses({ book, code }: { book: OpenBook; code: string }) {
  const { books } = useStores();
  const workspace = useWorkspace();
  const { value: uses } = useAsked(() => books.uses(book.id, code), [books, book.id, code], {
    wait: 250,
    fresh: true,
  });
  const elsewhere = (uses ?? []).filter((u) => u.library !== workspace?.store.id);
  return (
    <>
      {workspace && <Here store={workspace.store} book={book.id} code={code} />}
      {elsewhere.length > 0 && (
        <section className={css.uses} aria-label="Used in">
          <hr />
          <strong>Used in</strong>
          {elsewhere.map((u) => (
            <p key={u.library}>
              <Link to={`/libraries/${u.library}/arrange`} dir="auto">
                {u.name}
              </Link>
              <span className="caption"> {u.swatches.join(', ')}</span>
            </p>
          ))}
        </section>
      )}
    </>
  );
}

function Here({
  store,
  book,
  code,
}: {
  store: NonNullable<ReturnType<typeof useWorkspace>>['store'];
  book: string;
  code: string;
}) {
  const library = usePart(store, (s) => s.library);
  const paired = useMemo(() => pairingsOf(library), [library]);
  const names = library.groups.flatMap((g) =>
    g.swatches.flatMap((s) => {
      if (s.origin?.book === book && s.origin.code === code) return [s.name];
      const pair = paired
        .get(s.id)
        ?.find((p) => p.data.source === book && (p.data.code ?? p.data.name) === code);
      return pair ? [`${s.name} (equivalent, ΔE00 ${pair.data.difference.toFixed(1)})`] : [];
    }),
  );
  if (names.length === 0) return null;
  return (
    <section className={css.uses} aria-label="In this library">
      <hr />
      <strong>In this library</strong>
      {names.slice(0, 8).map((n, i) => (
        <p key={i} dir="auto">
          {n}
        </p>
      ))}
    </section>
  );
}
