import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { tuningWords } from '#core/tune/index';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useCondition } from '~/ui/condition';
import { PlainButton } from '~/ui/plain-button';
import { RenameField } from '~/ui/rename-field';
import { useToast } from '~/ui/toast';
import css from './Tune.module.css';
import type { TuneState } from './use-tune';

/** Tunings that were given names, to be repeated on others; and the one that was saved last. */
export function NamedTunings({ state }: { state: TuneState }) {
  const { tunings } = useStores();
  const { named, last } = useStore(tunings);
  const condition = useCondition();
  const toast = useToast();
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const [naming, setNaming] = useState(false);
  const { values: _, ...repeatable } = state.tuning;
  const canKeep = tuningWords(repeatable, condition) !== '';
  return (
    <>
      <div className={css.named}>
        <PlainButton look="link" disabled={state.words === ''} onClick={state.startOver}>
          Start over
        </PlainButton>
        <PlainButton
          look="link"
          aria-haspopup="menu"
          disabled={named.length === 0 && !last && !canKeep}
          onClick={(e) => setMenu(e.currentTarget)}
        >
          Tunings…
        </PlainButton>
      </div>
      <Menu anchorEl={menu} open={!!menu} onClose={() => setMenu(null)}>
        {last && (
          <MenuItem
            onClick={() => {
              setMenu(null);
              state.replace(last);
            }}
          >
            the last one: {tuningWords(last, condition)}
          </MenuItem>
        )}
        {named.map(({ name, tuning }) => (
          <MenuItem
            key={name}
            dir="auto"
            onClick={() => {
              setMenu(null);
              state.replace(tuning);
            }}
          >
            {name}: {tuningWords(tuning, condition)}
          </MenuItem>
        ))}
        <MenuItem
          disabled={!canKeep}
          onClick={() => {
            setMenu(null);
            // once the menu has given the focus back
            setTimeout(() => setNaming(true));
          }}
        >
          keep this one by a name…
        </MenuItem>
        {named.map(({ name }) => (
          <MenuItem
            key={`forget ${name}`}
            dir="auto"
            onClick={() => {
              setMenu(null);
              const back = tunings.forget(name);
              toast({ text: `“${name}” is forgotten.`, action: { label: 'Undo', run: back } });
            }}
          >
            forget {name}
          </MenuItem>
        ))}
      </Menu>
      {naming && (
        <RenameField
          label="Name of the tuning"
          name=""
          onRename={(name) => {
            if (name.trim()) tunings.keep(name.trim().slice(0, 200), state.tuning);
          }}
          onDone={() => setNaming(false)}
        />
      )}
    </>
  );
}
