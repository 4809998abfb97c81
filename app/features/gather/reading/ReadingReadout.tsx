import Button from '@mui/material/Button';
import { nanoid } from 'nanoid';
import { convert, deltaE00, screenOnly, toHex, toLab } from '#core/color/index';
import { addGroups, addSwatches } from '#core/swatch/index';
import { READING_FACTS } from '~/state/readings';
import { useWorkspace } from '~/state/workspace';
import { CommitField } from '~/ui/commit-field';
import { useCondition } from '~/ui/condition';
import { Panel } from '~/ui/Frame';
import { useToast, wayBack } from '~/ui/toast';
import { WingPair } from '~/ui/wing-pair';
import { ToTray } from '../ToTray';
import css from './ReadingReadout.module.css';
import { inkFrom, tintsFrom, useReading } from './use-reading';

/** A measured ink beside what the press makes of it, what is known of it, and where it goes. */
export function ReadingReadout() {
  const { store, reading, figures } = useReading();
  const workspace = useWorkspace();
  const condition = useCondition();
  const toast = useToast();
  if (!reading || !figures || condition === screenOnly)
    return (
      <Panel side="readout" label="Ink">
        <p className={`second ${css.hint}`}>
          The ink is shown here beside what the press makes of it, with what is known of it.
        </p>
      </Panel>
    );
  const ink = inkFrom(reading);
  const build = convert(ink.color, 'cmyk', condition);
  const off = deltaE00(toLab(ink.color, condition), toLab(build, condition));
  const tints = figures.steps.filter(
    ({ step: s }) => s.backing === 'white' && s.percent > 0 && s.percent < 100,
  ).length;
  const add = () => {
    if (!workspace) return;
    const { store: library, groupId } = workspace;
    const swatch = inkFrom(reading);
    const group = library.rows.library.groups.find((g) => g.id === groupId) ?? library.rows.library.groups[0];
    const done = library.edit(
      group
        ? addSwatches(library.rows, group.id, [swatch])
        : addGroups(library.rows, [{ id: nanoid(12), name: 'Inks', swatches: [swatch] }]),
    );
    if (done) toast({ text: `${swatch.name} is in the library.`, ...wayBack([library, done]) });
  };
  return (
    <Panel side="readout" label="Ink">
      <div className={css.pair}>
        <WingPair left={toHex(ink.color, condition)} right={toHex(build, condition)} />
      </div>
      <p className={`caption ${css.ends}`}>
        <span>measured</span>
        <span>
          CMYK build, {condition.name} · <span className="mono">ΔE00 {off.toFixed(1)}</span>
        </span>
      </p>
      <div className={css.words}>
        <div className={css.fields}>
          <label htmlFor="reading-name" className="second">
            Ink name
          </label>
          <CommitField
            id="reading-name"
            value={reading.ink.name}
            most={1000}
            onCommit={(name) => store.rename(reading.id, name)}
          />
          {READING_FACTS.map(([id, label]) => [
            <label key={label} htmlFor={`reading-${id}`} className="second">
              {label}
            </label>,
            <CommitField
              key={id}
              id={`reading-${id}`}
              value={reading.facts[id] ?? ''}
              most={1000}
              onCommit={(value) => store.setFact(reading.id, id, value)}
            />,
          ])}
        </div>
        <div className={css.acts}>
          <ToTray n={1 + tints} make={() => tintsFrom(reading, figures.steps)} />
          {workspace && <Button onClick={add}>Add as a spot swatch</Button>}
        </div>
        <p className="caption">
          With its spectrum. {tints > 0 ? `The tray gets the ink and its ${tints} tints over white.` : ''}
        </p>
      </div>
    </Panel>
  );
}
