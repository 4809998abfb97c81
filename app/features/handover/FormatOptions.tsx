import type { ReactNode } from 'react';
import type { FileChoice, Format } from '#core/formats/index';
import { NumberField } from '~/ui/number-field';
import { Tick } from '~/ui/tick';
import css from './FormatOptions.module.css';

/** The line of what can be chosen for a format. */
export const FormatLine = ({ children }: { children: ReactNode }) => (
  <div className={css.line}>{children}</div>
);

/** What can be chosen for a file of this format: one per group, and the format's own options. */
export function FormatOptions({
  format,
  choice,
  onChange,
  groups,
}: {
  format: Format;
  choice: FileChoice;
  onChange(choice: FileChoice): void;
  /** How many files there would be with one per group; 1 when that means nothing. */
  groups: number;
}) {
  const set = (id: string, value: number | boolean) =>
    onChange({ ...choice, options: { ...choice.options, [id]: value } });
  return (
    <>
      {groups > 1 && (
        <Tick
          checked={!!choice.perGroup}
          onChange={(on) => onChange({ ...choice, perGroup: on })}
          label={`one file per group, ${groups}`}
        />
      )}
      {(format.options ?? []).map((option) => {
        const value = choice.options?.[option.id] ?? option.initial;
        return option.type === 'boolean' ? (
          <Tick
            key={option.id}
            checked={Boolean(value)}
            onChange={(on) => set(option.id, on)}
            label={option.label.toLowerCase()}
          />
        ) : (
          <NumberField
            key={option.id}
            label={option.label.toLowerCase()}
            value={Number(value)}
            min={option.min}
            max={option.max}
            unit={option.unit}
            onChange={(n) => set(option.id, n)}
          />
        );
      })}
    </>
  );
}
