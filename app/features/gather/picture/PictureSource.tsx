import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { Bookmark, X } from 'lucide-react';
import { useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { useParams } from 'react-router';
import { screenOnly, toHex } from '#core/color/index';
import { colorKey, type PaletteColor } from '#core/picture/index';
import { readPicture, readSample } from '~/api/assets';
import { addressOf, send } from '~/api/call';
import { useOpenFiles } from '~/features/shared/open/OpenFiles';
import { ALL, type KeptPicture, type OpenPicture } from '~/state/picture-store';
import { useSamples } from '~/state/root-data';
import { usePictures, useStores } from '~/state/stores';
import { Empty } from '~/ui/empty';
import { focusWork } from '~/ui/focus-work';
import { Notice } from '~/ui/notice';
import { PlainButton } from '~/ui/plain-button';
import { count } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { useToast } from '~/ui/toast';
import { Controls } from './Controls';
import { PaletteList } from './PaletteList';
import css from './PictureSource.module.css';
import { PictureStrip, Thumbnail } from './PictureStrip';
import { PictureView, type Tool } from './PictureView';
import { Takes } from './Takes';
import { useLine } from './use-line';
import { fits, type TakeState, useTake } from './use-take';

const grouped = new Intl.NumberFormat('en-GB');
const thousands = (n: number) => grouped.format(n).replaceAll(',', ' ');

/** Gather › Picture: palettes from one picture or several. */
export function PictureSource({ kept }: { kept: KeptPicture[] }) {
  const store = useStores().pictures;
  const state = usePictures();
  const toast = useToast();
  const take = useTake(store, state);
  // lists and charts follow a dragging hand when there is time for it
  const calm = useDeferredValue(take);
  const [drawn, setDrawn] = useState(true);
  const [tool, setTool] = useState<Tool>('look');
  const { pictures, shown, problem } = state;

  useEffect(() => {
    if (!problem) return;
    toast({ text: problem });
    store.clearProblem();
  }, [problem, toast, store]);
  // a tool belongs to the picture it was taken up for
  // biome-ignore lint/correctness/useExhaustiveDependencies: another picture puts it down
  useEffect(() => setTool('look'), [shown]);

  const ready = useMemo(
    () => pictures.filter((p) => p.opened && (shown === ALL || p.id === shown)),
    [pictures, shown],
  );
  // the keyboard goes to the takes of a picture that has just come
  const open = pictures.filter((p) => p.opened).length;
  const openBefore = useRef(open);
  const isThere = !!take;
  useEffect(() => {
    if (!isThere) return;
    if (open > openBefore.current) focusWork();
    openBefore.current = open;
  }, [isThere, open]);
  const closed = kept.filter((k) => !pictures.some((p) => p.id === k.id));
  const one = pictures.find((p) => p.id === shown) ?? null;
  const onLine = useLine(one, take);
  if (pictures.length === 0) return <Nothing kept={closed} />;
  const board = shown ? state.boards[shown] : null;
  return (
    <>
      <PictureStrip store={store} state={state} />
      {one?.problem && <Problem text={one.problem} onClose={() => store.close(one.id)} />}
      {one?.stage && <Opening picture={one} onCancel={() => store.close(one.id)} />}
      {take && board && ready.length > 0 && (
        <div className={css.columns}>
          <section className={css.picture} aria-label="Picture">
            {one?.opened ? (
              <>
                <Head picture={one} />
                <div className={css.room}>
                  <PictureView
                    key={one.id}
                    id={one.id}
                    opened={one.opened}
                    state={take}
                    drawn={drawn}
                    tool={tool}
                    onMarked={() => setTool('look')}
                    onTake={(color) => taken(take, color)}
                    onLine={(from, to) => void onLine?.(from, to)}
                  >
                    <Legend state={take} drawn={drawn} setDrawn={setDrawn} />
                  </PictureView>
                  <Takes store={store} source={take.board} board={board} state={calm} />
                </div>
              </>
            ) : (
              <Together pictures={ready} state={take} />
            )}
          </section>
          <Controls
            state={take}
            opened={one?.opened ?? null}
            tool={tool}
            setTool={setTool}
            onLine={onLine && ((from, to) => void onLine(from, to))}
          />
          {calm && <PaletteList state={calm} pictures={ready} />}
        </div>
      )}
      {closed.length > 0 && <KeptList kept={closed} />}
    </>
  );
}

/** A click on the picture: a point more, or a colour that stays in the palette. */
function taken({ recipe: { method }, set }: TakeState, color: PaletteColor) {
  // from what there is now: a second click may come before the first one's colour is drawn
  set(({ points, held }) => {
    if (method === 'point')
      return points.some((p) => colorKey(p) === colorKey(color)) ? {} : { points: [...points, color] };
    const hex = toHex(color.color, screenOnly);
    return held.some((h) => toHex(h.color, screenOnly) === hex)
      ? {}
      : { held: [...held, { name: hex.toUpperCase(), color: color.color }] };
  });
}

function Head({ picture }: { picture: OpenPicture }) {
  const store = useStores().pictures;
  const { id: library } = useParams();
  const toast = useToast();
  const { opened, name, keptIn } = picture;
  const [busy, setBusy] = useState(false);
  if (!opened) return null;
  const here = keptIn !== null && keptIn === library;
  const toggle = async () => {
    if (!library) return;
    setBusy(true);
    if (here) {
      if (await store.forget(library, picture.id)) toast({ text: 'The copy was removed from the library.' });
    } else if (await store.keep(library, picture.id))
      toast({ text: 'A copy of at most 1600 px and its takes are kept with the library.' });
    setBusy(false);
  };
  return (
    <div className={css.head}>
      <strong className="cut" title={name}>
        {name}
      </strong>
      <span className="caption cut">
        {thousands(opened.width)} × {thousands(opened.height)}
        {opened.space !== 'sRGB' && ` · ${opened.space}`} ·{' '}
        {here ? 'kept with the library' : 'stays on this machine'}
      </span>
      {library && (
        <PlainButton
          look="tab"
          className={`caption ${css.keepCopy}`}
          disabled={busy}
          aria-pressed={here}
          title={
            here
              ? 'Remove the copy from the library'
              : 'Store a copy of at most 1600 px and the takes in the library, for everyone who opens it'
          }
          aria-label={here ? 'Kept with the library' : 'Keep with the library'}
          onClick={() => void toggle()}
        >
          <Bookmark size={13} fill={here ? 'currentColor' : 'none'} aria-hidden />
          {here ? 'Kept' : 'Keep'}
        </PlainButton>
      )}
      <PlainButton look="tab" aria-label={`Close ${name}`} onClick={() => store.close(picture.id)}>
        <X size={14} />
      </PlainButton>
      {opened.note && (
        <p role="alert" className={`caption ${css.note}`}>
          {opened.note}
        </p>
      )}
    </div>
  );
}

/** What is to be seen, and how close the palette comes to the picture. */
function Legend({
  state,
  drawn,
  setDrawn,
}: {
  state: TakeState;
  drawn: boolean;
  setDrawn(on: boolean): void;
}) {
  const { recipe, fit } = state;
  return (
    <>
      {!fits(recipe.method) ? (
        <span>{recipe.method === 'point' ? 'Click to take a colour.' : 'The chips as they are read.'}</span>
      ) : (
        <Tick
          checked={drawn}
          onChange={setDrawn}
          label={drawn ? 'Right: with the palette' : 'Drawn with the palette'}
        />
      )}
      {fit && (
        <span className={css.fitMean}>
          mean ΔE00 {fit.mean.toFixed(1)} · {fit.word}
        </span>
      )}
    </>
  );
}

/** Several pictures as one: a board of them all, and the palette of the board. */
function Together({ pictures, state }: { pictures: OpenPicture[]; state: TakeState }) {
  const store = useStores().pictures;
  const { boards, shown } = usePictures();
  return (
    <>
      <div className={css.head}>
        <strong>{count(pictures.length, 'picture')} together</strong>
        <span className="caption">each counts the same, however large it is</span>
      </div>
      <div className={css.board}>
        {pictures.map((p) => (
          <Thumbnail key={p.id} picture={p} large />
        ))}
      </div>
      <div className={`${css.caption} caption`}>
        {state.fit && (
          <span>
            mean ΔE00 {state.fit.mean.toFixed(1)} · {state.fit.word}
          </span>
        )}
      </div>
      {shown && <Takes store={store} source={shown} board={boards[shown]} state={state} />}
    </>
  );
}

function Opening({ picture, onCancel }: { picture: OpenPicture; onCancel(): void }) {
  return (
    <div role="status" className={css.opening}>
      <p className="cut">{picture.name}</p>
      <p className="second">{picture.stage}…</p>
      <LinearProgress aria-label={`Opening ${picture.name}`} />
      <Button sx={{ mt: 2 }} onClick={onCancel}>
        Cancel
      </Button>
    </div>
  );
}

function Problem({ text, onClose }: { text: string; onClose(): void }) {
  const openFiles = useOpenFiles();
  return (
    <div className={css.problem}>
      <Notice>{text}</Notice>
      <div className={css.ways}>
        <Button variant="contained" onClick={openFiles}>
          Open another picture
        </Button>
        <Button onClick={onClose}>Close</Button>
      </div>
    </div>
  );
}

function Nothing({ kept }: { kept: KeptPicture[] }) {
  const openFiles = useOpenFiles();
  return (
    <div className={css.empty}>
      <Empty
        level="h2"
        title="Take colours from a picture"
        text="Drop one or several here, paste one, or open files: PNG, JPEG, WebP, GIF, AVIF, HEIC, JPEG XL, BMP, TIFF or PSD, up to 40 megapixels. They stay on this machine."
      >
        <Button variant="contained" onClick={openFiles}>
          Open a picture
        </Button>
        <TakePhoto />
      </Empty>
      {kept.length > 0 ? <KeptList kept={kept} /> : <Samples />}
    </div>
  );
}

/** Where there is a camera at hand: a photo taken now. */
function TakePhoto() {
  const { pictures } = useStores();
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button className={css.photo} onClick={() => input.current?.click()}>
        Take a photo
      </Button>
      <input
        ref={input}
        hidden
        type="file"
        accept="image/*"
        capture="environment"
        onChange={({ target }) => {
          pictures.open([...(target.files ?? [])].map((file) => ({ file, name: file.name })));
          target.value = '';
        }}
      />
    </>
  );
}

