import { useEffect, useMemo, useRef, useState } from 'react';
import {
  InstrumentError,
  isReadTwice,
  type PIGMENTS,
  patchOf,
  rampOf,
  SerialInstrument,
  type SHEETS,
  SimulatedInstrument,
} from '#core/instrument/index';
import type { Instrument, InstrumentFacts, Mode } from '#core/instrument/instrument';
import type { Spectrum } from '#core/swatch/index';
import { serialLines } from './serial-port';

type Kind = 'simulated' | 'serial';

/** Whether this browser lets a page use serial ports. */
export const hasSerial = () => typeof navigator !== 'undefined' && 'serial' in navigator;

const later = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));
/** So often it is looked whether the tile is due, ms. */
const CLOCK_MS = 30_000;

/** An instrument, and the patches of a ramp that are read with it one after the other. */
export function useBench({
  steps,
  withBlack,
  mode,
  pigment,
  sheet,
}: {
  steps: number;
  withBlack: boolean;
  mode: Mode;
  /** What lies on the simulated bench. */
  pigment: (typeof PIGMENTS)[number];
  sheet: (typeof SHEETS)[number];
}) {
  const wanted = useMemo(() => rampOf(steps, withBlack ? ['white', 'black'] : ['white']), [steps, withBlack]);
  const [kind, setKind] = useState<Kind | null>(null);
  const [facts, setFacts] = useState<InstrumentFacts | null>(null);
  const [calibratedAt, setCalibratedAt] = useState<number | null>(null);
  const [read, setRead] = useState<readonly (Spectrum | undefined)[]>([]);
  const [at, setAt] = useState(0);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const [isLost, setLost] = useState(false);
  const [twice, setTwice] = useState<number | null>(null);
  const [now, setNow] = useState(() => Date.now());
  const instrument = useRef<Instrument | null>(null);
  const lying = useRef({ wanted, pigment, sheet, at: 0 });
  lying.current = { ...lying.current, wanted, pigment, sheet };

  useEffect(() => {
    const clock = setInterval(() => setNow(Date.now()), CLOCK_MS);
    return () => {
      clearInterval(clock);
      void instrument.current?.close().catch(() => undefined);
    };
  }, []);
  // another ramp, sheet or mode is another measurement
  // biome-ignore lint/correctness/useExhaustiveDependencies: each of them starts over
  useEffect(() => {
    setRead([]);
    setAt(0);
    setTwice(null);
  }, [wanted, pigment, sheet, mode]);

  async function run(work: () => Promise<void>): Promise<void> {
    setBusy(true);
    setProblem(null);
    try {
      await work();
      setLost(false);
    } catch (error) {
      setProblem((error as Error).message);
      if (error instanceof InstrumentError) {
        setLost(error.why === 'lost');
        if (error.why === 'calibration') setCalibratedAt(null);
      }
    }
    setBusy(false);
  }
  function take(i: number, patch: Spectrum): void {
    setRead((was) => {
      const next = [...was];
      next[i] = patch;
      return next;
    });
    setAt(i + 1);
  }

  return {
    kind,
    facts,
    wanted,
    read,
    at,
    calibratedAt,
    busy,
    problem,
    isLost,
    twice,
    now,
    connect: (which: Kind) =>
      run(async () => {
        const known = which === kind ? instrument.current : null;
        const made =
          known ??
          (which === 'serial'
            ? new SerialInstrument(await serialLines(), later)
            : new SimulatedInstrument({
                get at() {
                  return lying.current.at;
                },
                set at(i) {
                  lying.current.at = i;
                },
                patch: (i) => {
                  const { wanted: patches, pigment: ink, sheet: paper } = lying.current;
                  return patchOf(ink, paper, patches[Math.min(i, patches.length - 1)]!);
                },
                now: () => Date.now(),
                random: Math.random,
                wait: later,
              }));
        instrument.current = made;
        setFacts(await made.connect());
        setKind(which);
      }),
    calibrate: () =>
      run(async () => {
        await instrument.current!.calibrate();
        setCalibratedAt(Date.now());
        setNow(Date.now());
      }),
    measure: () =>
      run(async () => {
        lying.current.at = at;
        const patch = await instrument.current!.measure(mode);
        const isTwice = isReadTwice(read[at - 1], patch);
        take(at, patch);
        setTwice(isTwice ? at : null);
      }),
    strip: () =>
      run(async () => {
        lying.current.at = at;
        setTwice(null);
        let before = read[at - 1];
        await instrument.current!.strip(wanted.length - at, mode, (patch, i) => {
          if (isReadTwice(before, patch)) setTwice(at + i);
          before = patch;
          take(at + i, patch);
        });
      }),
    back() {
      setTwice(null);
      setAt((i) => Math.max(0, i - 1));
    },
  };
}
