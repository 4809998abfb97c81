import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMemo, useState } from 'react';
import { linksBy, rowsIn, type Way } from '#core/artwork/index';
import { addColorways, addGroups, allSwatches, type Swatch, type Wish, withLinks } from '#core/swatch/index';
import { madeIn } from '~/features/shared/artwork/made';
import { usePainted } from '~/features/shared/artwork/use-painted';
import { LibraryChoice } from '~/features/shared/merge/LibraryChoice';
import { useStores } from '~/state/stores';
import { Field } from '~/ui/field';
import { NumberField } from '~/ui/number-field';
import { Choose } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { groupLabel } from '~/ui/swatch';
import { useAsked } from '~/ui/use-asked';
import css from './Dialogs.module.css';
import { type ApplyState, freeName, newId } from './use-apply';

const WAYS: [Way | 'drawn', string][] = [
  ['drawn', 'As it was drawn'],
  ['nearest', 'The nearest colour to each'],
  ['lightness', 'By lightness: what is lighter stays lighter'],
  ['area', 'By area: the first for the largest'],
  ['role', 'By role: what the parts are called'],
  ['random', 'At random'],
];
const ELSEWHERE = 'elsewhere';

/** A colourway at one stroke: from a group or a library, by a way of giving every colour a swatch; seen before it is kept. */
export function NewColorwayDialog({ state, onClose }: { state: ApplyState; onClose(): void }) {
  const { library, colorways, facts, artwork, condition, swatchOf, store } = state;
  const stores = useStores();
  const [way, setWay] = useState<Way | 'drawn'>('nearest');
  const [from, setFrom] = useState('');
  const [other, setOther] = useState<{ id: string; name: string } | null>(null);
  const [seed, setSeed] = useState(1);
  const [typed, setTyped] = useState<string | null>(null);
  const { value: theirs, problem } = useAsked(
    from === ELSEWHERE && other ? async () => (await stores.library(other.id).whole()).library : null,
    [other, stores],
    { fresh: true },
  );

  const source = from === ELSEWHERE ? theirs : library;
  const swatches = useMemo(() => {
    if (!source) return [];
    const group = source.groups.find((g) => g.id === from);
    return group ? group.swatches : allSwatches(source);
  }, [source, from]);
  const links = useMemo(
    (): Record<string, Wish> =>
      way === 'drawn' || !facts ? {} : linksBy(way, facts.colors, swatches, condition, seed),
    [way, facts, swatches, condition, seed],
  );
  const label =
    from === ELSEWHERE ? (other?.name ?? '') : (library.groups.find((g) => g.id === from)?.name ?? '');
  const suggested = freeName(
    colorways,
    way === 'drawn' ? 'Colourway' : way === 'random' ? `At random ${seed}` : label || 'From the library',
  );
  const name = typed ?? suggested;
  const draft = useMemo(
    () => (artwork ? withLinks({ refs: [], data: { artwork: artwork.id, links: {} } }, links) : null),
    [artwork, links],
  );
  const made = useMemo(() => {
    if (!artwork || !facts || !draft) return null;
    const find = (id: string) => swatchOf(id) ?? swatches.find((s) => s.id === id);
    return madeIn(artwork, facts, rowsIn(facts.colors, draft, find, condition), find, condition);
  }, [artwork, facts, draft, swatches, swatchOf, condition]);
  const { url } = usePainted(artwork?.data.asset, made);
  const met = Object.keys(links).length;

  const keep = () => {
    if (!artwork || !facts) return;
    if (from !== ELSEWHERE) {
      state.add([state.make(name, links)]);
      onClose();
      return;
    }
    // what it takes from elsewhere comes into the library, once each
    const here = new Map<string, Swatch>();
    const own = Object.fromEntries(
      Object.entries(links).map(([key, wish]): [string, Wish] => {
        if (!('swatch' in wish)) return [key, wish];
        const swatch = here.get(wish.swatch.id) ?? { ...wish.swatch, id: newId() };
        here.set(wish.swatch.id, swatch);
        return [key, { ...wish, swatch }];
      }),
    );
    const colorway = state.make(name, own);
    const group = { id: newId(), name: other?.name ?? 'From elsewhere', swatches: [...here.values()] };
    const ops = [...addGroups(store.rows, [group]).ops, ...addColorways(store.rows, [colorway]).ops];
    if (store.edit({ label: `add the colourway “${name}” with its swatches`, ops }))
      state.choose(colorway.id);
    onClose();
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          keep();
        }}
      >
        <DialogTitle>New colourway</DialogTitle>
        <DialogContent>
          <div className={css.fields}>
            {url ? <img className={css.preview} src={url} alt="Preview" /> : <span className={css.preview} />}
            <div className={css.labelled}>
              <Choose
                label="Assign colours"
                value={way}
                values={WAYS}
                onChange={(next) => setWay(next as Way)}
              />
              {way !== 'drawn' && (
                <Choose
                  label="Taken from"
                  value={from}
                  values={[
                    ['', `all of ${library.name || 'this library'}`],
                    ...library.groups.flatMap((g, i): [string, string][] =>
                      g.swatches.length > 0 ? [[g.id, groupLabel(library, i)]] : [],
                    ),
                    [ELSEWHERE, 'another library…'],
                  ]}
                  onChange={setFrom}
                />
              )}
            </div>
            {way !== 'drawn' && from === ELSEWHERE && (
              <LibraryChoice
                without={store.id}
                value={other?.id ?? ''}
                onChange={(id, name) => setOther({ id, name })}
              />
            )}
            {way === 'random' && (
              <div className={css.seed}>
                <NumberField label="Seed" value={seed} min={1} max={999999} onChange={setSeed} />
                <PlainButton look="link" onClick={() => setSeed(seed + 1)}>
                  Another
                </PlainButton>
              </div>
            )}
            <p className="caption" role="status">
              {problem ??
                (way === 'drawn'
                  ? 'Starts with the original colours; choose others afterwards.'
                  : !source
                    ? 'Reading the library…'
                    : `${met} of ${facts?.colors.length ?? 0} colours get a swatch.${
                        way === 'role' && met === 0
                          ? ' No part is called by a role or a name of these swatches.'
                          : ''
                      }`)}
            </p>
            <Field
              aria-label="Name of the colourway"
              dir="auto"
              maxLength={200}
              value={name}
              onFocus={(e) => e.target.select()}
              onChange={(e) => setTyped(e.target.value)}
            />
          </div>
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={!source}>
            Keep
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
