import Button from '@mui/material/Button';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { lazy, Suspense, useCallback, useEffect, useState } from 'react';
import { useLocation } from 'react-router';
import { toHex } from '#core/color/index';
import { changeText } from '#core/pdf/change';
import { inkAt } from '~/features/shared/artwork/Separations';
import { useFileTaker, useOpenFiles } from '~/features/shared/open/OpenFiles';
import { useCondition } from '~/ui/condition';
import { useDragOrder } from '~/ui/drag-order';
import { Empty } from '~/ui/empty';
import { BottomBar, Panel, Stage, Toolbar } from '~/ui/Frame';
import { useOneStop } from '~/ui/one-stop';
import { PageButtons } from '~/ui/page-buttons';
import { PlainButton } from '~/ui/plain-button';
import { Progress } from '~/ui/progress';
import { Choices } from '~/ui/setting';
import { count } from '~/ui/swatch';
import { InkReadout } from './InkReadout';
import { Intent } from './Intent';
import css from './Pdf.module.css';
import { PAGE_VIEWS, type PageView, usePageParts } from './use-page-parts';
import { type ShownInk, usePdf } from './use-pdf';

const PageStage = lazy(() => import('./PageStage').then((m) => ({ default: m.PageStage })));

const TABS: Record<PageView, string> = { page: 'Page', press: 'On press', change: 'Before and after' };
const HINTS: Record<PageView, string> = {
  page: 'point at a part to read its ink',
  press: 'plates in their inks, one over the other · point to read the inks · pictures are left out',
  change: 'as it came on the left, as it is now on the right',
};

/** What an ink travels under while it is dragged. */
const DRAGGED = 'application/x-papillon-ink';

const percent = (part: number) =>
  part === 0 ? '0 %' : part < 0.005 ? '< 1 %' : `${Math.round(part * 100)} %`;

