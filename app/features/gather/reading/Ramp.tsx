import { toHex } from '#core/color/index';
import type { Backing, Step } from '#core/reading/model';
import { keptLab } from '#core/reading/swatches';
import { useCondition } from '~/ui/condition';
import { useOneStop } from '~/ui/one-stop';
import { PlainButton } from '~/ui/plain-button';
import css from './Ramp.module.css';

export const percentText = (percent: number) => `${Number(percent.toFixed(1))} %`;
export const stepText = ({ percent, backing }: Pick<Step, 'percent' | 'backing'>) =>
  `${percentText(percent)} over ${backing}`;

/** The steps over white and over black, each from the sheet to the solid. */
export function Ramps({
  steps,
  chosen,
  onChoose,
  figures,
  figuresAre = '',
}: {
  steps: readonly Step[];
  chosen?: number;
  onChoose?(i: number): void;
  /** What stands below a step over white, in place of its percentage. */
  figures?(step: Step): string;
  figuresAre?: string;
}) {
  return (
    <div className={css.ramps}>
      {(['white', 'black'] as const).map((backing) => (
        <Ramp key={backing} {...{ backing, steps, chosen, onChoose }} />
      ))}
      <span className="caption">{figuresAre}</span>
      <Percents steps={steps} figures={figures} />
    </div>
  );
}

function Ramp({
  backing,
  steps,
  chosen,
  onChoose,
}: {
  backing: Backing;
  steps: readonly Step[];
  chosen?: number | undefined;
  onChoose?: ((i: number) => void) | undefined;
}) {
  const condition = useCondition();
  const stop = useOneStop<HTMLFieldSetElement>();
  const own = steps.map((step, i) => ({ step, i })).filter((s) => s.step.backing === backing);
  if (own.length === 0) return null;
  const look = (step: Step) => ({
    background: toHex({ space: 'lab', components: keptLab(step.spectrum) }, condition),
  });
  return (
    <>
      <span className="caption">over {backing}</span>
      {onChoose ? (
        <fieldset {...stop} className={css.ramp} aria-label={`Over ${backing}`} data-no-act>
          {own.map(({ step, i }) => (
            <PlainButton
              key={i}
              aria-pressed={i === chosen}
              aria-label={stepText(step)}
              title={step.name}
              style={look(step)}
              onClick={() => onChoose(i)}
            />
          ))}
        </fieldset>
      ) : (
        <span className={css.ramp} role="img" aria-label={`${own.length} steps over ${backing}`}>
          {own.map(({ step, i }) => (
            <span key={i} style={look(step)} />
          ))}
        </span>
      )}
    </>
  );
}

/** Below the ramps, once where both have the same steps. */
function Percents({
  steps,
  figures,
}: {
  steps: readonly Step[];
  figures?: ((step: Step) => string) | undefined;
}) {
  const of = (backing: Backing) => steps.filter((s) => s.backing === backing);
  const [white, black] = [of('white'), of('black')];
  const shown = black.length > white.length ? black : white;
  return (
    <span className={`caption mono ${css.percents}`} aria-hidden>
      {shown.map((step) => (
        <span key={step.percent}>{figures ? figures(step) : Number(step.percent.toFixed(1))}</span>
      ))}
    </span>
  );
}
