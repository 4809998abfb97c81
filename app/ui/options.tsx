import { type ReactNode, useId } from 'react';
import type { OptionDeclaration, Options } from '#core/options';
import { CommitField } from './commit-field';
import { SelectField } from './field';
import { NumberField } from './number-field';
import css from './options.module.css';
import { Tick } from './tick';

/** What can be chosen, as it is declared: a number, a tick, some letters, or one of several. */
export function OptionFields({
  declared,
  chosen,
  onSet,
  profiles = [],
  roles = [],
}: {
  declared: readonly OptionDeclaration[];
  chosen: Options | undefined;
  onSet(id: string, value: number | boolean | string): void;
  /** What options of these types choose among, by value and label. */
  profiles?: readonly (readonly [string, string])[];
  roles?: readonly (readonly [string, string])[];
}) {
  return declared.map((option) => {
    const value = chosen?.[option.id] ?? option.initial;
    const label = option.label.toLowerCase();
    const set = (v: number | boolean | string) => onSet(option.id, v);
    if (option.type === 'boolean')
      return <Tick key={option.id} checked={Boolean(value)} onChange={set} label={label} />;
    if (option.type === 'number')
      return (
        <NumberField
          key={option.id}
          label={label}
          value={Number(value)}
          min={option.min}
          max={option.max}
          step={option.step ?? 1}
          decimals={option.step && option.step < 1 ? 1 : 0}
          unit={option.unit}
          onChange={set}
        />
      );
    if (option.type === 'text')
      return (
        <Labelled key={option.id} label={label}>
          {(id) => (
            <CommitField
              id={id}
              value={String(value)}
              placeholder={option.placeholder}
              most={option.most}
              onCommit={set}
            />
          )}
        </Labelled>
      );
    const values =
      option.type === 'choice'
        ? option.values
        : [['', option.none] as const, ...(option.type === 'profile' ? profiles : roles)];
    return <Choose key={option.id} label={label} value={String(value)} values={values} onChange={set} />;
  });
}

/** One of several, by a name before it. */
export function Choose({
  label,
  value,
  values,
  onChange,
  className,
}: {
  label: string;
  /** Of the line, where it is laid out as others beside it. */
  className?: string | undefined;
  value: string;
  values: readonly (readonly [value: string, label: string])[];
  onChange(value: string): void;
}) {
  return (
    <Labelled label={label} className={className}>
      {(id) => (
        <SelectField id={id} value={value} onChange={(e) => onChange(e.target.value)}>
          {values.map(([v, text]) => (
            <option key={v} value={v}>
              {text}
            </option>
          ))}
        </SelectField>
      )}
    </Labelled>
  );
}

/** A field with its name before it. */
function Labelled({
  label,
  className = css.choose,
  children,
}: {
  label: string;
  className?: string | undefined;
  children(id: string): ReactNode;
}) {
  const id = useId();
  return (
    <span className={className}>
      <label htmlFor={id} className="second">
        {label}
      </label>
      {children(id)}
    </span>
  );
}
