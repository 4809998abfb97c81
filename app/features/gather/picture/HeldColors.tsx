import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { type FormEvent, memo, useState } from 'react';
import {
  type Color,
  type Condition,
  convert,
  NotationError,
  parseColor,
  screenOnly,
  toHex,
} from '#core/color/index';
import type { Held } from '#core/picture/index';
import { isLoose, type Library } from '#core/swatch/index';
import { useStore } from '~/state/store';
import { useWorkspace, type Workspace } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Field } from '~/ui/field';
import { PlainButton } from '~/ui/plain-button';
import { Setting } from '~/ui/setting';
import css from './HeldColors.module.css';
import type { TakeState } from './use-take';

const COMMON: Held[] = [
  { name: 'paper', color: { space: 'rgb', components: [1, 1, 1] } },
  { name: 'ink', color: { space: 'rgb', components: [0, 0, 0] } },
];

const same = (a: Color, b: Color) => toHex(a, screenOnly) === toHex(b, screenOnly);

/** Colours that stay in the palette whatever else is found. */
export const HeldColors = memo(function HeldColors({ held, set }: { held: Held[]; set: TakeState['set'] }) {
  const onChange = (next: Held[]) => set({ held: next });
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const workspace = useWorkspace();
  const add = (one: Held) => held.some((h) => same(h.color, one.color)) || onChange([...held, one]);
  return (
    <Setting label="Hold in the palette">
      <div className={css.held}>
        {held.map((h) => (
          <PlainButton
            key={toHex(h.color, screenOnly)}
            className={css.chip}
            style={{ background: toHex(h.color, screenOnly) }}
            aria-label={`Release ${h.name}`}
            title={`${h.name} · click to release`}
            onClick={() => onChange(held.filter((other) => other !== h))}
          />
        ))}
        {COMMON.filter((c) => !held.some((h) => same(h.color, c.color))).map((c) => (
          <PlainButton look="tab" key={c.name} onClick={() => add(c)}>
            {c.name}
          </PlainButton>
        ))}
        <PlainButton look="tab" aria-haspopup="dialog" onClick={(e) => setAnchor(e.currentTarget)}>
          add…
        </PlainButton>
      </div>
      <Popover
        anchorEl={anchor}
        open={!!anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <div className={css.panel} role="dialog" aria-label="Hold a colour">
          <Typed onAdd={add} />
          {workspace && <FromLibrary workspace={workspace} onAdd={add} />}
        </div>
      </Popover>
    </Setting>
  );
});

/** A picture is made of screen colours: inks are held as they are shown. */
const asShown = (color: Color, condition: Condition) =>
  condition.isDevice(color) ? convert(color, 'rgb', condition) : color;

function Typed({ onAdd }: { onAdd(held: Held): void }) {
  const condition = useCondition();
  const [text, setText] = useState('');
  const [problem, setProblem] = useState('');
  const add = (event: FormEvent) => {
    event.preventDefault();
    try {
      const color = asShown(parseColor(text), condition);
      onAdd({ name: toHex(color, screenOnly).toUpperCase(), color });
      setText('');
      setProblem('');
    } catch (error) {
      if (!(error instanceof NotationError)) throw error;
      setProblem(error.message);
    }
  };
  return (
    <form onSubmit={add}>
      <div className={css.typed}>
        <Field
          className="mono"
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
        <p role="alert" className={`caption ${css.problem}`}>
          {problem}
        </p>
      )}
    </form>
  );
}

function FromLibrary({ workspace, onAdd }: { workspace: Workspace; onAdd(held: Held): void }) {
  const condition = useCondition();
  const { library }: { library: Library } = useStore(workspace.store);
  return library.groups
    .filter((g) => g.swatches.length > 0)
    .map((group) => (
      <div key={group.id}>
        <p className={`caption ${css.group}`}>{isLoose(library, group) ? 'No group' : group.name}</p>
        <div className={css.grid}>
          {group.swatches.slice(0, 120).map((s) => (
            <PlainButton
              key={s.id}
              style={{ background: toHex(s.color, condition) }}
              title={s.name}
              aria-label={`Hold ${s.name || toHex(s.color, condition)}`}
              onClick={() =>
                onAdd({
                  name: s.name || toHex(s.color, condition).toUpperCase(),
                  color: asShown(s.color, condition),
                })
              }
            />
          ))}
        </div>
      </div>
    ));
}
