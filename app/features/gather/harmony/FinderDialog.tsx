import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Slider from '@mui/material/Slider';
import { nanoid } from 'nanoid';
import { useEffect, useMemo, useState } from 'react';
import { type Color, type Condition, convert, deltaE00, type Oklch, toHex, toLab } from '#core/color/index';
import { CIRCLES, type CircleId, circleById, findRule, pulled, ruleById, SRGB } from '#core/harmony/index';
import { allSwatches, type Library, type Op, type Swatch } from '#core/swatch/index';
import { usePressGamut } from '~/features/shared/use-press-gamut';
import { useToTray } from '~/features/shared/use-to-tray';
import { useStore } from '~/state/store';
import { useLibraryState, usePictures, useStores, useTray } from '~/state/stores';
import { useWorkspace } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Choose } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { Choices, Setting } from '~/ui/setting';
import { count, groupLabel, swatchLabel } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';
import { WingPair } from '~/ui/wing-pair';
import { takeName } from '../picture/Takes';
import css from './FinderDialog.module.css';

/** Colors that are asked about: of a group, the tray, a picture's palette or a curated set. */
interface Asking {
  id: string;
  name: string;
  swatches: Swatch[];
  /** They are of the open library, and can be changed where they are. */
  own?: true;
}

/** More colors than this follow no rule that anybody could see. */
const MAX_SWATCHES = 60;

/** Inks, and what tells a machine something, are what they are. */
const isInk = ({ kind }: Swatch) => kind !== 'process';

const plain = (color: Color, name: string): Swatch => ({ id: nanoid(12), name, kind: 'process', color });

function usePlaces(): Asking[] {
  const workspace = useWorkspace();
  const pictures = usePictures();
  const { books } = useStores();
  const open = useStore(books).books;
  const tray = useLibraryState(useTray());
  const library: Library | null = workspace?.store.rows.library ?? null;
  return useMemo(() => {
    const places: Asking[] = [];
    if (library && workspace) {
      const chosen = workspace.store.rows.inOrder(workspace.selection).map(({ swatch }) => swatch);
      if (chosen.length > 1)
        places.push({ id: 'chosen', name: 'the chosen swatches', swatches: chosen, own: true });
      library.groups.forEach((g, i) => {
        if (g.swatches.length > 1)
          places.push({ id: `group ${g.id}`, name: groupLabel(library, i), swatches: g.swatches, own: true });
      });
    }
    const waiting = allSwatches(tray.library);
    if (waiting.length > 1) places.push({ id: 'tray', name: 'the tray', swatches: waiting });
    for (const picture of pictures.pictures)
      for (const take of pictures.boards[picture.id]?.takes ?? [])
        if (take.colors.length > 1)
          places.push({
            id: `take ${picture.id} ${take.id}`,
            name: `${picture.name}, ${takeName(take)}`,
            swatches: take.colors.map((c) => plain(c.color, '')),
          });
    for (const book of Object.values(open))
      for (const set of book.sets)
        places.push({
          id: `set ${book.id} ${set.id}`,
          name: `${set.name}, ${book.name}`,
          swatches: set.refs.flatMap((id) => {
            const at = book.placeOf.get(id);
            return at === undefined
              ? []
              : [plain({ space: 'lab', components: book.labs[at]! }, book.swatches.name[at]!)];
          }),
        });
    return places;
  }, [library, workspace, tray.library, pictures, open]);
}

