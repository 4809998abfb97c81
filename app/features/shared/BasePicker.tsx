import Button from '@mui/material/Button';
import { useState } from 'react';
import { type Color, toHex, typedColor } from '#core/color/index';
import { allSwatches, countSwatches, type Library, type Swatch } from '#core/swatch/index';
import { useLibraryState, useTray } from '~/state/stores';
import { useWorkspace } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Field } from '~/ui/field';
import { Notice } from '~/ui/notice';
import { useOneStop } from '~/ui/one-stop';
import { PlainButton } from '~/ui/plain-button';
import { count, groupLabel, swatchLabel } from '~/ui/swatch';
import css from './BasePicker.module.css';

export interface Picked {
  color: Color;
  name?: string;
  /** Where it was one. */
  swatch?: Swatch;
}

/** More than this many chips help nobody to find one. */
const MAX_SHOWN = 400;

/** A colour from the tray, from the library, or typed. */
export function BasePicker({ onPick }: { onPick(picked: Picked): void }) {
  const condition = useCondition();
  const [text, setText] = useState('');
  const [problem, setProblem] = useState('');
  const workspace = useWorkspace();
  const tray = useLibraryState(useTray());
  return (
    <div className={css.picker}>
      <form
        className={css.typed}
        onSubmit={(e) => {
          e.preventDefault();
          const color = typedColor(text);
          if (color) onPick({ color });
          else
            setProblem(
              `“${text.slice(0, 40)}” is not a colour. Type one as #B3262B, rgb 179 38 43, cmyk 20 95 85 10 or lab 40 57 33.`,
            );
        }}
      >
        <Field
          data-work
          aria-label="Colour"
          placeholder="type a colour, such as #B3262B"
          value={text}
          onChange={(e) => {
            setText(e.target.value);
            setProblem('');
          }}
        />
        <Button type="submit" disabled={text.trim() === ''}>
          Take it
        </Button>
      </form>
      {problem && <Notice>{problem}</Notice>}
      {allSwatches(tray.library).length > 0 && (
        <Chips title="Tray" library={tray.library} condition={condition} onPick={onPick} />
      )}
      {workspace && <OfLibrary store={workspace.store} condition={condition} onPick={onPick} />}
    </div>
  );
}

type Condition = ReturnType<typeof useCondition>;

function OfLibrary({
  store,
  condition,
  onPick,
}: {
  store: NonNullable<ReturnType<typeof useWorkspace>>['store'];
  condition: Condition;
  onPick(picked: Picked): void;
}) {
  const { library } = useLibraryState(store);
  return <Chips library={library} condition={condition} onPick={onPick} />;
}

function Chips({
  title,
  library,
  condition,
  onPick,
}: {
  title?: string;
  library: Library;
  condition: Condition;
  onPick(picked: Picked): void;
}) {
  const stop = useOneStop<HTMLDivElement>();
  let left = MAX_SHOWN;
  const unseen = countSwatches(library) - MAX_SHOWN;
  return (
    <div {...stop} className={css.groups} data-no-act>
      {library.groups.map((group, i) => {
        const some = group.swatches.slice(0, Math.max(0, left));
        left -= some.length;
        if (some.length === 0) return null;
        return (
          <fieldset key={group.id} aria-label={title ?? groupLabel(library, i)}>
            <p className="caption cut" dir="auto">
              {title ?? groupLabel(library, i)}
            </p>
            <div className={css.chips}>
              {some.map((s) => (
                <PlainButton
                  key={s.id}
                  style={{ background: toHex(s.color, condition) }}
                  aria-label={swatchLabel(s, condition)}
                  title={swatchLabel(s, condition)}
                  onClick={() => onPick({ color: s.color, name: s.name, swatch: s })}
                />
              ))}
            </div>
          </fieldset>
        );
      })}
      {unseen > 0 && (
        <p className="caption">
          {count(unseen, 'more swatch', 'more swatches')} not shown; choose them in Arrange and come back.
        </p>
      )}
    </div>
  );
}
