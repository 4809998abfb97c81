/** A field in place of a name: Enter and leaving it take what was typed, Escape keeps the name as it was. */
export function RenameField({
  label,
  name,
  onRename,
  onDone,
}: {
  label: string;
  name: string;
  /** Called only when the name is another. */
  onRename(name: string): void;
  onDone(): void;
}) {
  return (
    <input
      className="plain-input"
      aria-label={label}
      defaultValue={name}
      // biome-ignore lint/a11y/noAutofocus: the user has just asked to type here
      autoFocus
      onFocus={(e) => e.target.select()}
      onBlur={(e) => {
        if (e.target.value !== name) onRename(e.target.value);
        onDone();
      }}
      onKeyDown={(e) => {
        if (e.key === 'Enter') e.currentTarget.blur();
        if (e.key === 'Escape') onDone();
      }}
    />
  );
}
