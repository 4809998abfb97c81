import { X } from 'lucide-react';
import { useState } from 'react';
import { PlainButton } from './plain-button';
import { RenameField } from './rename-field';
import { isPressed } from './shortcuts';
import { sideBySide } from './swatch';
import css from './take-row.module.css';

/** One of several takes: its name, what is reported of it, and its colours; chosen, renamed and taken away where it stands. */
export function TakeRow({
  name,
  colors,
  areas,
  says,
  current,
  onChoose,
  onRename,
  onDrop,
}: {
  name: string;
  colors: string[];
  areas?: readonly number[];
  says?: string;
  current: boolean;
  onChoose(): void;
  onRename(name: string): void;
  /** Not given for the last one, which stays. */
  onDrop?: (() => void) | undefined;
}) {
  const [renaming, setRenaming] = useState(false);
  return (
    <div className={css.take} data-current={current}>
      <div className={css.head}>
        {renaming ? (
          <RenameField
            label="Name of the take"
            name={name}
            onRename={(typed) => onRename(typed.trim().slice(0, 200))}
            onDone={() => setRenaming(false)}
          />
        ) : (
          <PlainButton
            className={`${css.name} cut`}
            title="Double-click or F2 to rename; Delete removes it"
            aria-pressed={current}
            data-work={current || undefined}
            onClick={onChoose}
            onDoubleClick={() => setRenaming(true)}
            onKeyDown={(e) => {
              if (isPressed('renameTake', e)) setRenaming(true);
              if (e.key === 'Delete') onDrop?.();
            }}
          >
            {name}
          </PlainButton>
        )}
        {says !== undefined && <span className="caption mono">{says}</span>}
        {onDrop && (
          <PlainButton
            look="icon"
            className={css.drop}
            // Delete on the take does the same
            tabIndex={-1}
            aria-label={`Delete the take ${name}`}
            onClick={onDrop}
          >
            <X size={13} />
          </PlainButton>
        )}
      </div>
      <PlainButton className={css.strip} tabIndex={-1} aria-hidden onClick={onChoose}>
        <i style={{ background: sideBySide(colors, areas) }} />
      </PlainButton>
    </div>
  );
}