/** Which rule some colours come closest to, how far each is from it, and a pull towards it. */
export function FinderDialog({ onClose }: { onClose(): void }) {
  const places = usePlaces();
  const condition = useCondition();
  const { harmony, books } = useStores();
  const workspace = useWorkspace();
  const toTray = useToTray();
  const toast = useToast();
  const [id, setId] = useState(
    () => places.find((p) => p.id === `group ${workspace?.groupId}`)?.id ?? places[0]?.id ?? '',
  );
  const [circle, setCircle] = useState<CircleId>('perceptual');
  const [pull, setPull] = useState(0);
  // sets are offered once their book is here
  useEffect(() => {
    const { book } = books.snapshot();
    if (book) void books.open(book);
  }, [books]);
  const asking = places.find((p) => p.id === id) ?? places[0];
  const swatches = useMemo(() => asking?.swatches.slice(0, MAX_SWATCHES) ?? [], [asking]);
  const colors = useMemo(() => swatches.map((s) => lchOf(s.color, condition)), [swatches, condition]);
  const found = useMemo(() => findRule(colors, circle), [colors, circle]);
  const onPress = swatches.some((s) => s.color.space === 'cmyk');
  const gamut = usePressGamut(onPress ? condition : null) ?? SRGB;
  const there = useMemo(
    () =>
      found
        ? pulled(colors, found, pull, gamut).map(
            (components, i): Color =>
              // an ink is what it is
              isInk(swatches[i]!) ? swatches[i]!.color : { space: 'oklch', components },
          )
        : [],
    [colors, found, pull, gamut, swatches],
  );
  if (!asking)
    return (
      <Dialog open onClose={onClose} fullWidth maxWidth="xs">
        <DialogTitle>Which rule is it?</DialogTitle>
        <DialogContent>
          <p>
            Nothing to compare yet. Choose a group with at least two colours, a palette of a picture, or two
            colours in the tray.
          </p>
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Close</Button>
        </DialogActions>
      </Dialog>
    );
  const rule = found && ruleById(found.rule);
  const moving = swatches.flatMap((s, i) => (isInk(s) ? [] : [{ ...s, color: there[i] ?? s.color }]));
  const inks = swatches.length - moving.length;
  const inPlace = () => {
    const store = workspace!.store;
    const change = store.edit({
      ops: moving.map((s): Op => ({ op: 'set', of: 'swatch', id: s.id, fields: { color: s.color } })),
      label: `pull ${count(moving.length, 'swatch', 'swatches')} towards ${rule!.name.toLowerCase()}`,
    });
    if (change)
      toast({
        text: `${count(moving.length, 'swatch', 'swatches')} pulled towards ${rule!.name.toLowerCase()}.`,
        ...wayBack([store, change]),
      });
    onClose();
  };
  const openFamily = () => {
    const base = swatches[found!.base]!;
    harmony.begin({
      bases: [{ color: base.color, ...(base.name ? { name: base.name } : {}) }],
      rule: found!.rule,
      circle,
      ...(found!.angle === null ? {} : { angle: found!.angle }),
      ...(found!.count === null ? {} : { count: Math.min(11, found!.count) }),
      lightness: { by: 'base', amount: 0, bend: 1 },
      chroma: { by: 'base', amount: 0, bend: 1 },
    });
    harmony.show('family');
    onClose();
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Which rule is it?</DialogTitle>
      <DialogContent>
        <div className={css.ask}>
          <Choose
            label="of"
            value={asking.id}
            values={places.map((p) => [p.id, p.name] as const)}
            onChange={setId}
          />
          <Choices aria-label="Arrangement of hues">
            {CIRCLES.map((c) => (
              <PlainButton
                look="tab"
                key={c}
                aria-pressed={c === circle}
                title={circleById(c).about}
                onClick={() => setCircle(c)}
              >
                {c}
              </PlainButton>
            ))}
          </Choices>
        </div>
        {found && rule ? (
          <>
            <h3 className={`title ${css.rule}`}>
              {rule.name}
              {found.angle === null ? '' : `, ${String(Math.round(found.angle)).replace('-', '−')}°`}
            </h3>
            <p className="second" role="status">
              {rule.about}. The colours are ΔE00 {found.off.toFixed(1)} from it
              {asking.swatches.length > MAX_SWATCHES ? `; the first ${MAX_SWATCHES} were looked at` : ''}.
            </p>
            <ul className={css.list}>
              {swatches.map((s, i) => (
                <li key={s.id}>
                  <span className={css.pair}>
                    <WingPair
                      left={toHex(s.color, condition)}
                      right={toHex(
                        pull > 0 ? there[i]! : idealOf(found.members[i]!.ideal, circle),
                        condition,
                      )}
                    />
                  </span>
                  <span className="cut" dir="auto">
                    {swatchLabel(s, condition)}
                    {i === found.base ? <span className="caption"> base</span> : null}
                  </span>
                  <span className="mono">
                    {(pull > 0
                      ? deltaE00(toLab(s.color, condition), toLab(there[i]!, condition))
                      : found.members[i]!.deltaE00
                    ).toFixed(1)}
                  </span>
                </li>
              ))}
            </ul>
            <Setting label="Pull towards the rule" value={`${Math.round(pull * 100)} %`}>
              <Slider
                aria-label="Pull towards the rule"
                value={pull}
                min={0}
                max={1}
                step={0.01}
                onChange={(_, v) => setPull(v as number)}
              />
            </Setting>
            <p className="caption">
              Left as it is, right {pull > 0 ? 'as it would be' : 'by the rule'}; the figure is ΔE00 between
              the two.{inks > 0 ? ` ${count(inks, 'ink stays as it is', 'inks stay as they are')}.` : ''}
            </p>
          </>
        ) : (
          <p>Choose at least two colours.</p>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button disabled={!found} onClick={openFamily}>
          Open as a family
        </Button>
        <Button
          disabled={pull === 0 || moving.length === 0}
          onClick={() => {
            void toTray(
              moving.map(
                ({ name, color, role, alpha }): Swatch => ({
                  ...plain(color, name),
                  ...(role ? { role } : {}),
                  ...(alpha === undefined ? {} : { alpha }),
                  origin: { from: 'harmony', name: rule!.name },
                }),
              ),
              (i) => moving[i]!.name === '',
            );
            onClose();
          }}
        >
          To the tray
        </Button>
        {asking.own && !workspace?.book && (
          <Button variant="contained" disabled={pull === 0 || moving.length === 0} onClick={inPlace}>
            Pull in place
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}

const lchOf = (color: Color, condition: Condition) => convert(color, 'oklch', condition).components as Oklch;

const idealOf = ([L, C, place]: readonly [number, number, number], circle: CircleId): Color => ({
  space: 'oklch',
  components: [L, C, circleById(circle).hueAt(place, L, C)],
});