/** Pictures that are kept with the library and not open here. */
function KeptList({ kept }: { kept: KeptPicture[] }) {
  const store = useStores().pictures;
  const { id } = useParams();
  if (!id) return null;
  return (
    <div className={css.kept}>
      <span className="caption">Kept with the library</span>
      {kept.map((k) => (
        <PlainButton
          key={k.id}
          title={`Open ${k.name}`}
          aria-label={`Open ${k.name}`}
          onClick={() => void store.openKept(id, k)}
        >
          <img
            className={css.thumbnail}
            src={addressOf(readPicture, { id, picture: k.id })}
            alt=""
            loading="lazy"
          />
        </PlainButton>
      ))}
    </div>
  );
}

/** The demo's own pictures, to begin with at once; there are none elsewhere. */
function Samples() {
  const store = useStores().pictures;
  const samples = useSamples();
  if (samples.length === 0) return null;
  const take = async (name: string) => {
    const response = await send(readSample, { params: { name } });
    if (response.ok) store.open([{ file: await response.blob(), name }]);
  };
  return (
    <div className={css.samples}>
      <p className="caption">Or begin with a sample</p>
      <div>
        {samples.map((name) => (
          <PlainButton
            key={name}
            className={css.sample}
            aria-label={`Sample ${name}`}
            title={name}
            onClick={() => void take(name)}
          >
            <img src={`/samples/${name}`} alt="" width={112} height={84} />
          </PlainButton>
        ))}
      </div>
    </div>
  );
}
