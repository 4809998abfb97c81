import Button from '@mui/material/Button';
import { nanoid } from 'nanoid';
import { convert, deltaE00, screenOnly, toHex, toLab } from '#core/color/index';
import { missingForX4 } from '#core/reading/cxf';
import type { InkFigures } from '#core/reading/figures';
import { spotOf, spotWithTints } from '#core/reading/swatches';
import { FACTS, type FactId, factIds } from '#core/swatch/index';
import { Comments } from '~/features/shared/comments/Comments';
import type { FileQueries } from '~/messages/files-messages';
import { useWorkspace } from '~/state/workspace';
import { CommitField } from '~/ui/commit-field';
import { useCondition } from '~/ui/condition';
import { download } from '~/ui/download';
import { Panel } from '~/ui/Frame';
import { PlainButton } from '~/ui/plain-button';
import { Progress } from '~/ui/progress';
import { useJob } from '~/ui/use-job';
import { WingPair } from '~/ui/wing-pair';
import { openFilesClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';
import { ToTray } from '../ToTray';
import css from './ReadingReadout.module.css';
import { type ShownReading, useReading, useReadingActs } from './use-reading';

/** A measured ink beside what the press makes of it, what is known of it, and where it goes. */
export function ReadingReadout() {
  const { reading, figures } = useReading();
  const condition = useCondition();
  return (
    <Panel side="readout" label="Ink">
      {!reading || !figures || condition === screenOnly ? (
        <p className={`second ${css.hint}`}>
          The ink is shown here beside what the press makes of it, with what is known of it.
        </p>
      ) : (
        <Known reading={reading} figures={figures} />
      )}
    </Panel>
  );
}

function Known({ reading, figures }: { reading: ShownReading; figures: InkFigures }) {
  const workspace = useWorkspace();
  const condition = useCondition();
  const { rename, describe, keep, addSpot } = useReadingActs();
  const { ink, facts, item } = reading;
  const { color } = spotOf(reading, '');
  const build = convert(color, 'cmyk', condition);
  const off = deltaE00(toLab(color, condition), toLab(build, condition));
  const tints = figures.steps.filter(
    ({ step: s }) => s.backing === 'white' && s.percent > 0 && s.percent < 100,
  ).length;
  return (
    <>
      <div className={css.pair}>
        <WingPair left={toHex(color, condition)} right={toHex(build, condition)} />
      </div>
      <p className={`caption ${css.ends}`}>
        <span>measured</span>
        <span title={condition.name}>
          in its CMYK · <span className="mono">ΔE00 {off.toFixed(1)}</span>
        </span>
      </p>
      <div className={css.words}>
        <div className={css.acts}>
          <ToTray n={1 + tints} make={() => spotWithTints(reading, () => nanoid(12))} />
          {workspace && (
            <Button onClick={() => addSpot(reading, workspace.groupId)}>Add as a spot swatch</Button>
          )}
          {workspace && !item && <Button onClick={() => keep(reading)}>Keep the reading</Button>}
        </div>
        <HandOver reading={reading} />
        <div className={css.fields}>
          <label htmlFor="reading-name" className="second">
            Ink name
          </label>
          <CommitField
            id="reading-name"
            value={ink.name}
            most={1000}
            onCommit={(name) => rename(reading, name)}
          />
          {factIds.map((id) => [
            <label key={`${id} label`} htmlFor={`reading-${id}`} className="second">
              {FACTS[id].label}
            </label>,
            <span key={id} className={css.fact}>
              <CommitField
                id={`reading-${id}`}
                value={facts[id] ?? ''}
                most={1000}
                placeholder={HINTS[id] ?? ''}
                onCommit={(value) => describe(reading, { ...facts, [id]: value })}
              />
              {facts[id] && facts[id] !== ink.conditions[id] && (
                <span className="caption" title="Typed here; the file says nothing of it, or something else">
                  typed
                </span>
              )}
            </span>,
          ])}
        </div>
        {workspace && item && <Comments on={item.id} name={ink.name} />}
      </div>
    </>
  );
}

const HINTS: Partial<Record<FactId, string>> = {
  tolerance: '2.0',
  formula: 'ΔE00',
  mode: 'M1',
  geometry: '45/0',
  date: '2026-11-24',
};

type Form = FileQueries['readingFile']['ask']['form'];
const FORMS: readonly (readonly [Form, string])[] = [
  ['cxf', 'CxF/X-4'],
  ['report', 'Report'],
  ['cgats', 'CGATS'],
  ['csv', 'CSV'],
];

/** The ink as a file, with what is missing for it. */
function HandOver({ reading }: { reading: ShownReading }) {
  const condition = useCondition();
  const files = useClient(openFilesClient);
  const { job, start, stop } = useJob(files.stop);
  const { ink, facts, from } = reading;
  const missing = missingForX4(reading);
  const write = (form: Form) =>
    start('Writing the ink', async ({ stage, isWanted }) => {
      const readings = [{ ink, facts, from }];
      const file = await files.ask('readingFile', { readings, form, setting: condition.setting }, stage);
      if (isWanted()) download(file.name, file.bytes, file.mime);
    });
  return (
    <section aria-label="As a file" className={css.files}>
      <div className={css.acts}>
        {FORMS.map(([form, label], i) =>
          i < 2 ? (
            <Button key={form} size="small" onClick={() => write(form)}>
              {label}
            </Button>
          ) : (
            <PlainButton key={form} look="link" onClick={() => write(form)}>
              {label}
            </PlainButton>
          ),
        )}
      </div>
      <p className="caption">
        {missing.length === 0
          ? 'All that CxF/X-4 asks for is there.'
          : `Missing for CxF/X-4: ${missing.join(', ')}.`}
      </p>
      {job && <Progress {...job} onStop={stop} />}
    </section>
  );
}
