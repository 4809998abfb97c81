import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { nanoid } from 'nanoid';
import { type KeyboardEvent, useEffect, useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { findEntries, takenFrom } from '#core/books/index';
import { type Condition, type Lab, metricById, toHex, toLab, typedColor } from '#core/color/index';
import { pairOps, swapFor } from '#core/match/index';
import type { Swatch } from '#core/swatch/index';
import type { FoundColor } from '~/messages/match-messages';
import type { OpenBook } from '~/state/books';
import { useStores } from '~/state/stores';
import { ConditionContext } from '~/ui/condition';
import { Field } from '~/ui/field';
import { Notice } from '~/ui/notice';
import { PlainButton } from '~/ui/plain-button';
import { Tick } from '~/ui/tick';
import { useToast, wayBack } from '~/ui/toast';
import { useAsked } from '~/ui/use-asked';
import { WingPair } from '~/ui/wing-pair';
import { openMatchClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import { useToTray } from '../use-to-tray';
import type { Asked } from './asked';
import { equivalentOf } from './equivalent';
import { AskingFields, limitsOf, metricName, USUAL_ASKING } from './limits';
import css from './NearestDialog.module.css';
import { SourceChoice, useSources } from './SourceChoice';

const MAX_HITS = 8;

/** The nearest to a colour in books and libraries, and what a typed number means there; the swatch can be swapped for it. */
export function NearestDialog({
  asked,
  onClose,
}: {
  asked: Asked & { condition: Condition };
  onClose(): void;
}) {
  return (
    <ConditionContext value={asked.condition}>
      <Nearest asked={asked} onClose={onClose} />
    </ConditionContext>
  );
}

function Nearest({ asked, onClose }: { asked: Asked & { condition: Condition }; onClose(): void }) {
  const { condition, swap } = asked;
  const { books } = useStores();
  const toast = useToast();
  const toTray = useToTray();
  const navigate = useNavigate();
  const { id: library } = useParams();
  const match = useClient(openMatchClient);
  const sources = useSources();
  const [asking, setAsking] = useState(USUAL_ASKING);
  const [text, setText] = useState('');
  const [whole, setWhole] = useState(true);
  const [at, setAt] = useState(0);
  const typed = typedColor(text);
  const color = typed ?? asked.color;
  const lab = useMemo(() => toLab(color, condition), [color, condition]);
  const [round, setRound] = useState(0);
  const key = JSON.stringify([lab, asking, sources.ready, sources.chosen, round]);

  const { value: found, problem } = useAsked<FoundColor[]>(
    sources.ready
      ? async () => {
          const [list] = await match.ask('nearest', {
            sources: sources.chosen,
            metric: asking.metric,
            limits: limitsOf(asking),
            setting: condition.setting,
            wanted: [{ lab, ...(asked.not && !typed ? { not: asked.not } : {}) }],
            n: MAX_HITS,
          });
          return list ?? [];
        }
      : null,
    [key],
  );

  // numbers and names are looked for here, in what is browsed
  const wanted = sources.chosen.join(' ');
  const named = text !== '' && !typed;
  const { value: open } = useAsked(
    named
      ? async () => {
          const list = await Promise.all(
            wanted
              .split(' ')
              .filter(Boolean)
              .map((id) => books.open(id)),
          );
          return list.filter((b) => b !== null);
        }
      : null,
    [books, wanted],
  );
  const byName = useMemo(() => {
    if (!text.trim() || typed) return null;
    const metric = metricById(asking.metric);
    const list = (open ?? []).flatMap((book) =>
      findEntries(book.named, text, MAX_HITS)
        .slice(0, MAX_HITS)
        .map((place, rank) => ({
          found: asFound(book, place, metric.difference(lab, book.labs[place]!)),
          rank,
        })),
    );
    return list
      .sort((a, b) => a.rank - b.rank)
      .slice(0, MAX_HITS)
      .map((f) => f.found);
  }, [text, typed, open, asking.metric, lab]);

  const list = byName ?? found ?? [];
  const chosen = list[Math.min(at, list.length - 1)] ?? null;
  // what is chosen is at hand when it is taken
  useEffect(() => {
    if (chosen) books.entry(chosen.source, chosen.id).catch(() => undefined);
  }, [books, chosen]);

  const taken = async (): Promise<Swatch | null> => {
    if (!chosen) return null;
    try {
      const entry = await books.entry(chosen.source, chosen.id);
      if (entry)
        return chosen.book
          ? takenFrom({ id: chosen.source, name: chosen.sourceName }, entry, nanoid(12))
          : { ...entry, id: nanoid(12) };
      toast({ text: `“${chosen.name}” no longer exists.`, stays: true });
    } catch (error) {
      toast({ text: `Nothing was taken. ${(error as Error).message}`, stays: true });
    }
    return null;
  };
  const tray = async () => {
    const entry = await taken();
    if (!entry) return;
    onClose();
    await toTray([entry]);
  };
  const swapIt = async () => {
    if (!swap) return;
    const entry = await taken();
    if (!entry) return;
    const done = swap.store.edit(swapFor(swap.ids, entry, whole));
    onClose();
    if (done) toast({ text: `Swapped for ${entry.name}.`, ...wayBack([swap.store, done]) });
  };
  const pair = () => {
    if (!swap || !chosen) return;
    const pairs = swap.ids.map((swatch) => ({ swatch, with: equivalentOf(chosen, asking.metric) }));
    const done = swap.store.edit({
      label: `keep ${chosen.name} as equivalent`,
      ops: pairOps(swap.store.rows, pairs, () => nanoid(12)),
    });
    onClose();
    if (done) toast({ text: `${chosen.name} is kept as the equivalent.`, ...wayBack([swap.store, done]) });
  };
  const keys = (event: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (by) setAt(Math.min(list.length - 1, Math.max(0, at + by)));
    else if (event.key === 'Enter' && chosen) void (swap ? swapIt() : tray());
    else return;
    event.preventDefault();
  };
  const substrates = [...new Set(sources.all.map((s) => s.substrate).filter(Boolean))];
  const here = toHex(color, condition);

  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>{swap ? 'Swap, or find the nearest' : 'The nearest'}</DialogTitle>
      <DialogContent>
        <div className={css.columns}>
          <div>
            <div className={css.pair}>
              <WingPair left={here} right={chosen?.hex ?? here} />
            </div>
            <p className={`caption ${css.ends}`}>
              <span className="cut" dir="auto">
                {typed ? text : asked.name}
              </span>
              <span className="cut" dir="auto">
                {chosen?.name}
              </span>
            </p>
            <div className={css.asking}>
              <SourceChoice sources={sources} />
              <AskingFields asking={asking} substrates={substrates} onChange={setAsking} />
              {swap && <Tick label="name and number too" checked={whole} onChange={setWhole} />}
            </div>
          </div>
          <div className={css.results}>
            <Field
              className="mono"
              aria-label="Number, name or colour"
              placeholder="number, name or colour"
              autoFocus
              autoComplete="off"
              spellCheck={false}
              role="combobox"
              aria-expanded
              aria-controls="nearest-list"
              aria-activedescendant={chosen ? `nearest-${list.indexOf(chosen)}` : undefined}
              value={text}
              onChange={(e) => {
                setText(e.target.value);
                setAt(0);
              }}
              onKeyDown={keys}
            />
            {(problem || sources.problem) && (
              <Notice>
                {sources.problem ?? problem}{' '}
                <PlainButton
                  look="link"
                  onClick={() => (sources.problem ? sources.again() : setRound(round + 1))}
                >
                  Try again
                </PlainButton>
              </Notice>
            )}
            <div id="nearest-list" role="listbox" aria-label="Found" className={css.list}>
              {list.map((f, i) => (
                // biome-ignore lint/a11y/useKeyWithClickEvents: the field hears the keys
                // biome-ignore lint/a11y/useFocusableInteractive: the field has the focus
                <div
                  key={`${f.source} ${f.id}`}
                  id={`nearest-${i}`}
                  role="option"
                  aria-selected={f === chosen}
                  className={css.row}
                  onClick={() => setAt(i)}
                  onDoubleClick={() => void (swap ? swapIt() : tray())}
                >
                  <span className={css.small}>
                    <WingPair left={here} right={f.hex} />
                  </span>
                  <span className={css.name}>
                    <span className="cut" dir="auto">
                      {f.name}
                    </span>
                    <span className="caption cut">{f.sourceName}</span>
                  </span>
                  <span className={`mono ${css.figure}`}>{f.difference.toFixed(1)}</span>
                </div>
              ))}
              {list.length === 0 && (found || byName) && (
                <p className={`second ${css.none}`} role="status">
                  {sources.chosen.length === 0
                    ? 'Choose a book or a library to look in.'
                    : byName
                      ? `Nothing there has the name “${text.trim()}”.`
                      : asking.within > 0
                        ? `Nothing lies within ${metricName(asking.metric)} ${asking.within.toFixed(1)}. Widen the tolerance to see the nearest.`
                        : 'Nothing there is of the kind that is asked for.'}
                </p>
              )}
              {!found && !problem && !sources.problem && (
                <p className={`second ${css.none}`} role="status">
                  Looking…
                </p>
              )}
            </div>
            <p className="caption">
              {metricName(asking.metric)} from the colour at hand · ↑ ↓ choose, Enter{' '}
              {swap ? 'swaps' : 'takes'}
            </p>
          </div>
        </div>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        {chosen?.book && (
          <Button
            onClick={() => {
              onClose();
              const ink = encodeURIComponent(chosen.code ?? chosen.name);
              void navigate(
                `${library ? `/libraries/${library}` : ''}/gather?from=book&book=${chosen.source}&ink=${ink}`,
              );
            }}
          >
            Open its leaf
          </Button>
        )}
        <Button disabled={!chosen} variant={swap ? 'outlined' : 'contained'} onClick={() => void tray()}>
          To the tray
        </Button>
        {swap && (
          <Button disabled={!chosen} onClick={pair}>
            Keep as equivalent
          </Button>
        )}
        {swap && (
          <Button disabled={!chosen} variant="contained" onClick={() => void swapIt()}>
            Swap
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}

const asFound = (book: OpenBook, place: number, difference: number): FoundColor => {
  const { id, name, code, kind, hex } = book.swatches;
  return {
    source: book.id,
    sourceName: book.name,
    book: book.book,
    substrate: book.facts.substrate ?? '',
    id: id[place]!,
    name: name[place]!,
    ...(code[place] ? { code: code[place] } : {}),
    kind: kind[place]!,
    hex: hex[place]!,
    lab: book.labs[place] as Lab,
    difference,
  };
};
