import Button from '@mui/material/Button';
import { Check } from 'lucide-react';
import { type KeyboardEvent, useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { type Destination, destinationById, destinations } from '#core/formats/destinations';
import {
  type FileChoice,
  factsById,
  inScope,
  type KitChoices,
  perGroup,
  planKit,
  type Scope,
  stillThere,
  usualFile,
  usualFiles,
  withFiles,
} from '#core/formats/plan';
import { artworksOf, boardsOf, countSwatches } from '#core/swatch/index';
import type { Preset, TakenKit } from '#server/kits';
import { FormatLine, FormatOptions } from '~/features/shared/formats/FormatOptions';
import { Report } from '~/features/shared/formats/Report';
import { TickRow } from '~/features/shared/formats/TickRow';
import { useChanges } from '~/features/shared/formats/use-changes';
import { useStore } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { download } from '~/ui/download';
import { Stage, Toolbar } from '~/ui/Frame';
import { PlainButton } from '~/ui/plain-button';
import { count } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { useToast } from '~/ui/toast';
import { openFilesClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import { ArtworkReport } from './ArtworkReport';
import css from './HandOver.module.css';
import { KitBar } from './KitBar';
import { ScopeChoice } from './ScopeChoice';

type Chosen = KitChoices['destinations'];

const FIRST: Chosen = [{ id: 'drawing', files: [{ format: 'ase' }] }];

/** Hand over: say where the colours go, see every swatch as it will arrive, take the kit. */
export function HandOver({ kits, presets }: { kits: TakenKit[]; presets: Preset[] }) {
  const { store, selection } = useLibrary();
  const { library } = useStore(store);
  const last = kits[0]?.choices;
  const [scope, setScope] = useState<Scope>(
    // one chosen swatch is being looked at; several are meant
    selection.size > 1
      ? { what: 'swatches', ids: [...selection] }
      : last
        ? stillThere(library, last.scope)
        : { what: 'library' },
  );
  const [chosen, setChosen] = useState<Chosen>(last?.destinations ?? FIRST);
  const [at, setAt] = useState({
    destination: chosen[0]?.id ?? 'drawing',
    format: chosen[0]?.files[0]?.format ?? 'ase',
  });
  // an address can ask for a format: it is shown, and taken once it is ticked
  const [search] = useSearchParams();
  const asked = search.get('format');
  useEffect(() => {
    const into = destinations.find((d) => d.formats.some((f) => f.format === asked));
    if (into && asked) setAt({ destination: into.id, format: asked });
  }, [asked]);
  const artworks = useMemo(() => artworksOf(library), [library]);
  // what there is goes along until the user says otherwise
  const [artwork, setArtwork] = useState(last?.artwork ?? true);
  const boardCount = useMemo(() => boardsOf(library).length, [library]);
  const [boards, setBoards] = useState(last?.boards ?? true);
  const [lookAtArtwork, setLookAtArtwork] = useState(false);
  const part = useMemo(() => inScope(library, scope), [library, scope]);
  const planned = useMemo(() => planKit(library, { scope, destinations: chosen }), [library, scope, chosen]);
  const destination = destinationById(at.destination);
  const format = factsById(at.format);
  const suited = destination.formats.find((f) => f.format === at.format) ?? destination.formats[0];
  const filesOf = (id: string) => chosen.find((c) => c.id === id)?.files ?? [];
  const taken = filesOf(destination.id).find((f) => f.format === at.format);
  // what is only looked at can be set up, too, before it is ticked
  const [drafts, setDrafts] = useState<Record<string, FileChoice>>({});
  const draftKey = `${at.destination} ${at.format}`;
  const choice = taken ?? drafts[draftKey] ?? usualFile(destination, at.format, part);
  const empty = countSwatches(part) === 0;
  const found = useChanges(empty ? null : part, choice);
  const groups = useMemo(() => perGroup(part).length, [part]);
  const files = useClient(openFilesClient);
  const toast = useToast();

  const setFiles = (id: string, next: FileChoice[]) => setChosen(withFiles(chosen, id, next));
  const look = (d: Destination) => {
    setLookAtArtwork(false);
    setAt({ destination: d.id, format: filesOf(d.id)[0]?.format ?? d.formats[0].format });
  };
  const toggle = (d: Destination) => {
    setFiles(d.id, filesOf(d.id).length > 0 ? [] : usualFiles(d, part));
    if (d.id !== at.destination || lookAtArtwork) look(d);
  };
  const setChoice = (next: FileChoice) => {
    if (taken)
      setFiles(
        destination.id,
        filesOf(destination.id).map((f) => (f === taken ? next : f)),
      );
    else setDrafts({ ...drafts, [draftKey]: next });
  };
  const takeFormat = (on: boolean) => {
    const own = filesOf(destination.id).filter((f) => f.format !== at.format);
    setFiles(destination.id, on ? [...own, choice] : own);
  };
  const takeOne = async () => {
    try {
      const file = await files.ask('write', { library: part, choice });
      download(file.name, file.bytes, file.mime);
    } catch (error) {
      toast({ text: (error as Error).message });
    }
  };

  return (
    <>
      <Stage wide row>
        <h1 className="unseen">Hand over</h1>
        <section className={css.destinations} aria-label="Where do the colours go?">
          <h2 className={`caption ${css.question}`}>Where do the colours go?</h2>
          {destinations.map((d) => {
            const own = filesOf(d.id);
            const files = planned.filter((p) => p.destination === d).length;
            const named = own.length > 0 ? own : d.formats.filter((f) => f.usual);
            const here = d.id === destination.id && !lookAtArtwork;
            return (
              <TickRow
                key={d.id}
                label={d.name}
                ticked={own.length > 0}
                onTick={() => toggle(d)}
                chosen={here}
                onChoose={() => look(d)}
              >
                <span className={css.destination}>
                  <strong>{d.name}</strong>
                  <span className="caption">{named.map((f) => factsById(f.format).name).join(' · ')}</span>
                </span>
                <span className="caption">{files > 0 && count(files, 'file')}</span>
              </TickRow>
            );
          })}
          {artworks.length > 0 && (
            <TickRow
              label="Artwork"
              ticked={artwork}
              onTick={setArtwork}
              chosen={lookAtArtwork}
              onChoose={() => setLookAtArtwork(true)}
            >
              <span className={css.destination}>
                <strong>Artwork</strong>
                <span className="caption">SVG · PDF with separations</span>
              </span>
              <span className="caption">{count(artworks.length, 'work')}</span>
            </TickRow>
          )}
          {boardCount > 0 && (
            <TickRow
              label="Boards"
              ticked={boards}
              onTick={setBoards}
              chosen={false}
              onChoose={() => setBoards(!boards)}
            >
              <span className={css.destination}>
                <strong>Boards</strong>
                <span className="caption">PDF with separations</span>
              </span>
              <span className="caption">{count(boardCount, 'board')}</span>
            </TickRow>
          )}
        </section>
        {lookAtArtwork && artworks.length > 0 ? (
          <ArtworkReport library={library} />
        ) : (
          <section className={css.way} aria-label="What changes">
            <Toolbar>
              <FormatTabs
                destination={destination}
                inKit={new Set(filesOf(destination.id).map((c) => c.format))}
                at={format.id}
                onChoose={(id) => setAt({ destination: destination.id, format: id })}
              />
              <ScopeChoice library={library} selection={selection} scope={scope} onChange={setScope} />
            </Toolbar>
            <FormatLine>
              <Tick checked={!!taken} onChange={takeFormat} label={`${format.name} in the kit`} />
              <FormatOptions format={format} choice={choice} onChange={setChoice} groups={groups} />
              <Button disabled={empty} onClick={() => void takeOne()} sx={{ ml: 'auto' }}>
                Download {format.name} only
              </Button>
            </FormatLine>
            {empty ? (
              <p className={`second ${css.none}`}>
                Nothing to hand over. Choose others above, or gather some first.
              </p>
            ) : (
              <Report found={found} {...(suited ? { why: suited.why } : {})} />
            )}
          </section>
        )}
      </Stage>
      <KitBar
        store={store}
        kits={kits}
        presets={presets}
        choices={{
          scope,
          destinations: chosen,
          ...(artworks.length > 0 ? { artwork } : {}),
          ...(boardCount > 0 ? { boards } : {}),
        }}
        files={planned.length}
        empty={empty}
        apply={(destinations_) => {
          setChosen(destinations_);
          const [first] = destinations_;
          if (first) setAt({ destination: first.id, format: first.files[0]?.format ?? 'ase' });
        }}
        again={(choices) => {
          const left = { ...choices, scope: stillThere(library, choices.scope) };
          setScope(left.scope);
          setChosen(left.destinations);
          setArtwork(left.artwork ?? true);
          setBoards(left.boards ?? true);
          return left;
        }}
      />
    </>
  );
}

/** The formats that suit a destination; arrow keys go from one to the next. */
function FormatTabs({
  destination,
  inKit,
  at,
  onChoose,
}: {
  destination: Destination;
  inKit: ReadonlySet<string>;
  at: string;
  onChoose(id: string): void;
}) {
  const key = (e: KeyboardEvent<HTMLDivElement>) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (!by) return;
    const all = destination.formats;
    const next = (all.findIndex((f) => f.format === at) + by + all.length) % all.length;
    onChoose(all[next]!.format);
    (e.currentTarget.children[next] as HTMLElement).focus();
    e.preventDefault();
  };
  return (
    <div
      role="tablist"
      className={css.tabs}
      aria-label={`Formats for ${destination.name.toLowerCase()}`}
      onKeyDown={key}
    >
      {destination.formats.map((f) => (
        <PlainButton
          look="tab"
          key={f.format}
          role="tab"
          tabIndex={f.format === at ? 0 : -1}
          aria-selected={f.format === at}
          title={inKit.has(f.format) ? 'in the kit' : 'not in the kit'}
          onClick={() => onChoose(f.format)}
        >
          {inKit.has(f.format) && <Check size={13} aria-label="in the kit:" className={css.check} />}
          {factsById(f.format).name}
        </PlainButton>
      ))}
    </div>
  );
}
