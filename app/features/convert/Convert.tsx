import Button from '@mui/material/Button';
import { X } from 'lucide-react';
import { useCallback, useMemo, useRef, useState } from 'react';
import { type FileChoice, formatById, partsOf, perGroup, writable } from '#core/formats/index';
import { allSwatches, countSwatches, type Library } from '#core/swatch/index';
import { Notice } from '~/ui/notice';
import { Progress } from '~/ui/progress';
import { count, Strip, stripColors } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import type { Came, ReadLibrary } from '~/workers/files-messages';
import { useFiles } from '~/workers/use-files';
import { StoppedError } from '~/workers/worker-client';
import { Changes } from '../handover/Changes';
import { download } from '../handover/download';
import { FormatOptions } from '../handover/FormatOptions';
import { useChanges } from '../handover/use-changes';
import { useFileTaker, useOpenFiles } from '../open/OpenFiles';

interface Source {
  key: number;
  path: string;
  read: ReadLibrary;
}

/** What did not become a source, and why; of a damaged file the sound part can be taken if the user says so. */
interface Remark {
  key: number;
  path: string;
  message: string;
  problem: boolean;
  sound?: ReadLibrary;
}

let nextKey = 0;

/** Convert: this into that, without keeping anything. */
export function Convert() {
  const [sources, setSources] = useState<Source[]>([]);
  const [rest, setRest] = useState<Remark[]>([]);
  const [chosen, setChosen] = useState<FileChoice[]>([]);
  const [sourceKey, setSourceKey] = useState<number | null>(null);
  const [formatId, setFormatId] = useState('ase');
  const [drafts, setDrafts] = useState<Record<string, FileChoice>>({});
  const [stage, setStage] = useState<{ title: string; text: string } | null>(null);
  const run = useRef(0);
  const files = useFiles();
  const openFiles = useOpenFiles();
  const toast = useToast();

  const take = useCallback(
    async (given: { file: File; path: string }[]) => {
      const mine = ++run.current;
      const title = 'Reading the files';
      setStage({ title, text: '' });
      try {
        const came = await files.ask('read', { files: given, text: false }, (text) =>
          setStage({ title, text }),
        );
        if (mine !== run.current) return;
        const read = came.flatMap((c): Source[] => sourceOf(c));
        setSources((before) => [...before, ...read]);
        setRest((before) => [...before, ...came.flatMap(remark)]);
        setSourceKey((was) => was ?? read[0]?.key ?? null);
      } catch (error) {
        if (!(error instanceof StoppedError)) toast({ text: (error as Error).message });
      }
      setStage(null);
    },
    [files, toast],
  );
  useFileTaker(take);

  const source = sources.find((s) => s.key === sourceKey) ?? sources[0] ?? null;
  const format = formatById(formatId);
  const inZip = chosen.find((c) => c.format === formatId);
  const choice = inZip ?? drafts[formatId] ?? { format: formatId };
  const { report, current, problem } = useChanges(source?.read.library ?? null, choice);
  const total = useMemo(
    () =>
      sources.reduce(
        (n, s) =>
          n +
          chosen.reduce((m, c) => m + partsOf(s.read.library, formatById(c.format), c.perGroup).length, 0),
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
  const remove = (key: number) => setSources(sources.filter((s) => s.key !== key));

  const convert = async () => {
    const mine = ++run.current;
    const title = 'Converting';
    setStage({ title, text: '' });
    try {
      const done = await files.ask(
        'convert',
        { libraries: sources.map((s): Library => s.read.library), formats: chosen },
        (text) => setStage({ title, text }),
      );
      if (mine !== run.current) return;
      download(done.name, done.bytes, done.mime);
    } catch (error) {
      if (!(error instanceof StoppedError)) toast({ text: (error as Error).message });
    }
    setStage(null);
  };
  const stop = () => {
    run.current++;
    files.stop();
    setStage(null);
  };

  const nothing = sources.length === 0 && rest.length === 0;
  return (
    <>
      <main className="stage">
        <div className="page-head">
          <h1>Convert files</h1>
          <span className="caption">Nothing is kept, and the files stay on this machine.</span>
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
          <div className="empty-page">
            <p className="empty-title">Drop the files to convert</p>
            <p className="second" style={{ margin: '8px 0 18px' }}>
              Swatch files, drawings, folders and zips, any number at once. Then tick what they should become,
              see what changes on the way, and take one zip.
            </p>
            <Button variant="contained" onClick={openFiles}>
              Choose files
            </Button>
          </div>
        ) : (
          <div className="convert-columns">
            <section aria-label="Files" className="convert-files">
              <h2 className="caption">{count(sources.length, 'file')}</h2>
              {sources.map((s) => (
                <div key={s.key} className="convert-file" data-chosen={s.key === source?.key}>
                  <button
                    type="button"
                    aria-current={s.key === source?.key}
                    onClick={() => setSourceKey(s.key)}
                  >
                    <strong className="cut" title={s.path}>
                      {s.path}
                    </strong>
                    <span className="caption cut">
                      {formatById(s.read.format).name} ·{' '}
                      {count(countSwatches(s.read.library), 'swatch', 'swatches')}
                    </span>
                    <Strip colors={stripColors(allSwatches(s.read.library))} />
                  </button>
                  <button
                    type="button"
                    className="icon-button"
                    aria-label={`Leave out ${s.path}`}
                    title="Leave it out"
                    onClick={() => remove(s.key)}
                  >
                    <X size={14} />
                  </button>
                </div>
              ))}
              {rest.map((r) =>
                r.problem ? (
                  <Notice key={r.key}>
                    {r.message}
                    {r.sound && (
                      <button type="button" className="link" onClick={() => takeSound(r)}>
                        Convert the {count(countSwatches(r.sound.library), 'sound swatch', 'sound swatches')}{' '}
                        before the damage
                      </button>
                    )}
                  </Notice>
                ) : (
                  <p key={r.key} className="caption" style={{ margin: '6px 20px', overflowWrap: 'anywhere' }}>
                    {r.message}
                  </p>
                ),
              )}
            </section>
            <section aria-label="Formats" className="convert-formats">
              <h2 className="caption">What should they become?</h2>
              {writable.map((f) => (
                <div key={f.id} className="destination" data-chosen={f.id === formatId}>
                  <input
                    type="checkbox"
                    className="tick"
                    aria-label={f.name}
                    checked={chosen.some((c) => c.format === f.id)}
                    onChange={(e) => toggle(f.id, e.target.checked)}
                  />
                  <button
                    type="button"
                    aria-current={f.id === formatId}
                    title={f.about}
                    onClick={() => setFormatId(f.id)}
                  >
                    <span>{f.name}</span>
                    <span className="caption">.{f.endings[0]}</span>
                  </button>
                </div>
              ))}
            </section>
            <section aria-label="What changes on the way" className="stage">
              <div className="format-line">
                <strong>{format.name}</strong>
                <FormatOptions
                  format={format}
                  choice={choice}
                  onChange={setChoice}
                  groups={source ? perGroup(source.read.library).length : 1}
                />
                <span className="caption cut" style={{ marginLeft: 'auto' }} title={format.about}>
                  {format.about}
                </span>
              </div>
              {problem ? (
                <div style={{ margin: '20px 24px' }}>
                  <Notice>{problem}</Notice>
                </div>
              ) : source && report ? (
                <div className="report" data-stale={!current}>
                  <Changes report={report} />
                </div>
              ) : (
                <p className="second" style={{ margin: 'auto' }}>
                  {source ? '' : 'No file could be read.'}
                </p>
              )}
            </section>
          </div>
        )}
      </main>
      <section className="tray bar" aria-label="Take the zip">
        <strong>Convert</strong>
        <span className="caption" role="status">
          {sources.length === 0
            ? 'no files yet'
            : chosen.length === 0
              ? `${count(sources.length, 'file')} · tick at least one format`
              : `${count(sources.length, 'file')} to ${chosen.map((c) => formatById(c.format).name).join(', ')} · ${count(total, 'file')}${total > 1 ? ' in one zip' : ''}`}
        </span>
        <Button
          variant="contained"
          sx={{ ml: 'auto' }}
          disabled={sources.length === 0 || chosen.length === 0 || stage !== null}
          onClick={() => void convert()}
        >
          {total > 1 ? 'Take the zip' : 'Take the file'}
        </Button>
      </section>
      {stage && <Progress title={stage.title} stage={stage.text} onStop={stop} />}
    </>
  );
}

const sourceOf = (came: Came): Source[] =>
  came.kind === 'swatches' ? [{ key: nextKey++, path: came.path, read: came.read }] : [];

function remark(came: Came): Remark[] {
  if (came.kind === 'swatches') return [];
  const { path } = came;
  const message =
    came.kind === 'picture'
      ? `${path}: a picture; Gather takes a palette from it.`
      : came.kind === 'skipped'
        ? `${path}: ${came.message}`
        : came.message;
  const sound = came.kind === 'problem' ? came.sound : undefined;
  return [{ key: nextKey++, path, message, problem: came.kind === 'problem', sound }];
}
