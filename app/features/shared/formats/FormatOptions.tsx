import type { ReactNode } from 'react';
import type { FormatFacts } from '#core/formats/format';
import { choicesFor, type FileChoice } from '#core/formats/plan';
import { OptionFields } from '~/ui/options';
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
  format: FormatFacts;
  choice: FileChoice;
  onChange(choice: FileChoice): void;
  /** How many files there would be with one per group; 1 when that means nothing. */
  groups: number;
}) {
  const set = (id: string, value: number | boolean | string) =>
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
      <OptionFields declared={choicesFor(format)} chosen={choice.options} onSet={set} />
    </>
  );
}
