import { Download } from 'lucide-react';
import { type FormEvent, useEffect, useMemo, useState } from 'react';
import { MAX_NAME_CHARACTERS } from '#core/sizes';
import type { SharedSwatch, SharedView, ShownOption, ShownThread } from '#server/shared';
import { Question } from '~/features/shared/comments/Question';
import { type Commenting, Threads } from '~/features/shared/comments/Threads';
import { Mark } from '~/features/shared/frame/Mark';
import { SurroundSwitch } from '~/features/shared/frame/SurroundSwitch';
import type { Surround } from '~/theme/tokens';
import { Field } from '~/ui/field';
import { useOneStop } from '~/ui/one-stop';
import { PlainButton } from '~/ui/plain-button';
import { when } from '~/ui/when';
import css from './SharedPage.module.css';

/** How things stand with a link while its page is open. */
export interface Standing {
  /** The link opens nothing any more. */
  ended: boolean;
  /** The server cannot be heard; what is shown may be old. */
  away: boolean;
}

/** With more of them a list is easier to find one in. */
const MAX_BUTTONS = 6;

/** The page of a link: a library or a board to look at, read and download from. It has no steps, and changes nothing. */
export function SharedPage({
  view,
  base,
  surround,
  onSurround,
  standing,
  commenting,
  onPick,
}: {
  view: SharedView;
  /** The address of the link. */
  base: string;
  surround: Surround;
  onSurround(next: Surround): void;
  standing: Standing;
  /** Null where the link takes no comments. */
  commenting: ((on: string) => Commenting) | null;
  onPick(choice: string, option: string, text: string): Promise<void>;
}) {
  const all = view.groups.flatMap((g) => g.swatches);
  const [chosen, setChosen] = useState(view.first);
  const [copied, setCopied] = useState('');
  const swatch = all.find((s) => s.id === chosen) ?? all[0];
  const open = openOn(view.threads ?? []);
  // times are of where the page is read, which the server does not know
  const [changed, setChanged] = useState('');
  useEffect(() => setChanged(when(new Date(view.changedAt), new Date())), [view.changedAt]);
  if (standing.ended) return <Ended />;
  const copy = async (label: string, text: string) => {
    await navigator.clipboard.writeText(text).catch(() => undefined);
    setCopied(label);
  };
  const choose = (id: string) => {
    setChosen(id);
    setCopied('');
  };
  return (
    <div className={css.page}>
      <header className={css.header}>
        <span className={css.home}>
          <Mark />
          <span className={css.word}>Papillon</span>
        </span>
        <span className={`second ${css.slash}`} aria-hidden>
          /
        </span>
        <h1 className={css.title} dir="auto">
          {view.title}
        </h1>
        <span className={`caption ${css.about}`}>
          {[view.from && `from ${view.from}`, changed && `changed ${changed}`].filter(Boolean).join(' · ')}
        </span>
        <span className={css.right}>
          {commenting ? (
            <Me commenting={commenting} library={view.library} />
          ) : (
            view.name && (
              <span className="caption">
                for <strong dir="auto">{view.name}</strong>
              </span>
            )
          )}
          <SurroundSwitch surround={surround} onChoose={onSurround} />
        </span>
      </header>
      <main className={css.work} tabIndex={-1}>
        {standing.away && (
          <p role="status" className={css.away}>
            The server cannot be reached. This is what was shown last; it is brought up to date as soon as the
            server answers.
          </p>
        )}
        {commenting &&
          view.choices.map((choice) => (
            <Question
              key={`${choice.id} ${choice.picks.find((p) => p.by === commenting(choice.id).me?.by)?.option ?? ''}`}
              {...choice}
              options={choice.options.map((o) => ({
                ...o,
                face: <Face option={o} />,
                count: choice.picks.filter((p) => p.option === o.id).length,
                names: [],
              }))}
              mine={choice.picks.find((p) => p.by === commenting(choice.id).me?.by)?.option ?? null}
              isNamed={commenting(choice.id).me !== null}
              onName={(name) => commenting(choice.id).rename(name)}
              onPick={(option, text) => onPick(choice.id, option, text)}
            />
          ))}
        {view.pages?.map(({ svg, ratio }, n) => (
          <Sheet
            key={n}
            svg={svg}
            ratio={ratio}
            label={`${view.title}, page ${n + 1} of ${view.pages?.length}`}
            marks={open}
            onPoint={choose}
          />
        ))}
        {view.groups.map((group, n) => (
          <Group key={n} {...group} chosen={swatch?.id} marks={open} onChoose={choose} />
        ))}
        {view.later > 0 && (
          <noscript className={`second ${css.none}`}>
            {view.later.toLocaleString('en-GB')} further swatches are shown where scripts may run.
          </noscript>
        )}
        {all.length === 0 && (
          <p className={css.none}>
            {view.pages ? 'This board has no swatches.' : 'This library has no swatches yet.'}
          </p>
        )}
        {view.left > 0 && (
          <p className={`second ${css.none}`}>
            {view.left.toLocaleString('en-GB')} further swatches are not on this page; the files have all of
            them.
          </p>
        )}
      </main>
      {swatch && (
        <aside className={css.readout} aria-label="Readout">
          <div className={css.face} style={{ background: swatch.hex }} />
          <div className={css.words}>
            <h2 className={css.name} dir="auto">
              {swatch.name}
            </h2>
            {swatch.about && <p className={`second ${css.kind}`}>{swatch.about}</p>}
            <div className={css.values}>
              {swatch.values.map(([label, text]) => (
                <PlainButton
                  key={label}
                  className={css.value}
                  title="Click to copy"
                  onClick={() => void copy(label, text)}
                >
                  <span className="second">{label}</span> <span className="mono">{text}</span>
                </PlainButton>
              ))}
            </div>
            <p className="caption" role="status">
              {copied ? `${copied} copied.` : `CMYK for ${view.condition}.`}
            </p>
            {commenting && (
              <Threads
                on={swatch.id}
                name={swatch.name}
                threads={view.threads?.filter((t) => t.on === swatch.id) ?? []}
                commenting={commenting(swatch.id)}
              />
            )}
            {commenting && view.board !== null && (
              <Threads
                on={view.board}
                name={view.title}
                title="Comments on the board"
                threads={view.threads?.filter((t) => t.on === view.board) ?? []}
                commenting={commenting(view.board)}
              />
            )}
          </div>
        </aside>
      )}
      <footer className={css.bottom}>
        <strong>Download</strong>
        <Downloads view={view} base={base} />
      </footer>
    </div>
  );
}

