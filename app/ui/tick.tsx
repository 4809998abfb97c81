/** A box to tick with its words behind it. */
export function Tick({
  checked,
  onChange,
  label,
}: {
  checked: boolean;
  onChange(on: boolean): void;
  label: string;
}) {
  return (
    <label className="option">
      <input
        type="checkbox"
        className="tick"
        checked={checked}
        onChange={(e) => onChange(e.target.checked)}
      />
      {label}
    </label>
  );
}
