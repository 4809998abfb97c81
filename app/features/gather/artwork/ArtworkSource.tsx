import Button from '@mui/material/Button';
import { nanoid } from 'nanoid';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { type ArtworkFacts, type ColorFacts, ordersOf, paletteOf, rowsIn } from '#core/artwork/index';
import { type Condition, screenOnly, toLab } from '#core/color/index';
import { addGroups, artworksOf } from '#core/swatch/index';
import { baseName } from '#core/text/names';
import { isArtworkFile, keepArtworks } from '~/features/shared/artwork/keep';
import { usePainted } from '~/features/shared/artwork/use-painted';
import { useFileTaker, useOpenFiles } from '~/features/shared/open/OpenFiles';
import { usePart, useStore } from '~/state/store';
import { useStores, useTray } from '~/state/stores';
import { useWorkspace, type Workspace } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Empty } from '~/ui/empty';
import { SelectField } from '~/ui/field';
import { Notice } from '~/ui/notice';
import { PlainButton } from '~/ui/plain-button';
import { Progress } from '~/ui/progress';
import { count } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';
import { StoppedError } from '~/workers/worker-client';
import { ToTray } from '../ToTray';
import css from './ArtworkSource.module.css';

const ORDERS = [
  ['area', 'the largest first'],
  ['place', 'as they are drawn'],
  ['light', 'from dark to light'],
] as const;
type Order = (typeof ORDERS)[number][0];

interface Shown {
  id: string;
  name: string;
  asset: string;
}

