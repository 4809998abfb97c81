import { useRef } from 'react';
import { Field } from './field';

/** A field in place of a name: Enter and leaving it take what was typed, Escape keeps the name as it was. */
export function RenameField({
  label,
  name,
  onRename,
  onDone,
  ...rest
}: {
  label: string;
  name: string;
  /** Called only when the name is another. */
  onRename(name: string): void;
  onDone(): void;
  className?: string;
  onPointerDown?(event: React.PointerEvent): void;
  onClick?(event: React.MouseEvent): void;
}) {
  const left = useRef(false);
  return (
    <Field
      {...rest}
      dir="auto"
      aria-label={label}
      defaultValue={name}
      // the user has just asked to type here
      autoFocus
      onFocus={(e) => e.target.select()}
      onBlur={(e) => {
        if (left.current) return;
        if (e.target.value !== name) onRename(e.target.value);
        onDone();
      }}
      onKeyDown={(e) => {
        if (e.key === 'Enter') e.currentTarget.blur();
        if (e.key !== 'Escape') return;
        // a field that goes is left, too, which must not take what was typed
        left.current = true;
        onDone();
      }}
    />
  );
}
