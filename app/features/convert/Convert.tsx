import Button from '@mui/material/Button';
import { X } from 'lucide-react';
import { nanoid } from 'nanoid';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { type FileChoice, factsById, partsOf, perGroup, writableFacts } from '#core/formats/plan';
import { allSwatches, countSwatches, type Library } from '#core/swatch/index';
import { FormatLine, FormatOptions } from '~/features/shared/formats/FormatOptions';
import { Report } from '~/features/shared/formats/Report';
import { TickRow } from '~/features/shared/formats/TickRow';
import { useChanges } from '~/features/shared/formats/use-changes';
import { useFileTaker, useOpenFiles } from '~/features/shared/open/OpenFiles';
import type { Came, ReadLibrary } from '~/messages/files-messages';
import { useStores } from '~/state/stores';
import { useCondition } from '~/ui/condition';
import { download } from '~/ui/download';
import { Empty } from '~/ui/empty';
import { BottomBar, Stage } from '~/ui/Frame';
import { Notice } from '~/ui/notice';
import { PlainButton } from '~/ui/plain-button';
import { Progress } from '~/ui/progress';
import { count, Strip, stripColors } from '~/ui/swatch';
import { useJob } from '~/ui/use-job';
import { openFilesClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import css from './Convert.module.css';

interface Source {
  key: string;
  path: string;
  read: ReadLibrary;
}

/** What did not become a source, and why; of a damaged file the sound part can be taken if the user says so. */
interface Remark {
  key: string;
  path: string;
  message: string;
  problem: boolean;
  sound?: ReadLibrary;
}

/** Convert: this into that, without keeping anything. */
export function Convert() {
  const condition = useCondition();
  const { colors } = useStores();
  const [sources, setSources] = useState<Source[]>([]);
  const [rest, setRest] = useState<Remark[]>([]);
  const [chosen, setChosen] = useState<FileChoice[]>([]);
  const [sourceKey, setSourceKey] = useState<string | null>(null);
  const [search] = useSearchParams();
  const asked = search.get('format') ?? '';
  const [formatId, setFormatId] = useState('ase');
  useEffect(() => {
    if (writableFacts.some((f) => f.id === asked)) setFormatId(asked);
  }, [asked]);
  const [drafts, setDrafts] = useState<Record<string, FileChoice>>({});
  const files = useClient(openFilesClient);
  const { job, start, stop } = useJob(files.stop);
  const openFiles = useOpenFiles();

  const take = useCallback(
    (given: { file: File; path: string }[]) =>
      start('Reading the files', async ({ stage, isWanted }) => {
        const came = await files.ask('read', { files: given, text: false }, stage);
        if (!isWanted()) return;
        const read = came.flatMap((c): Source[] => sourceOf(c));
        await colors.bring(read.flatMap((s) => s.read.profiles ?? []));
        setSources((before) => [...before, ...read]);
        setRest((before) => [...before, ...came.flatMap(remark)]);
        setSourceKey((was) => was ?? read[0]?.key ?? null);
      }),
    [files, start, colors],
  );
  useFileTaker(useCallback((given) => take(given).then(() => undefined), [take]));

  const source = sources.find((s) => s.key === sourceKey) ?? sources[0] ?? null;
  const format = factsById(formatId);
  const inZip = chosen.find((c) => c.format === formatId);
  const choice = inZip ?? drafts[formatId] ?? { format: formatId };
  const found = useChanges(source?.read.library ?? null, choice, source?.read.profiles);
  const total = useMemo(
    () =>
      sources.reduce(
        (n, s) =>
          n + chosen.reduce((m, c) => m + partsOf(s.read.library, factsById(c.format), c.perGroup).length, 0),
        0,
      ),
    [sources, chosen],
  );
  const setChoice = (next: FileChoice) => {
    if (inZip) setChosen(chosen.map((c) => (c === inZip ? next : c)));
    else setDrafts({ ...drafts, [formatId]: next });
  };
  const toggle = (id: string, on: boolean) => {
    setFormatId(id);
    setChosen(on ? [...chosen, drafts[id] ?? { format: id }] : chosen.filter((c) => c.format !== id));
  };
  const takeSound = ({ key, path, sound }: Remark) => {
    if (sound) setSources([...sources, { key, path, read: sound }]);
    setRest(rest.filter((r) => r.key !== key));
  };
  const remove = (key: string) => setSources(sources.filter((s) => s.key !== key));

  const convert = () =>
    start('Converting', async ({ stage, isWanted }) => {
      const libraries = sources.map((s): Library => s.read.library);
      const profiles = sources.flatMap((s) => s.read.profiles ?? []);
      const done = await files.ask('convert', { libraries, formats: chosen, profiles }, stage);
      if (isWanted()) download(done.name, done.bytes, done.mime);
    });

  const nothing = sources.length === 0 && rest.length === 0;
  return (
    <>
      <Stage wide>
        <div className={css.head}>
          <h1 className="title">Convert files</h1>
          <span className="caption">Nothing is saved, and the files stay on this machine.</span>
          {!nothing && (
            <>
              <Button
                sx={{ ml: 'auto' }}
                onClick={() => {
                  setSources([]);
                  setRest([]);
                }}
              >
                Start over
              </Button>
              <Button onClick={openFiles}>Add files</Button>
            </>
          )}
        </div>
        {nothing ? (
          <Empty
            level="h2"
            title="Drop the files to convert"
            text="Swatch files, drawings, folders and zips, any number at once. Then choose the formats, see what changes, and download one zip."
          >
            <Button variant="contained" onClick={openFiles}>
              Choose files
            </Button>
          </Empty>
        ) : (
          <div className={css.columns}>
            <section aria-label="Files" className={css.files}>
              <h2 className="caption">{count(sources.length, 'file')}</h2>
              {sources.map((s) => (
                <div key={s.key} className={css.file} data-chosen={s.key === source?.key}>
                  <PlainButton aria-current={s.key === source?.key} onClick={() => setSourceKey(s.key)}>
                    <strong className="cut" title={s.path}>
                      {s.path}
                    </strong>
                    <span className="caption cut">
                      {factsById(s.read.format).name} ·{' '}
                      {count(countSwatches(s.read.library), 'swatch', 'swatches')}
                    </span>
                    <Strip colors={stripColors(allSwatches(s.read.library), condition)} />
                  </PlainButton>
                  <PlainButton
                    look="icon"
                    aria-label={`Skip ${s.path}`}
                    title="Skip it"
                    onClick={() => remove(s.key)}
                  >
                    <X size={14} />
                  </PlainButton>
                </div>
              ))}
              {rest.map((r) =>
                r.problem ? (
                  <Notice key={r.key}>
                    {r.message}
                    {r.sound && (
                      <PlainButton look="link" onClick={() => takeSound(r)}>
                        Convert the {count(countSwatches(r.sound.library), 'sound swatch', 'sound swatches')}{' '}
                        before the damage
                      </PlainButton>
                    )}
                  </Notice>
                ) : (
                  <p key={r.key} className={`caption ${css.passed}`}>
                    {r.message}
                  </p>
                ),
              )}
            </section>
            <section aria-label="Formats" className={css.formats}>
              <h2 className="caption">Convert to</h2>
              {writableFacts.map((f) => (
                <TickRow
                  key={f.id}
                  label={f.name}
                  title={f.about}
                  ticked={chosen.some((c) => c.format === f.id)}
                  onTick={(on) => toggle(f.id, on)}
                  chosen={f.id === formatId}
                  onChoose={() => setFormatId(f.id)}
                >
                  <span>{f.name}</span>
                  <span className="caption">.{f.endings[0]}</span>
                </TickRow>
              ))}
            </section>
            <section aria-label="What changes" className={css.way}>
              <FormatLine>
                <strong>{format.name}</strong>
                <FormatOptions
                  format={format}
                  choice={choice}
                  onChange={setChoice}
                  groups={source ? perGroup(source.read.library).length : 1}
                />
                <span className={`caption cut ${css.about}`} title={format.about}>
                  {format.about}
                </span>
              </FormatLine>
              {source ? (
                <Report found={found} />
              ) : (
                <p className={`second ${css.none}`}>No file could be read.</p>
              )}
            </section>
          </div>
        )}
      </Stage>
      <BottomBar label="Download zip">
        <strong>Convert</strong>
        <span className="caption" role="status">
          {sources.length === 0
            ? 'no files yet'
            : chosen.length === 0
              ? `${count(sources.length, 'file')} · tick at least one format`
              : `${count(sources.length, 'file')} to ${chosen.map((c) => factsById(c.format).name).join(', ')} · ${count(total, 'file')}${total > 1 ? ' in one zip' : ''}`}
        </span>
        <Button
          variant="contained"
          sx={{ ml: 'auto' }}
          disabled={sources.length === 0 || chosen.length === 0 || !!job}
          onClick={() => void convert()}
        >
          {total > 1 ? 'Download zip' : 'Download file'}
        </Button>
      </BottomBar>
      {job && <Progress {...job} onStop={stop} />}
    </>
  );
}

const sourceOf = (came: Came): Source[] =>
  came.kind === 'swatches' ? [{ key: nanoid(8), path: came.path, read: came.read }] : [];

function remark(came: Came): Remark[] {
  if (came.kind === 'swatches') return [];
  const { path } = came;
  const message =
    came.kind === 'picture'
      ? `${path}: a picture; Gather takes a palette from it.`
      : came.kind === 'drawing'
        ? `${path}: artwork of the kit; open the kit to keep it.`
        : came.kind === 'skipped'
          ? `${path}: ${came.message}`
          : came.message;
  const sound = came.kind === 'problem' ? came.sound : undefined;
  return [{ key: nanoid(8), path, message, problem: came.kind === 'problem', ...(sound ? { sound } : {}) }];
}
