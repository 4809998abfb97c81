import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import { nanoid } from 'nanoid';
import { useMemo, useState } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import { factsById } from '#core/formats/plan';
import { SHEET_OF_CHIPS } from '#core/formats/svg/chips';
import {
  addGroups,
  allSwatches,
  asOne,
  broughtTogether,
  countSwatches,
  isLoose,
  type Library,
} from '#core/swatch/index';
import { commonName } from '#core/text/names';
import type { Came, ReadLibrary } from '~/messages/files-messages';
import type { LibraryStore } from '~/state/library-store';
import { useStores } from '~/state/stores';
import { useCondition } from '~/ui/condition';
import { Field } from '~/ui/field';
import { Notice } from '~/ui/notice';
import { count, Strip, stripColors } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { useToast, wayBack } from '~/ui/toast';
import { openFilesClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import { keepArtworks } from '../artwork/keep';
import { MergeDialog } from '../merge/MergeDialog';
import { RoundTripDialog } from '../merge/RoundTripDialog';
import css from './Review.module.css';

const newId = () => nanoid(12);

type Where = 'each' | 'groups' | 'book' | 'add' | 'merge' | 'back' | 'artwork';

/** A file in the table: what could be read of it, and whether and under which name it is added. */
interface Row {
  /** Two files may have one path, so the place in the list tells them apart. */
  key: number;
  path: string;
  read: ReadLibrary;
  /** Why only a part could be read. */
  damage?: string;
  /** The file that has the same colours, and more with them. */
  richer?: string;
}

/** Shows what came in before anything is kept: as new libraries, as groups of one, or added to the open one. */
export function Review({
  all: first,
  files,
  gather,
  onClose,
}: {
  all: Came[];
  files: { file: File; path: string }[];
  gather(files: { file: Blob; path: string }[]): void;
  onClose(): void;
}) {
  const [all, setAll] = useState(first);
  const [withText, setWithText] = useState(false);
  // drawings are read as they look, until the user says otherwise
  const [chips, setChips] = useState<Record<string, boolean>>({});
  const worker = useClient(openFilesClient);
  const rows = useMemo(
    () =>
      all.flatMap((c, key): Row[] => {
        if (c.kind === 'swatches')
          return [{ key, path: c.path, read: c.read, ...(c.richer ? { richer: c.richer } : {}) }];
        return c.kind === 'problem' && c.sound
          ? [{ key, path: c.path, read: c.sound, damage: c.message }]
          : [];
      }),
    [all],
  );
  const problems = all.flatMap((c) => (c.kind === 'problem' && !c.sound ? [c.message] : []));
  const pictures = all.flatMap((c) => (c.kind === 'picture' ? [c] : []));
  const pdfs = files.filter((f) => /\.pdf$/i.test(f.path));
  const skipped = all.flatMap((c) => (c.kind === 'skipped' ? [c] : []));
  const [names, setNames] = useState<Record<number, string>>({});
  // a damaged file comes in only when the user says so, and so do colours that another file has with more
  const [chosen, setChosen] = useState<Record<number, boolean>>({});
  const isChosen = (row: Row) => chosen[row.key] ?? !(row.damage || row.richer);
  // what came as a file of its own and is drawn, and what a kit has drawn
  const drawings = [
    ...files.filter((f) => rows.some((r) => r.read.format === 'svg' && r.path === f.path)),
    ...all.flatMap((c) =>
      c.kind === 'drawing' ? [{ path: c.path, file: new File([c.file], c.path.replace(/^.*\//, '')) }] : [],
    ),
  ];
  const fromKit = all.some((c) => c.kind === 'drawing');
  const nameOf = (row: Row) => names[row.key] ?? row.read.library.name;
  const wanted = rows.filter(isChosen);
  const { id } = useParams();
  const stores = useStores();
  const here = id ? stores.library(id) : undefined;
  const hereName = here?.snapshot().library.name;
  const [where, setWhere] = useState<Where>(here && drawings.length > 0 && !fromKit ? 'add' : 'each');
  // what is opened in a library is for it, and a kit's drawings are for the kit's
  const [withArtwork, setWithArtwork] = useState(!!here || fromKit);
  const [together, setTogether] = useState(() => commonName(files.map((f) => f.path)) ?? 'Opened files');
  const [busy, setBusy] = useState(false);
  const [merging, setMerging] = useState<Library | null>(null);
  const [back, setBack] = useState<Row | null>(null);
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const toast = useToast();

  const readAgain = async (text: boolean, chips: Record<string, boolean>) => {
    setWithText(text);
    setChips(chips);
    setAll(await worker.ask('read', { files, text, chips }));
  };

  const keep = async () => {
    if (busy || wanted.length === 0) return;
    const libraries = wanted.map((row): Library => ({ ...row.read.library, name: nameOf(row) }));
    if (where === 'merge' && here) {
      setMerging(asOne(libraries, '', newId));
      return;
    }
    if (where === 'back' && here && wanted[0]) {
      setBack(wanted[0]);
      return;
    }
    setBusy(true);
    const draw = (own: typeof drawings, store: LibraryStore) =>
      keepArtworks(own, { artworks: stores.artworks, store, toast, stage: () => undefined });
    if (where === 'artwork' && here) {
      const [made] = await draw(drawings, here);
      setBusy(false);
      if (!made) return;
      onClose();
      await navigate(`/libraries/${id}/apply?work=${made}`);
      return;
    }
    if (where === 'add' && here) {
      const { groups, items } = broughtTogether(libraries, newId);
      const added = here.edit(addGroups(here.rows, groups, undefined, items));
      if (!added) {
        setBusy(false);
        return;
      }
      const kept = withArtwork && drawings.length > 0 ? await draw(drawings, here) : [];
      onClose();
      if (!pathname.endsWith('/arrange')) await navigate(`/libraries/${id}/arrange`);
      toast({
        text:
          kept.length > 0
            ? `${count(libraries.length, 'file')} added, and ${count(kept.length, 'drawing')} kept as artwork: see Apply.`
            : `${count(libraries.length, 'file')} added.`,
        ...wayBack([here, added]),
      });
      return;
    }
    const made: string[] = [];
    const make = (library: Library) =>
      where === 'book' ? stores.createBook(library) : stores.createLibrary(library);
    for (const library of where === 'groups' ? [asOne(libraries, together, newId)] : libraries) {
      try {
        made.push(await make(library));
      } catch (error) {
        setBusy(false);
        // what has been kept is not kept again
        setChosen({
          ...chosen,
          ...Object.fromEntries(wanted.slice(0, made.length).map((r) => [r.key, false])),
        });
        toast({ text: `Not everything could be kept. ${(error as Error).message}` });
        return;
      }
    }
    if (withArtwork && where !== 'book')
      for (const [i, drawing] of drawings.entries()) {
        // each to the library that was made of it
        const own = wanted.findIndex((row) => row.path === drawing.path);
        const to = made[made.length === 1 ? 0 : own >= 0 ? own : Math.min(i, made.length - 1)];
        if (to) await draw([drawing], stores.library(to));
      }
    onClose();
    if (where === 'book') await navigate(made.length === 1 ? `/books/${made[0]}` : '/books');
    else await navigate(made.length === 1 ? `/libraries/${made[0]}/arrange` : '/');
  };

  if (merging && here)
    return (
      <MergeDialog
        store={here}
        theirs={merging}
        onClose={(done) => {
          setMerging(null);
          if (!done) return;
          onClose();
          if (!pathname.endsWith('/arrange')) void navigate(`/libraries/${id}/arrange`);
        }}
      />
    );

  if (back && here)
    return (
      <RoundTripDialog
        store={here}
        format={back.read.format}
        path={back.path.replace(/^.*\//, '')}
        returned={back.read.library}
        onClose={(done) => {
          setBack(null);
          if (!done) return;
          onClose();
          if (!pathname.endsWith('/arrange')) void navigate(`/libraries/${id}/arrange`);
        }}
      />
    );

  const many = wanted.length > 1;
  const hasDrawing = rows.some((r) => factsById(r.read.format).traits.text);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth={rows.length > 1 ? 'md' : 'sm'}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void keep();
        }}
        className={css.form}
      >
        <DialogTitle>
          {rows.length > 0
            ? `Open ${count(rows.length, 'file')}`
            : pictures.length > 0
              ? `${count(pictures.length, 'picture')} came in`
              : 'This could not be opened'}
        </DialogTitle>
        <DialogContent>
          {problems.map((message) => (
            <Notice key={message}>{message}</Notice>
          ))}
          {rows.map((row) => (
            <FileRow
              key={row.key}
              row={row}
              single={rows.length === 1}
              chosen={isChosen(row)}
              setChosen={(on) => setChosen({ ...chosen, [row.key]: on })}
              name={nameOf(row)}
              setName={(name) => setNames({ ...names, [row.key]: name })}
              chips={chips[row.path] ?? row.read.warnings.includes(SHEET_OF_CHIPS)}
              readChips={(on) => void readAgain(withText, { ...chips, [row.path]: on })}
            />
          ))}
          {hasDrawing && (
            <Tick
              className={css.text}
              checked={withText}
              onChange={(on) => void readAgain(on, chips)}
              label="Take the colours of text in drawings too"
            />
          )}
          {pictures.map((p) => (
            <div key={p.path} className={css.picture}>
              <span />
              <span className="cut" title={p.path}>
                {p.path}
              </span>
              <span className="caption">picture</span>
              <Button
                onClick={() => {
                  onClose();
                  gather([p]);
                }}
              >
                Take colours from it
              </Button>
            </div>
          ))}
          {pdfs.map(({ path, file }) => (
            <div key={path} className={css.picture}>
              <span />
              <span className="cut" title={path}>
                {path}
              </span>
              <span className="caption">PDF</span>
              <Button
                onClick={() => {
                  onClose();
                  void navigate('/pdf', { state: { file } });
                }}
              >
                Change its inks
              </Button>
            </div>
          ))}
          {skipped.length > 0 && (
            <details className={`caption ${css.skipped}`}>
              <summary>{count(skipped.length, 'file was', 'files were')} passed over</summary>
              <ul>
                {skipped.map((s, i) => (
                  <li key={i}>
                    {s.path}: {s.message}
                  </li>
                ))}
              </ul>
            </details>
          )}
          {wanted.length > 0 && (
            <RadioGroup
              value={where}
              onChange={(_, v) => setWhere(v as Where)}
              aria-label="Where to"
              sx={{ mt: 2 }}
            >
              <FormControlLabel
                value="each"
                control={<Radio />}
                label={many ? 'A new library for each' : 'A new library'}
              />
              {many && (
                <FormControlLabel value="groups" control={<Radio />} label="Groups of one new library" />
              )}
              {where === 'groups' && many && (
                <Field
                  className={css.together}
                  aria-label="Name of the library"
                  value={together}
                  onChange={(e) => setTogether(e.target.value)}
                />
              )}
              <FormControlLabel
                value="book"
                control={<Radio />}
                label={
                  many
                    ? 'A book for each: not edited, for every library to take from'
                    : 'A book: not edited, for every library to take from'
                }
              />
              {here && (
                <FormControlLabel
                  value="add"
                  control={<Radio />}
                  label={`Add to ${hereName}. Nothing is replaced.`}
                />
              )}
              {here && (
                <FormControlLabel
                  value="merge"
                  control={<Radio />}
                  label={`Merge into ${hereName}, and choose where names or colours meet`}
                />
              )}
              {here && !many && (
                <FormControlLabel
                  value="back"
                  control={<Radio />}
                  label={`Take back what was changed in it since ${hereName} was handed over`}
                />
              )}
              {here && drawings.length > 0 && (
                <FormControlLabel
                  value="artwork"
                  control={<Radio />}
                  label={`Only as artwork of ${hereName}, to put its colours on`}
                />
              )}
            </RadioGroup>
          )}
          {drawings.length > 0 && (where === 'each' || where === 'groups' || where === 'add') && (
            <Tick
              className={css.text}
              checked={withArtwork}
              onChange={setWithArtwork}
              label={
                drawings.length === 1
                  ? 'Keep the drawing as artwork, too, to put colours on it'
                  : `Keep the ${drawings.length} drawings as artwork, too, to put colours on them`
              }
            />
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>{rows.length > 0 ? 'Cancel' : 'Close'}</Button>
          {rows.length > 0 && (
            <Button type="submit" variant="contained" disabled={busy || wanted.length === 0} autoFocus>
              {where === 'add'
                ? 'Add'
                : where === 'artwork'
                  ? 'Keep as artwork'
                  : where === 'back'
                    ? 'Compare'
                    : where === 'merge'
                      ? 'Compare and merge'
                      : where === 'book'
                        ? many
                          ? 'Keep as books'
                          : 'Keep as a book'
                        : many && where === 'each'
                          ? 'Open as libraries'
                          : 'Open as a library'}
            </Button>
          )}
        </DialogActions>
      </form>
    </Dialog>
  );
}

function FileRow({
  row,
  single,
  chosen,
  setChosen,
  name,
  setName,
  chips,
  readChips,
}: {
  row: Row;
  single: boolean;
  chosen: boolean;
  setChosen(on: boolean): void;
  name: string;
  setName(name: string): void;
  /** Whether a drawing is read as a sheet of chips, and reads it again. */
  chips: boolean;
  readChips(on: boolean): void;
}) {
  const condition = useCondition();
  const { library, format, warnings } = row.read;
  const groups = library.groups.filter((g) => !isLoose(library, g)).length;
  const swatches = allSwatches(library);
  const facts = [
    factsById(format).name,
    count(countSwatches(library), 'swatch', 'swatches'),
    groups > 0 && count(groups, 'group'),
  ].filter(Boolean);
  return (
    <section className={css.file} data-single={single}>
      {(!single || row.damage) && (
        <Tick silent label={`Open ${row.path}`} checked={chosen} onChange={setChosen} />
      )}
      <div className={css.words}>
        <div className={`caption cut ${css.facts}`} title={row.path}>
          {row.path} · {facts.join(' · ')}
        </div>
        <div className={css.line}>
          <Field
            dir="auto"
            aria-label={`Name for ${row.path}`}
            value={name}
            disabled={!chosen}
            onChange={(e) => setName(e.target.value)}
          />
          <Strip colors={stripColors(swatches, condition, 160)} height={28} />
        </div>
        {factsById(format).traits.text && (
          <Tick
            className={css.text}
            checked={chips}
            onChange={readChips}
            label="Fills only, without page and outlines, named by the text beside them"
          />
        )}
        {row.damage && (
          <Notice>
            {row.damage} {count(swatches.length, 'swatch', 'swatches')} before the damage{' '}
            {swatches.length === 1 ? 'is' : 'are'} sound and can be opened: tick the box.
          </Notice>
        )}
        {row.richer && (
          <p className={`caption ${css.warning}`}>
            The same colours as {row.richer}, which carries more with them.
          </p>
        )}
        {warnings.map((w) => (
          <p key={w} className={`caption ${css.warning}`}>
            {w}
          </p>
        ))}
      </div>
    </section>
  );
}