/** What an option of a choice looks like. */
function Face({ option: { hex, work, svg, name } }: { option: ShownOption }) {
  if (work) return <img src={work} alt={name} />;
  // biome-ignore lint/security/noDangerouslySetInnerHtml: made by core's boardSvg, which escapes every text
  if (svg) return <span className={css.small} dangerouslySetInnerHTML={{ __html: svg }} />;
  return <span style={{ background: hex ?? 'none' }} />;
}

/** How many threads are open, by what they are on. */
function openOn(threads: readonly ShownThread[]): ReadonlyMap<string, number> {
  const open = new Map<string, number>();
  for (const { on, isResolved } of threads) if (!isResolved) open.set(on, (open.get(on) ?? 0) + 1);
  return open;
}

/** Who looks, and under what name they write; where the link allows it, the way to work in the library. */
function Me({ commenting, library }: { commenting: (on: string) => Commenting; library: string | null }) {
  const { me, rename } = commenting('');
  const [name, setName] = useState<string | null>(null);
  const [problem, setProblem] = useState('');
  const say = async (event: FormEvent, then?: () => void) => {
    event.preventDefault();
    const next = name?.trim();
    if (!next) return setProblem('Write a name.');
    try {
      await rename(next);
      setName(null);
      setProblem('');
      then?.();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const open = () => window.location.assign(`/libraries/${library}/arrange`);
  return (
    <>
      {name === null ? (
        <span className={css.me}>
          {me && <span className="caption">here as</span>}
          <button type="button" className={css.file} onClick={() => setName(me?.name ?? '')}>
            {me ? <span className="cut">{me.name}</span> : 'Your name…'}
          </button>
        </span>
      ) : (
        <form className={css.me} onSubmit={(e) => void say(e)}>
          <label className="unseen" htmlFor="own-name">
            Your name
          </label>
          <Field
            id="own-name"
            autoFocus
            placeholder="Your name"
            autoComplete="name"
            maxLength={MAX_NAME_CHARACTERS}
            value={name}
            onChange={(e) => setName(e.target.value)}
            onKeyDown={(e) => e.key === 'Escape' && setName(null)}
          />
          <button type="submit" className={css.file}>
            Keep
          </button>
        </form>
      )}
      {problem && (
        <span role="alert" className="caption">
          {problem}
        </span>
      )}
      {library && me && (
        <button type="button" className={css.file} onClick={open}>
          Edit the library
        </button>
      )}
    </>
  );
}

/** Where the numbers of open comments stand on a page: in the upper right corners of their areas, as our own SVG has them. */
function badgesOn(svg: string, marks: ReadonlyMap<string, number>) {
  const [, width = 1, height = 1] = /viewBox="0 0 ([\d.]+) ([\d.]+)"/.exec(svg)?.map(Number) ?? [];
  const areas = svg.matchAll(
    /<rect x="([\d.-]+)" y="([\d.-]+)" width="([\d.-]+)"[^>]* data-swatch="([^"]*)"/g,
  );
  return [...areas].flatMap(([, x, y, w, swatch]) => {
    const n = marks.get(swatch ?? '');
    return n
      ? [{ n, left: `${((Number(x) + Number(w)) / width) * 100}%`, top: `${(Number(y) / height) * 100}%` }]
      : [];
  });
}