/** The inks of a PDF: what is printed, and what of it is changed. */
export function Pdf() {
  const pdf = usePdf();
  const { open, take } = pdf;
  const openFiles = useOpenFiles();
  const condition = useCondition();
  const [chosen, setChosen] = useState<string | null>(null);
  const [page, setPage] = useState(0);
  const [view, setView] = useState<PageView>('page');
  const stop = useOneStop<HTMLFieldSetElement>();
  // one that was opened elsewhere, and led here
  const { state } = useLocation() as { state: { file?: File } | null };
  const given = state?.file;
  useEffect(() => {
    if (given) void take(given);
  }, [given, take]);
  useFileTaker(
    useCallback(
      async (given) => {
        const own = given.find((g) => /\.pdf$/i.test(g.path) || g.file.type === 'application/pdf');
        if (!own) return given;
        setPage(0);
        setChosen(null);
        await take(own.file);
        return given.filter((g) => g !== own);
      },
      [take],
    ),
  );
  const { inks = [], facts, passed = [] } = open?.pdf ?? {};
  const ink =
    inks.find((i) => i.name === chosen) ?? inks.find((i) => i.kind !== 'process') ?? inks[0] ?? null;
  const unmeasured = inks.filter((i) => i.kind === 'spot' && !i.spectral).length;
  const shown = open ? (open.pdf.changed ?? open.file) : null;
  const parts = usePageParts(shown, page, view === 'press');
  const { all: plates, at } = parts.plates;
  /** How much of an ink there is where the hand is, else on the whole page. */
  const amount = ({ name, coverage }: ShownInk) => {
    if (view !== 'press' || !at || !plates) return coverage[page] ?? 0;
    const plate = plates.find((p) => p.name === name);
    return plate ? inkAt(plate, at) : 0;
  };
  /** Prints an ink at a place of the order. */
  const put = (name: string, place: number) => {
    const names = inks.map((i) => i.name);
    const at = names.indexOf(name);
    if (at < 0 || place === at || place < 0 || place >= names.length) return;
    names.splice(place, 0, ...names.splice(at, 1));
    pdf.change({ do: 'order', names });
  };
  const dragOf = useDragOrder(DRAGGED, put);
  const move = (name: string, by: -1 | 1) => put(name, inks.findIndex((i) => i.name === name) + by);
  const size = facts?.pages[page];
  return (
    <>
      <Panel side="outline" label="Inks">
        {open && (
          <>
            <p className={`caption ${css.head}`}>Inks, in printing order</p>
            <fieldset {...stop} className={css.inks} aria-label="Inks" data-no-act>
              {inks.map((i, n) => (
                <PlainButton
                  key={i.name}
                  className={css.ink}
                  aria-pressed={i === ink}
                  onClick={() => setChosen(i.name)}
                  {...dragOf(i.name, n)}
                >
                  <span className={`mono caption ${css.place}`} aria-hidden>
                    {n + 1}
                  </span>
                  <span
                    className={css.chip}
                    style={i.alternate ? { background: toHex(i.alternate, condition) } : {}}
                  />
                  <span className={css.name}>
                    <span className="cut" dir="auto">
                      {i.name}
                    </span>
                    <span className="caption">
                      {i.kind}
                      {i.kind === 'process'
                        ? ''
                        : i.spectral
                          ? ' · measured'
                          : i.kind === 'spot'
                            ? ' · not measured'
                            : ''}
                    </span>
                  </span>
                  <span className="mono caption">{percent(amount(i))}</span>
                </PlainButton>
              ))}
            </fieldset>
            {ink && inks.length > 1 && (
              <p className={css.order}>
                <PlainButton
                  look="icon"
                  aria-label={`Print ${ink.name} earlier`}
                  onClick={() => move(ink.name, -1)}
                >
                  <ArrowUp size={16} />
                </PlainButton>
                <PlainButton
                  look="icon"
                  aria-label={`Print ${ink.name} later`}
                  onClick={() => move(ink.name, 1)}
                >
                  <ArrowDown size={16} />
                </PlainButton>
              </p>
            )}
            <div className={css.intent}>
              <Intent
                name={
                  facts!.outputIntent ? facts!.outputIntent.name || 'a condition without a name' : 'not said'
                }
                onChoose={(name, profile) => pdf.change({ do: 'intent', name, profile })}
              />
              {facts!.outputIntent?.profile && (
                <PlainButton look="link" onClick={() => void pdf.save('profile')}>
                  Export profile
                </PlainButton>
              )}
            </div>
          </>
        )}
      </Panel>
      <Stage>
        <h1 className="unseen">Inks of a PDF</h1>
        {open && facts ? (
          <>
            <Toolbar>
              <Choices className={css.tabs} aria-label="What is shown">
                {PAGE_VIEWS.map((v) => (
                  <PlainButton look="tab" key={v} aria-pressed={view === v} onClick={() => setView(v)}>
                    {TABS[v]}
                  </PlainButton>
                ))}
              </Choices>
              <span className={`caption ${css.tip}`}>{HINTS[view]}</span>
              <PageButtons page={page} count={facts.pages.length} onTurn={setPage} />
            </Toolbar>
            <p className={`caption ${css.facts}`}>
              <strong className="cut" title={open.file.name}>
                {open.file.name}
              </strong>
              {[
                count(facts.pages.length, 'page'),
                facts.conformance ?? `PDF ${facts.version}`,
                count(inks.length, 'ink'),
                size && `page ${page + 1}: ${Math.round(size.width)} × ${Math.round(size.height)} mm`,
              ]
                .filter(Boolean)
                .join(' · ')}
            </p>
            <div className={css.stage}>
              <Suspense>
                {shown && size && (
                  <PageStage
                    {...{ file: shown, before: open.file, page, size, view, parts }}
                    onChoose={setChosen}
                  />
                )}
              </Suspense>
            </div>
            <div className={css.notes}>
              {[
                ...facts.warnings,
                ...(facts.missingFonts.length > 0
                  ? [`Fonts not embedded: ${facts.missingFonts.join(', ')}.`]
                  : []),
              ].map((w) => (
                <p key={w} className="caption">
                  {w}
                </p>
              ))}
              {passed.length > 0 && (
                <p className="caption">
                  What inks cover is counted in areas, lines and pictures; only estimated or left out:{' '}
                  {passed.join(', ')}.
                </p>
              )}
              <ol className={css.changes} aria-label="Changes">
                {open.changes.slice(0, open.at).map((c, i) => (
                  <li key={i}>{changeText(c)}</li>
                ))}
              </ol>
            </div>
          </>
        ) : (
          <Empty
            level="h2"
            title="The inks of a PDF"
            text="Drop a PDF: its inks are listed with what they cover, and can be renamed, replaced, ordered and measured. Everything else in it stays byte for byte."
          >
            <Button variant="contained" onClick={openFiles}>
              Open a PDF…
            </Button>
          </Empty>
        )}
        {pdf.job && <Progress {...pdf.job} onStop={pdf.stop} />}
      </Stage>
      <InkReadout ink={ink} inks={inks} pdf={pdf} onRenamed={setChosen} />
      {open && (
        <BottomBar label="PDF">
          <strong>PDF</strong>
          <span className="caption">
            {unmeasured > 0
              ? `${count(unmeasured, 'ink has', 'inks have')} no measurement`
              : 'All spot inks have measurements'}
          </span>
          <span className={css.acts}>
            <Button disabled={open.at === 0} onClick={() => pdf.step(-1)}>
              Undo
            </Button>
            <Button disabled={open.at === open.changes.length} onClick={() => pdf.step(1)}>
              Redo
            </Button>
            <Button disabled={!inks.some((i) => i.spectral)} onClick={() => void pdf.save('cxf')}>
              Measurements as CxF
            </Button>
            <Button
              disabled={open.at === 0}
              title="Rewritten, without what was there before"
              onClick={() => void pdf.save('fresh')}
            >
              Save as new file
            </Button>
            <Button
              variant="contained"
              disabled={open.at === 0}
              title="The old file byte for byte, with the changes behind it"
              onClick={() => void pdf.save('pdf')}
            >
              Save PDF
            </Button>
          </span>
        </BottomBar>
      )}
    </>
  );
}
