import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import type { Check, Finding, Fix } from '#core/check/index';
import { differenceInWords } from '#core/color/index';
import { Panel } from '~/ui/Frame';
import { LabFigures } from '~/ui/lab-figures';
import { WingPair } from '~/ui/wing-pair';
import css from './Detail.module.css';

/** One finding in detail: both halves large, what is measured of them, and what can be done. */
export function Detail({
  check,
  finding: given,
  complete,
  onFix,
  onLeave,
}: {
  check: Check;
  finding: Finding | null;
  complete(check: string, finding: Finding): Promise<Finding>;
  onFix(finding: Finding, fix: Fix): void;
  onLeave(finding: Finding): void;
}) {
  const [found, setFound] = useState<Finding | null>(null);
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    if (!given || given.fixes.length > 0 || !check.complete) return;
    let live = true;
    setBusy(true);
    complete(check.id, given).then(
      (whole) => {
        if (!live) return;
        setFound(whole);
        setBusy(false);
      },
      () => live && setBusy(false),
    );
    return () => {
      live = false;
    };
  }, [given, check, complete]);
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
          <Button onClick={() => onLeave(finding)}>Leave it</Button>
        </div>
      </div>
    </Panel>
  );
}

const sentence = (words: string) => `${words.charAt(0).toLocaleUpperCase('en')}${words.slice(1)}.`;
