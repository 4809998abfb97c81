import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Popover from '@mui/material/Popover';
import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import { useRevalidator } from 'react-router';
import type { KitChoices } from '#core/formats/plan';
import type { Preset, TakenKit } from '#server/kits';
import type { PresetChange } from '~/api/bodies';
import { call } from '~/api/call';
import { changePreset, keepKit } from '~/api/kits';
import { readHistory } from '~/api/libraries';
import type { LibraryStore } from '~/state/library-store';
import { useStore } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { download } from '~/ui/download';
import { BottomBar } from '~/ui/Frame';
import { Field } from '~/ui/field';
import { PlainButton } from '~/ui/plain-button';
import { Progress } from '~/ui/progress';
import { ariaKeys, useShortcut } from '~/ui/shortcuts';
import { count } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import { useAsked } from '~/ui/use-asked';
import { useJob } from '~/ui/use-job';
import { when } from '~/ui/when';
import { openFilesClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import { FolderLine } from './FolderLine';
import css from './KitBar.module.css';

/** The bottom bar: what the kit holds, what was taken before, and the one button that makes it. */
export function KitBar({
  store,
  kits,
  presets,
  choices,
  files,
  empty,
  apply,
  again,
}: {
  store: LibraryStore;
  kits: TakenKit[];
  presets: Preset[];
  choices: KitChoices;
  files: number;
  empty: boolean;
  apply(destinations: KitChoices['destinations']): void;
  /** Shows earlier choices again, without what is gone since, and returns them. */
  again(choices: KitChoices): KitChoices;
}) {
  const { library, revision, waiting } = useStore(store);
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const [naming, setNaming] = useState(false);
  const { setKit } = useLibrary();
  const worker = useClient(openFilesClient);
  const { job, start, stop } = useJob(worker.stop);
  const { revalidate } = useRevalidator();
  const toast = useToast();
  const [last] = kits;
  const isStale = !!last && (revision > last.revision || waiting > 0);
  const [changed, setChanged] = useState<HTMLElement | null>(null);

  const take = async (wanted: KitChoices) => {
    if (job) return;
    await start(
      'Making the kit',
      async ({ stage, isWanted }) => {
        stage('Waiting for the last edit to be saved');
        // the kit is remembered with the revision it holds, so what is not saved yet has to be first
        await store.saved();
        if (!isWanted()) return;
        const { library: now, revision: at } = store.snapshot();
        const takenAt = new Date().toISOString();
        const kit = await worker.ask('kit', { library: now, choices: wanted, revision: at, takenAt }, stage);
        download(kit.name, kit.bytes, 'application/zip');
        const kept = await call(keepKit, {
          params: { id: library.id },
          body: { revision: at, choices: wanted },
        });
        if (kept.ok) setKit({ revision: at, at: new Date(takenAt) });
        else toast({ text: `Kit downloaded, but not added to the history. ${kept.why}` });
        await revalidate();
      },
      (why) => `The kit could not be made. ${why}`,
    );
  };
  const ofPreset = async (body: PresetChange, done?: () => void) => {
    const came = await call(changePreset, { body });
    if (!came.ok) toast({ text: came.why });
    else done?.();
    await revalidate();
  };
  const forget = (preset: Preset) =>
    void ofPreset({ forget: preset.name }, () =>
      toast({
        text: `Preset ${preset.name} deleted.`,
        action: { label: 'Undo', run: () => void ofPreset({ keep: preset }) },
      }),
    );

  const sameAsLast = last && JSON.stringify(last.choices) === JSON.stringify(choices);
  const nothing = choices.destinations.length === 0 && !choices.artwork && !choices.boards;
  const cannot = empty || nothing || !!job;
  useShortcut('takeKit', () => {
    if (cannot) return false;
    void take(choices);
    return true;
  });
  return (
    <BottomBar label="Download kit">
      <strong>Kit</strong>
      <span className="caption" role="status">
        {nothing
          ? 'Choose at least one destination.'
          : `${count(choices.destinations.length, 'destination')} · ${count(files, 'file')}${alsoIn(choices)} · with notes and a page of chips`}
      </span>
      <PlainButton
        look="tab"
        aria-haspopup="menu"
        className={css.presets}
        onClick={(e) => setMenu(e.currentTarget)}
      >
        Presets <ChevronDown size={13} aria-hidden />
      </PlainButton>
      <Menu anchorEl={menu} open={!!menu} onClose={() => setMenu(null)}>
        {presets.map((p) => (
          <MenuItem
            key={p.name}
            onClick={() => {
              setMenu(null);
              apply(p.destinations);
            }}
          >
            <span className={`cut ${css.preset}`}>{p.name}</span>
          </MenuItem>
        ))}
        {presets.map((p) => (
          <MenuItem
            key={`forget ${p.name}`}
            className="second"
            onClick={() => {
              setMenu(null);
              forget(p);
            }}
          >
            Delete {p.name}
          </MenuItem>
        ))}
        <MenuItem
          disabled={choices.destinations.length === 0}
          onClick={() => {
            setMenu(null);
            setNaming(true);
          }}
        >
          Keep these destinations as a preset…
        </MenuItem>
      </Menu>
      <FolderLine store={store} choices={choices} disabled={empty || nothing} />
      <span className={`caption ${css.last}`} suppressHydrationWarning>
        {last &&
          `handed over ${when(last.at, new Date())} at revision ${last.revision}${isStale ? ', changed since' : ', unchanged since'}`}
      </span>
      {last && revision > last.revision && (
        <PlainButton look="link" aria-haspopup="dialog" onClick={(e) => setChanged(e.currentTarget)}>
          What changed
        </PlainButton>
      )}
      <Popover
        open={!!changed}
        anchorEl={changed}
        onClose={() => setChanged(null)}
        anchorOrigin={{ vertical: 'top', horizontal: 'left' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        {last && <Changed library={library.id} since={last.revision} now={revision} />}
      </Popover>
      {last && !sameAsLast && (
        <Button
          disabled={!!job || empty}
          title="The same choices as last time, with the library as it is now"
          onClick={() => {
            void take(again(last.choices));
          }}
        >
          {isStale ? 'Update the last kit' : 'Download the last kit again'}
        </Button>
      )}
      <Button
        variant="contained"
        disabled={cannot}
        title="Ctrl or Cmd + Enter"
        aria-keyshortcuts={ariaKeys('takeKit')}
        onClick={() => void take(choices)}
      >
        {!sameAsLast ? 'Download kit' : isStale ? 'Update kit' : 'Download again'}
      </Button>
      {job && <Progress {...job} onStop={stop} />}
      {naming && (
        <PresetName
          taken={presets.map((p) => p.name)}
          onClose={() => setNaming(false)}
          onKeep={(name) => {
            setNaming(false);
            void ofPreset({ keep: { name, destinations: choices.destinations } }, () =>
              toast({ text: `Kept as the preset ${name}.` }),
            );
          }}
        />
      )}
    </BottomBar>
  );
}

function PresetName({
  taken,
  onClose,
  onKeep,
}: {
  taken: string[];
  onClose(): void;
  onKeep(name: string): void;
}) {
  const [name, setName] = useState('');
  const replaces = taken.includes(name.trim());
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (name.trim()) onKeep(name.trim());
        }}
      >
        <DialogTitle>Keep as a preset</DialogTitle>
        <DialogContent>
          <p className={`second ${css.note}`}>Destinations, formats and their options, for any library.</p>
          <Field
            autoFocus
            value={name}
            onChange={(e) => setName(e.target.value)}
            aria-label="Name of the preset"
            maxLength={200}
          />
          {replaces && <p role="alert">This replaces the preset of the same name.</p>}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={name.trim() === ''}>
            {replaces ? 'Replace' : 'Keep'}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}

/** What was done to a library since a kit of it was taken, the latest first. */
function Changed({ library, since, now }: { library: string; since: number; now: number }) {
  const { value, problem } = useAsked(async () => {
    const came = await call(readHistory, { params: { id: library } });
    if (!came.ok) throw new Error(came.why);
    return came.value.entries.filter((e) => e.seq > since && !e.undone && e.step !== 'undo');
  }, [library, since, now]);
  const more = now - since - (value?.length ?? 0);
  return (
    <div className={css.changed} role="dialog" aria-label="What changed since the kit">
      {problem && <p role="alert">{problem}</p>}
      {!value && !problem && <p className="second">Reading the history…</p>}
      {value && (
        <ul>
          {value.map((e) => (
            <li key={e.seq}>{e.label}</li>
          ))}
          {more > 0 && (
            <li className="second">{count(more, 'more step', 'more steps')}, taken back or earlier</li>
          )}
        </ul>
      )}
    </div>
  );
}

/** What goes along beside the files of swatches. */
function alsoIn({ artwork, boards }: KitChoices): string {
  const also = [...(artwork ? ['the artwork'] : []), ...(boards ? ['the boards'] : [])];
  return also.length > 0 ? ` and ${also.join(' and ')}` : '';
}