/** A page of a board. Colours are chosen in the list below it, too. */
function Sheet({
  svg,
  ratio,
  label,
  marks,
  onPoint,
}: {
  svg: string;
  ratio: number;
  label: string;
  marks: ReadonlyMap<string, number>;
  onPoint(swatch: string): void;
}) {
  const badges = useMemo(() => badgesOn(svg, marks), [svg, marks]);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the list below is for the keyboard
    <div
      className={css.sheet}
      role="img"
      aria-label={label}
      style={{ aspectRatio: ratio, '--ratio': ratio } as React.CSSProperties}
      onClick={(e) => {
        const area = (e.target as Element).closest<SVGElement>('rect[data-swatch]');
        if (area?.dataset.swatch) onPoint(area.dataset.swatch);
      }}
    >
      {/* biome-ignore lint/security/noDangerouslySetInnerHtml: made by core's boardSvg, which escapes every text */}
      <div dangerouslySetInnerHTML={{ __html: svg }} />
      {badges.map(({ n, left, top }, i) => (
        <span key={i} className={css.badge} style={{ left, top }}>
          {n}
        </span>
      ))}
    </div>
  );
}

function Group({
  name,
  swatches,
  chosen,
  marks,
  onChoose,
}: {
  name: string;
  swatches: readonly SharedSwatch[];
  chosen: string | undefined;
  /** Open comments by swatch. */
  marks: ReadonlyMap<string, number>;
  onChoose(id: string): void;
}) {
  const stop = useOneStop<HTMLDivElement>();
  return (
    <section className={css.group}>
      {name && (
        <h2 className={css.heading} dir="auto">
          {name}
        </h2>
      )}
      {/* biome-ignore lint/a11y/useSemanticElements: it is a list of colours, not of fields */}
      <div {...stop} className={css.chips} role="group" aria-label={name || 'Swatches'}>
        {swatches.map((s) => (
          <PlainButton
            key={s.id}
            className={css.chip}
            aria-pressed={s.id === chosen}
            onClick={() => onChoose(s.id)}
          >
            <span className={css.color} style={{ background: s.hex }} />
            <span className="cut" dir="auto">
              {s.name}
            </span>
            {marks.has(s.id) && (
              <span className={css.badge}>
                {marks.get(s.id)}
                <span className="unseen"> {marks.get(s.id) === 1 ? 'open comment' : 'open comments'}</span>
              </span>
            )}
          </PlainButton>
        ))}
      </div>
    </section>
  );
}

function Downloads({ view: { downloads }, base }: { view: SharedView; base: string }) {
  const [chosen, setFormat] = useState('');
  // what a link allows may change while its page is open
  const format = downloads.some((d) => d.format === chosen) ? chosen : downloads[0]?.format;
  if (downloads.length === 0) return <span className="caption">This link allows no downloads.</span>;
  const address = (id = '') => `${base}/files/${id}`;
  if (downloads.length <= MAX_BUTTONS)
    return (
      <span className={css.files}>
        {downloads.map(({ format: id, name, about }) => (
          <a key={id} className={css.file} href={address(id)} title={about} download>
            {name}
          </a>
        ))}
      </span>
    );
  return (
    <span className={css.files}>
      <select
        className={css.formats}
        aria-label="Format"
        value={format}
        onChange={(e) => setFormat(e.target.value)}
      >
        {downloads.map(({ format: id, name, about }) => (
          <option key={id} value={id}>
            {name}: {about}
          </option>
        ))}
      </select>
      <a className={css.file} href={address(format)} download>
        <Download size={14} aria-hidden /> Download
      </a>
    </span>
  );
}

/** What is left of a page when its link has ended. */
export function Ended() {
  return (
    <main className={css.ended}>
      <Mark />
      <h1 className="title">This link has ended</h1>
      <p className="second">
        It has expired, or was renewed or revoked. Ask whoever gave it to you for a new one.
      </p>
    </main>
  );
}
