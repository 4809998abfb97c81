import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { inkRead, PIGMENTS, SHEETS } from '#core/instrument/index';
import { CALIBRATION_MS, MODES, type Mode } from '#core/instrument/instrument';
import type { MeasuredInk } from '#core/reading/model';
import { CommitField } from '~/ui/commit-field';
import { NumberField } from '~/ui/number-field';
import { Choose } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { Tick } from '~/ui/tick';
import css from './BenchDialog.module.css';
import { Ramps, stepText } from './Ramp';
import { hasSerial, useBench } from './use-bench';
import type { ShownReading } from './use-reading';

const MAX_STEPS_OF_RAMP = 41;

/** Measures an ink, patch by patch or a strip at a time. */
export function BenchDialog({
  again,
  onKeep,
  onClose,
}: {
  /** An ink that is measured once more. */
  again: ShownReading | null;
  onKeep(ink: MeasuredInk, from: string): void;
  onClose(): void;
}) {
  const [name, setName] = useState(again?.ink.name ?? '');
  const [steps, setSteps] = useState(11);
  const [withBlack, setWithBlack] = useState(true);
  const [mode, setMode] = useState<Mode>('M1');
  const [pigment, setPigment] = useState(
    Math.max(
      0,
      PIGMENTS.findIndex((p) => p.name === again?.ink.name),
    ),
  );
  const [sheet, setSheet] = useState(0);
  const bench = useBench({ steps, withBlack, mode, pigment: PIGMENTS[pigment]!, sheet: SHEETS[sheet]! });
  const { facts, wanted, read, at, calibratedAt, busy, problem, twice } = bench;
  const isSimulated = bench.kind === 'simulated';
  const inkName = name.trim() || (isSimulated ? PIGMENTS[pigment]!.name : '');
  const done = read.filter(Boolean).length;
  const next = wanted[at];
  const due = calibratedAt !== null && bench.now - calibratedAt > CALIBRATION_MS;
  const keep = () => {
    const day = new Date().toISOString().slice(0, 10);
    onKeep(
      inkRead(inkName, wanted, read, {
        device: facts!.name,
        geometry: facts!.geometry,
        mode,
        date: day,
        illuminant: 'D50',
        observer: '2°',
        ...(isSimulated
          ? { substrate: SHEETS[sheet]!.name }
          : again?.facts.substrate
            ? { substrate: again.facts.substrate }
            : {}),
        ...(again?.facts.code ? { code: again.facts.code } : {}),
        ...(again?.facts.tolerance ? { tolerance: again.facts.tolerance } : {}),
      }),
      facts!.name,
    );
    onClose();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="bench-title">
      <DialogTitle id="bench-title">
        {again ? `Measure ${again.ink.name} again` : 'Measure an ink'}
      </DialogTitle>
      <DialogContent className={css.bench}>
        <div className={css.row}>
          <strong>
            {facts ? facts.name : 'No instrument yet'}
            {calibratedAt !== null &&
              ` · calibrated ${new Date(calibratedAt).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}`}
          </strong>
          <span className={css.acts}>
            {!facts && (
              <>
                <Button variant="contained" disabled={busy} onClick={() => void bench.connect('simulated')}>
                  Connect the simulated one
                </Button>
                {hasSerial() && (
                  <Button disabled={busy} onClick={() => void bench.connect('serial')}>
                    On a serial port…
                  </Button>
                )}
              </>
            )}
            {facts && (
              <Button
                variant={calibratedAt === null || due ? 'contained' : 'outlined'}
                disabled={busy}
                onClick={() => void bench.calibrate()}
              >
                {calibratedAt === null ? 'Calibrate on the tile' : 'Calibrate again'}
              </Button>
            )}
          </span>
        </div>
        {due && (
          <p className="caption">Half an hour has gone by: the lamp has moved. Lay it on its tile again.</p>
        )}
        <div className={css.asks}>
          <span className={css.name}>
            <label htmlFor="bench-ink" className="second">
              ink
            </label>
            <CommitField id="bench-ink" value={inkName} most={1000} onCommit={setName} />
          </span>
          {isSimulated && (
            <>
              <Choose
                label="on the bench"
                value={String(pigment)}
                values={PIGMENTS.map((p, i) => [String(i), p.name] as const)}
                onChange={(v) => setPigment(Number(v))}
              />
              <Choose
                label="sheet"
                value={String(sheet)}
                values={SHEETS.map((s, i) => [String(i), s.name] as const)}
                onChange={(v) => setSheet(Number(v))}
              />
            </>
          )}
          <NumberField label="steps" value={steps} min={2} max={MAX_STEPS_OF_RAMP} onChange={setSteps} />
          <Tick checked={withBlack} onChange={setWithBlack} label="over black, too" />
          <Choose
            label="mode"
            value={mode}
            values={(facts?.modes ?? MODES).map((m) => [m, m] as const)}
            onChange={(v) => setMode(v as Mode)}
          />
        </div>
        {done > 0 && (
          <Ramps
            steps={wanted.flatMap((w, i) =>
              read[i] ? [{ ...w, name: stepText(w), spectrum: read[i]! }] : [],
            )}
          />
        )}
        <p className={css.say} role="status">
          {problem ??
            (twice !== null
              ? `${stepText(wanted[twice]!)} looks like the patch before it. Was it read twice? Read it again, or go on.`
              : !facts
                ? 'Connect an instrument to begin.'
                : calibratedAt === null
                  ? 'Lay the instrument on its white tile and calibrate it.'
                  : next
                    ? `Next: ${stepText(next)}, patch ${at + 1} of ${wanted.length}.`
                    : 'All patches are read.')}
        </p>
        {facts && (
          <div className={css.acts}>
            <Button
              variant={next ? 'contained' : 'outlined'}
              disabled={busy || calibratedAt === null || !next}
              onClick={() => void bench.measure()}
            >
              Read this patch
            </Button>
            <Button disabled={busy || calibratedAt === null || !next} onClick={() => void bench.strip()}>
              Read the rest as a strip
            </Button>
            {done > 0 && (
              <PlainButton look="link" disabled={busy} onClick={() => bench.back()}>
                Back one patch
              </PlainButton>
            )}
            {problem && bench.isLost && (
              <Button disabled={busy} onClick={() => void bench.connect(bench.kind!)}>
                Connect again
              </Button>
            )}
          </div>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={done === 0 || busy || inkName === ''} onClick={keep}>
          {done > 0 && next ? `Keep ${done} of ${wanted.length}` : 'Keep'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