/** Gather › Artwork: every colour of a drawing once, named after its parts. */
export function ArtworkSource() {
  const workspace = useWorkspace();
  const { artworks } = useStores();
  const { works, problems } = useStore(artworks);
  const openFiles = useOpenFiles();
  const toast = useToast();
  const [chosen, setChosen] = useState<string | null>(null);
  /** Without a library artwork is looked at, and not kept. */
  const [loose, setLoose] = useState<Shown[]>([]);
  const [stage, setStage] = useState<string | null>(null);
  const kept = useKept(workspace);
  const store = workspace?.store;
  const all = store ? kept : loose;
  const shown = all.find((a) => a.id === chosen) ?? all[0] ?? null;
  const asset = shown?.asset;
  useEffect(() => {
    if (asset) void artworks.open(asset);
  }, [artworks, asset]);

  useFileTaker(
    useCallback(
      async (files) => {
        const own: typeof files = [];
        const rest: typeof files = [];
        for (const given of files)
          ((await isArtworkFile(given.file).catch(() => false)) ? own : rest).push(given);
        if (store) {
          const [first] = await keepArtworks(own, { artworks, store, toast, stage: setStage });
          if (first) setChosen(first);
        } else
          for (const { file, path } of own) {
            setStage(path);
            try {
              const { hash, warnings } = await artworks.look(file);
              const one = { id: nanoid(8), name: path.replace(/^.*\//, ''), asset: hash };
              setLoose((was) => [...was, one]);
              setChosen(one.id);
              if (warnings.length > 0) toast({ text: `${path}: ${warnings.join(' ')}`, stays: true });
            } catch (error) {
              if (!(error instanceof StoppedError))
                toast({ text: `${path}: ${(error as Error).message}`, stays: true });
            }
          }
        setStage(null);
        return rest;
      },
      [artworks, store, toast],
    ),
  );
  const work = asset ? works[asset] : undefined;
  const problem = asset && problems[asset];
  return (
    <div className={css.source}>
      {all.length === 0 ? (
        <Empty
          level="h2"
          title="The colours of a drawing"
          text="Drop an SVG, a PDF or a picture of few flat colours. Every colour of its fills, lines, gradients and text comes once, under what its parts or inks are called."
        >
          <Button variant="contained" onClick={openFiles}>
            Open artwork…
          </Button>
        </Empty>
      ) : (
        <>
          <nav className={css.works} aria-label="Artwork">
            {all.map((a) => (
              <PlainButton
                look="tab"
                key={a.id}
                aria-pressed={a === shown}
                className="cut"
                title={a.name}
                onClick={() => setChosen(a.id)}
              >
                {a.name}
              </PlainButton>
            ))}
            <PlainButton look="tab" onClick={openFiles}>
              Open artwork…
            </PlainButton>
          </nav>
          {problem ? (
            <Notice>{problem}</Notice>
          ) : work && shown ? (
            <Colors key={shown.id} work={shown} facts={work.facts} workspace={workspace} />
          ) : (
            <p role="status" className="second">
              Opening the artwork…
            </p>
          )}
        </>
      )}
      {stage !== null && (
        <Progress
          title="Looking through the artwork"
          stage={stage}
          onStop={() => artworks.client.stopAll()}
        />
      )}
    </div>
  );
}

/** The artwork of the open library; none where none is open. */
function useKept(workspace: Workspace | null): Shown[] {
  const tray = useTray();
  const library = usePart(workspace?.store ?? tray, (s) => s.library);
  return useMemo(
    () =>
      workspace ? artworksOf(library).map(({ id, name, data }) => ({ id, name, asset: data.asset })) : [],
    [library, workspace],
  );
}

function Colors({
  work,
  facts,
  workspace,
}: {
  work: Shown;
  facts: ArtworkFacts;
  workspace: Workspace | null;
}) {
  const condition = useCondition();
  const toast = useToast();
  const [order, setOrder] = useState<Order>('area');
  const ready = condition !== screenOnly;
  const made = useMemo(() => {
    if (!ready) return null;
    const rows = rowsIn(facts.colors, null, () => undefined, condition);
    return { orders: ordersOf(rows), outlines: [], size: facts.size };
  }, [facts, condition, ready]);
  const { url } = usePainted(work.asset, made);
  const colors = useMemo(() => inOrder(facts.colors, order, condition), [facts, order, condition]);
  const named = useMemo(
    () => paletteOf(colors, () => '', work.name, condition),
    [colors, work.name, condition],
  );
  const swatches = () => named.map((s) => ({ ...s, id: nanoid(12) }));
  return (
    <div className={css.both}>
      <div className={css.picture}>{url && <img src={url} alt={work.name} />}</div>
      <div className={css.colors}>
        <div className={css.head}>
          <strong>
            {count(colors.length, 'colour')} in {count(facts.parts, 'part')}
          </strong>
          <SelectField
            className={css.order}
            aria-label="Order"
            value={order}
            onChange={(e) => setOrder(e.target.value as Order)}
          >
            {ORDERS.map(([id, label]) => (
              <option key={id} value={id}>
                {label}
              </option>
            ))}
          </SelectField>
        </div>
        {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached from the keyboard, too */}
        <ul className={css.list} aria-label="Colours of the artwork" tabIndex={0}>
          {colors.map((c, i) => (
            <li key={c.hex}>
              <i style={{ background: c.hex }} />
              <span className="cut" dir="auto">
                {named[i]!.name}
              </span>
              <span className="mono">{c.hex.toUpperCase()}</span>
              <span className="mono second">
                {c.share >= 0.005 ? `${Math.round(100 * c.share)} %` : '< 1 %'}
              </span>
            </li>
          ))}
        </ul>
        <div className={css.ways}>
          <ToTray n={colors.length} make={swatches} />
          {workspace && (
            <>
              <Button
                onClick={() => {
                  const { store } = workspace;
                  const group = { id: nanoid(12), name: baseName(work.name), swatches: swatches() };
                  const done = store.edit(addGroups(store.rows, [group]));
                  if (done)
                    toast({
                      text: `${count(colors.length, 'swatch', 'swatches')} in the group ${group.name}.`,
                      ...wayBack([store, done]),
                    });
                }}
              >
                As a group
              </Button>
              <Button component={Link} to={`/libraries/${workspace.store.id}/apply?work=${work.id}`}>
                Put colours on it
              </Button>
            </>
          )}
        </div>
      </div>
    </div>
  );
}

function inOrder(colors: readonly ColorFacts[], order: Order, condition: Condition): ColorFacts[] {
  if (order === 'area') return [...colors];
  const first = (c: ColorFacts) => c.parts[0]?.id ?? 0;
  if (order === 'place') return [...colors].sort((a, b) => first(a) - first(b));
  const lightness = ({ color }: ColorFacts) => toLab(color, condition)[0];
  return [...colors].sort((a, b) => lightness(a) - lightness(b));
}
