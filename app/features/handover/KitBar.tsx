import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import { useRevalidator } from 'react-router';
import type { KitChoices } from '#core/formats/plan';
import type { Preset, TakenKit } from '#server/kits';
import type { PresetChange } from '~/api/bodies';
import { call } from '~/api/call';
import { changePreset, keepKit } from '~/api/kits';
import type { LibraryStore } from '~/state/library-store';
import { useStore } from '~/state/store';
import { download } from '~/ui/download';
import { BottomBar } from '~/ui/Frame';
import { Field } from '~/ui/field';
import { PlainButton } from '~/ui/plain-button';
import { Progress } from '~/ui/progress';
import { count } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import { useJob } from '~/ui/use-job';
import { when } from '~/ui/when';
import { openFilesClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
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
  const worker = useClient(openFilesClient);
  const { job, start, stop } = useJob(worker.stop);
  const { revalidate } = useRevalidator();
  const toast = useToast();
  const [last] = kits;

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
        if (!kept.ok) toast({ text: `Kit downloaded, but not added to the history. ${kept.why}` });
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
  const nothing = choices.destinations.length === 0 && !choices.artwork;
  return (
    <BottomBar label="Download kit">
      <strong>Kit</strong>
      <span className="caption" role="status">
        {nothing
          ? 'Choose at least one destination.'
          : `${count(choices.destinations.length, 'destination')} · ${count(files, 'file')}${choices.artwork ? ' and the artwork' : ''} · with notes and a page of chips`}
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
      <span className={`caption ${css.last}`} suppressHydrationWarning>
        {last &&
          `handed over ${when(last.at, new Date())} at revision ${last.revision}${revision > last.revision || waiting ? ', changed since' : ', unchanged since'}`}
      </span>
      {last && !sameAsLast && (
        <Button
          disabled={!!job || empty}
          title="The same choices as last time, with the library as it is now"
          onClick={() => {
            void take(again(last.choices));
          }}
        >
          Download the last kit again
        </Button>
      )}
      <Button variant="contained" disabled={empty || nothing || !!job} onClick={() => void take(choices)}>
        {sameAsLast ? 'Download again' : 'Download kit'}
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
