import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { type FormEvent, memo, useState } from 'react';
import { type Color, NotationError, parseColor, toHex } from '#core/color/index';
import type { Held } from '#core/picture/index';
import { isLoose, type Library } from '#core/swatch/index';
import { useStore } from '~/state/store';
import { useWorkspace, type Workspace } from '~/state/workspace';
import { Setting } from '~/ui/setting';
import type { TakeState } from './use-take';

const COMMON: Held[] = [
  { name: 'paper', color: { space: 'rgb', components: [1, 1, 1] } },
  { name: 'ink', color: { space: 'rgb', components: [0, 0, 0] } },
];

const same = (a: Color, b: Color) => toHex(a) === toHex(b);

/** Colours that stay in the palette whatever else is found. */
export const HeldColors = memo(function HeldColors({ held, set }: { held: Held[]; set: TakeState['set'] }) {
  const onChange = (next: Held[]) => set({ held: next });
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const workspace = useWorkspace();
  const add = (one: Held) => held.some((h) => same(h.color, one.color)) || onChange([...held, one]);
  return (
    <Setting label="Hold in the palette">
      <div className="held">
        {held.map((h) => (
          <button
            key={toHex(h.color)}
            type="button"
            className="held-chip"
            style={{ background: toHex(h.color) }}
            aria-label={`Let go of ${h.name}`}
            title={`${h.name} · click to let go`}
            onClick={() => onChange(held.filter((other) => other !== h))}
          />
        ))}
        {COMMON.filter((c) => !held.some((h) => same(h.color, c.color))).map((c) => (
          <button key={c.name} type="button" className="tab" onClick={() => add(c)}>
            {c.name}
          </button>
        ))}
        <button
          type="button"
          className="tab"
          aria-haspopup="dialog"
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          add…
        </button>
      </div>
      <Popover
        anchorEl={anchor}
        open={!!anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <div className="hold-panel" role="dialog" aria-label="Hold a colour">
          <Typed onAdd={add} />
          {workspace && <FromLibrary workspace={workspace} onAdd={add} />}
        </div>
      </Popover>
    </Setting>
  );
});

function Typed({ onAdd }: { onAdd(held: Held): void }) {
  const [text, setText] = useState('');
  const [problem, setProblem] = useState('');
  const add = (event: FormEvent) => {
    event.preventDefault();
    try {
      const color = parseColor(text);
      onAdd({ name: toHex(color).toUpperCase(), color });
      setText('');
      setProblem('');
    } catch (error) {
      if (!(error instanceof NotationError)) throw error;
      setProblem(error.message);
    }
  };
  return (
    <form onSubmit={add}>
      <div style={{ display: 'flex', gap: 6 }}>
        <input
          className="plain-input mono"
          aria-label="A colour code to hold"
          placeholder="code, such as #2f7d6b"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <Button type="submit" disabled={!text.trim()}>
          Hold
        </Button>
      </div>
      {problem && (
        <p role="alert" className="caption" style={{ margin: '4px 0 0' }}>
          {problem}
        </p>
      )}
    </form>
  );
}

function FromLibrary({ workspace, onAdd }: { workspace: Workspace; onAdd(held: Held): void }) {
  const { library }: { library: Library } = useStore(workspace.store);
  return library.groups
    .filter((g) => g.swatches.length > 0)
    .map((group) => (
      <div key={group.id}>
        <p className="caption" style={{ margin: '10px 0 4px' }}>
          {isLoose(library, group) ? 'No group' : group.name}
        </p>
        <div className="hold-grid">
          {group.swatches.slice(0, 120).map((s) => (
            <button
              key={s.id}
              type="button"
              style={{ background: toHex(s.color) }}
              title={s.name}
              aria-label={`Hold ${s.name || toHex(s.color)}`}
              onClick={() => onAdd({ name: s.name || toHex(s.color).toUpperCase(), color: s.color })}
            />
          ))}
        </div>
      </div>
    ));
}
