import Button from '@mui/material/Button';
import type { Check, Finding, Fix } from '#core/check/index';
import { differenceInWords } from '#core/color/index';
import { Panel } from '~/ui/Frame';
import { LabFigures } from '~/ui/lab-figures';
import { useAsked } from '~/ui/use-asked';
import { WingPair } from '~/ui/wing-pair';
import css from './Detail.module.css';

/** One finding in detail: both halves large, what is measured of them, and what can be done. */
export function Detail({
  check,
  finding: given,
  complete,
  onFix,
  onLeave,
  onTune,
}: {
  check: Check;
  finding: Finding | null;
  complete(check: string, finding: Finding): Promise<Finding>;
  onFix(finding: Finding, fix: Fix): void;
  onLeave(finding: Finding): void;
  /** Takes its swatches to Tune; null where there are none to be tuned. */
  onTune: ((finding: Finding) => void) | null;
}) {
  const asks = given && given.fixes.length === 0 && check.complete;
  const {
    value: found,
    current,
    problem,
  } = useAsked(asks ? () => complete(check.id, given) : null, [given, check, complete], { fresh: true });
  const busy = !!asks && !current && !problem;
  if (!given)
    return (
      <Panel side="readout" label="Finding">
        <p className={`second ${css.hint}`}>Nothing selected. Choose a finding to see how to fix it.</p>
      </Panel>
    );
  const finding = found ?? given;
  const { left, right } = finding;
  return (
    <Panel side="readout" label="Finding">
      <div className={css.pair}>
        <WingPair left={left.hex} right={right ? right.hex : left.hex} />
      </div>
      <div className={css.words}>
        <div className={`caption ${css.ends}`}>
          <span className="cut" dir="auto">
            {left.label}
          </span>
          <span className="cut" dir="auto">
            {right?.label}
          </span>
        </div>
        <h2 className={css.name} dir="auto">
          {finding.name}
        </h2>
        <p className={css.says}>{finding.says}</p>
        <LabFigures labs={right ? [left.lab, right.lab] : [left.lab]} />
        {right && <p className={css.differs}>{sentence(differenceInWords(left.lab, right.lab))}</p>}
        {finding.facts.length > 0 && (
          <dl className={css.facts}>
            {finding.facts.map(([what, figure]) => (
              <div key={what}>
                <dt className="second">{what}</dt>
                <dd className="mono">{figure}</dd>
              </div>
            ))}
          </dl>
        )}
        <div className={css.fixes}>
          {finding.fixes.map((fix, i) => (
            <Button
              key={fix.label}
              variant={i === 0 ? 'contained' : 'outlined'}
              onClick={() => onFix(finding, fix)}
            >
              <span className="cut">{fix.label}</span>
            </Button>
          ))}
          {busy && (
            <p className="caption" role="status">
              Looking for a fix…
            </p>
          )}
          {onTune && finding.swatches.length > 0 && <Button onClick={() => onTune(finding)}>Tune…</Button>}
          <Button onClick={() => onLeave(finding)}>Leave it</Button>
        </div>
      </div>
    </Panel>
  );
}

const sentence = (words: string) => `${words.charAt(0).toLocaleUpperCase('en')}${words.slice(1)}.`;
