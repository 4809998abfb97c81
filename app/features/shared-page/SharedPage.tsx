import { Download } from 'lucide-react';
import { useEffect, useState } from 'react';
import type { SharedSwatch, SharedView } from '#server/shared';
import { Mark } from '~/features/shared/frame/Mark';
import { SurroundSwitch } from '~/features/shared/frame/SurroundSwitch';
import type { Surround } from '~/theme/tokens';
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
}: {
  view: SharedView;
  /** The address of the link. */
  base: string;
  surround: Surround;
  onSurround(next: Surround): void;
  standing: Standing;
}) {
  const all = view.groups.flatMap((g) => g.swatches);
  const [chosen, setChosen] = useState(view.first);
  const [copied, setCopied] = useState('');
  const swatch = all.find((s) => s.id === chosen) ?? all[0];
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
          {view.name && (
            <span className="caption">
              for <strong dir="auto">{view.name}</strong>
            </span>
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
        {view.pages?.map(({ svg, ratio }, n) => (
          <Sheet
            key={n}
            svg={svg}
            ratio={ratio}
            label={`${view.title}, page ${n + 1} of ${view.pages?.length}`}
            onPoint={(hex, name) => {
              const found =
                all.find((s) => s.hex === hex && s.name === name) ?? all.find((s) => s.hex === hex);
              if (found) choose(found.id);
            }}
          />
        ))}
        {view.groups.map((group, n) => (
          <Group key={n} {...group} chosen={swatch?.id} onChoose={choose} />
        ))}
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

/** A page of a board. Colours are chosen in the list below it, too. */
function Sheet({
  svg,
  ratio,
  label,
  onPoint,
}: {
  svg: string;
  ratio: number;
  label: string;
  onPoint(hex: string, name: string): void;
}) {
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the list below is for the keyboard
    <div
      className={css.sheet}
      role="img"
      aria-label={label}
      style={{ aspectRatio: ratio, '--ratio': ratio } as React.CSSProperties}
      onClick={(e) => {
        const area = (e.target as Element).closest('rect[data-of]');
        if (area) onPoint(area.getAttribute('fill') ?? '', area.querySelector('title')?.textContent ?? '');
      }}
      // biome-ignore lint/security/noDangerouslySetInnerHtml: made by core's boardSvg, which escapes every text
      dangerouslySetInnerHTML={{ __html: svg }}
    />
  );
}

function Group({
  name,
  swatches,
  chosen,
  onChoose,
}: {
  name: string;
  swatches: readonly SharedSwatch[];
  chosen: string | undefined;
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
