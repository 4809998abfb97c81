import Button from '@mui/material/Button';
import { Check } from 'lucide-react';
import { useMemo, useState } from 'react';
import {
  type Destination,
  destinationById,
  destinations,
  type FileChoice,
  formatById,
  inScope,
  type KitChoices,
  perGroup,
  planKit,
  type Scope,
  usualFile,
  usualFiles,
} from '#core/formats/index';
import { countSwatches, type Library } from '#core/swatch/index';
import type { Preset, TakenKit } from '#server/kits';
import { useStore } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { Notice } from '~/ui/notice';
import { Tick } from '~/ui/tick';
import { useToast } from '~/ui/toast';
import { useFiles } from '~/workers/use-files';
import { Changes } from './Changes';
import { download } from './download';
import { FormatOptions } from './FormatOptions';
import { KitBar } from './KitBar';
import { ScopeChoice } from './ScopeChoice';
import { useChanges } from './use-changes';

type Chosen = KitChoices['destinations'];

const FIRST: Chosen = [{ id: 'drawing', files: [{ format: 'ase' }] }];

/** A scope of the past, without what is no longer in the library; everything when nothing of it is left. */
function stillThere(library: Library, scope: Scope): Scope {
  if (scope.what === 'library') return scope;
  const there = new Set(
    library.groups.flatMap((g) => (scope.what === 'groups' ? [g.id] : g.swatches.map((s) => s.id))),
  );
  const ids = scope.ids.filter((id) => there.has(id));
  return ids.length > 0 ? { ...scope, ids } : { what: 'library' };
}

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
  const part = useMemo(() => inScope(library, scope), [library, scope]);
  const planned = useMemo(() => planKit(library, { scope, destinations: chosen }), [library, scope, chosen]);
  const destination = destinationById(at.destination);
  const format = formatById(at.format);
  const suited = destination.formats.find((f) => f.format === at.format) ?? destination.formats[0];
  const filesOf = (id: string) => chosen.find((c) => c.id === id)?.files ?? [];
  const taken = filesOf(destination.id).find((f) => f.format === at.format);
  // what is only looked at can be set up, too, before it is ticked
  const [drafts, setDrafts] = useState<Record<string, FileChoice>>({});
  const draftKey = `${at.destination} ${at.format}`;
  const choice = taken ?? drafts[draftKey] ?? usualFile(destination, at.format, part);
  const empty = countSwatches(part) === 0;
  const { report, current, problem } = useChanges(empty ? null : part, choice);
  const groups = useMemo(() => perGroup(part).length, [part]);
  const files = useFiles();
  const toast = useToast();

  const setFiles = (id: string, next: FileChoice[]) => {
    const others = chosen.filter((c) => c.id !== id);
    const all = next.length > 0 ? [...others, { id, files: next }] : others;
    // in the order they are shown, which is the order in the kit
    setChosen(destinations.flatMap((d) => all.filter((c) => c.id === d.id)));
  };
  const look = (d: Destination) =>
    setAt({ destination: d.id, format: filesOf(d.id)[0]?.format ?? d.formats[0].format });
  const toggle = (d: Destination) => {
    setFiles(d.id, filesOf(d.id).length > 0 ? [] : usualFiles(d, part));
    if (d.id !== at.destination) look(d);
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
    const all = on ? [...own, choice] : own;
    setFiles(
      destination.id,
      destination.formats.flatMap((f) => all.filter((c) => c.format === f.format)),
    );
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
      <main className="stage" style={{ gridColumn: '2 / -1', flexDirection: 'row' }}>
        <section className="destinations" aria-label="Where do the colours go?">
          <div style={{ display: 'flex', alignItems: 'baseline', padding: '14px 20px 8px' }}>
            <h2 className="caption" style={{ fontWeight: 500, margin: 0 }}>
              Where do the colours go?
            </h2>
          </div>
          {destinations.map((d) => {
            const own = filesOf(d.id);
            const count = planned.filter((p) => p.destination === d).length;
            const named = own.length > 0 ? own : d.formats.filter((f) => f.usual);
            return (
              <div key={d.id} className="destination" data-chosen={d.id === destination.id}>
                <input
                  type="checkbox"
                  className="tick"
                  aria-label={d.name}
                  checked={own.length > 0}
                  onChange={() => toggle(d)}
                />
                <button type="button" aria-current={d.id === destination.id} onClick={() => look(d)}>
                  <span>
                    <strong>{d.name}</strong>
                    <span className="caption">{named.map((f) => formatById(f.format).name).join(' · ')}</span>
                  </span>
                  <span className="caption">{count > 0 && (count === 1 ? '1 file' : `${count} files`)}</span>
                </button>
              </div>
            );
          })}
        </section>
        <section className="stage" style={{ flex: 1 }} aria-label="What changes on the way">
          <div
            className="toolbar"
            role="tablist"
            aria-label={`Formats for ${destination.name.toLowerCase()}`}
          >
            {destination.formats.map((f) => {
              const inKit = filesOf(destination.id).some((c) => c.format === f.format);
              return (
                <button
                  key={f.format}
                  type="button"
                  role="tab"
                  className="tab"
                  aria-selected={f.format === at.format}
                  title={inKit ? 'in the kit' : 'not in the kit'}
                  onClick={() => setAt({ destination: destination.id, format: f.format })}
                >
                  {inKit && <Check size={13} aria-label="in the kit:" style={{ margin: '0 4px -2px 0' }} />}
                  {formatById(f.format).name}
                </button>
              );
            })}
            <ScopeChoice library={library} selection={selection} scope={scope} onChange={setScope} />
          </div>
          <div className="format-line">
            <Tick checked={!!taken} onChange={takeFormat} label={`${format.name} in the kit`} />
            <FormatOptions format={format} choice={choice} onChange={setChoice} groups={groups} />
            <Button disabled={empty} onClick={() => void takeOne()} sx={{ ml: 'auto' }}>
              Download {format.name} only
            </Button>
          </div>
          {empty ? (
            <p className="second" style={{ margin: 'auto' }}>
              There are no swatches to hand over. Choose others above, or gather some first.
            </p>
          ) : problem ? (
            <div style={{ margin: '20px 24px' }}>
              <Notice>{problem}</Notice>
            </div>
          ) : (
            report && (
              <div className="report" data-stale={!current}>
                <p className="caption why">{suited.why}</p>
                <Changes report={report} />
              </div>
            )
          )}
        </section>
      </main>
      <KitBar
        store={store}
        kits={kits}
        presets={presets}
        choices={{ scope, destinations: chosen }}
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
          return left;
        }}
      />
    </>
  );
}
