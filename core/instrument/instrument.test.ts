import { describe, expect, it } from 'vitest';
import { deltaE00 } from '../color/index.ts';
import { figuresOf, fluorescence, labOfSpectrum } from '../reading/index.ts';
import type { Spectrum } from '../swatch/model.ts';
import {
  InstrumentError,
  inkRead,
  isReadTwice,
  type LinePort,
  type Mode,
  PIGMENTS,
  patchOf,
  rampOf,
  SerialInstrument,
  SHEETS,
  SimulatedInstrument,
} from './index.ts';

const [orange] = PIGMENTS;
const [coated] = SHEETS;
const WANTED = rampOf(11, ['white', 'black']);

/** Random numbers that are the same each time (mulberry32). */
function seeded(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}
function bench() {
  const on = {
    at: 0,
    time: 0,
    patch: (i: number) => patchOf(orange!, coated!, WANTED[i]!),
    now: () => on.time,
    random: seeded(7),
  };
  return { on, instrument: new SimulatedInstrument(on) };
}
const truth = (i: number, mode: Mode): Spectrum => {
  const { reflectance, glow } = patchOf(orange!, coated!, WANTED[i]!);
  return { ...reflectance, values: reflectance.values.map((v, k) => v + (mode === 'M1' ? glow[k]! : 0)) };
};
const apart = (a: Spectrum, b: Spectrum) => deltaE00(labOfSpectrum(a), labOfSpectrum(b));
const mean = (values: number[]) => values.reduce((a, b) => a + b, 0) / values.length;

describe('the simulated instrument', () => {
  it('has a noise of about ΔE00 0.1 and, an hour after its tile, a drift of about 0.3', async () => {
    const { on, instrument } = bench();
    await instrument.connect();
    await instrument.calibrate();
    const offs = async (n: number) => {
      const found: number[] = [];
      for (let i = 0; i < n; i++) found.push(apart(await instrument.measure('M1'), truth(0, 'M1')));
      return mean(found);
    };
    const noise = await offs(200);
    expect(noise).toBeGreaterThan(0.05);
    expect(noise).toBeLessThan(0.15);
    on.time = 3_600_000;
    const drifted = await offs(200);
    expect(drifted).toBeGreaterThan(0.25);
    expect(drifted).toBeLessThan(0.4);
    // and is itself again after its tile
    await instrument.calibrate();
    expect(await offs(200)).toBeLessThan(0.15);
  });

  it('does not measure before its tile, nor off it, and says what to do', async () => {
    const { instrument } = bench();
    await expect(instrument.measure('M0')).rejects.toThrow(/does not answer/);
    await instrument.connect();
    await expect(instrument.measure('M0')).rejects.toThrow(/not calibrated. Lay it on its tile/);
    instrument.lay(false);
    await expect(instrument.calibrate()).rejects.toThrow(/calibrate again/);
    instrument.lay(true);
    await instrument.calibrate();
    expect((await instrument.measure('M0')).values).toHaveLength(36);
  });

  it('keeps what a strip had told before its cable was pulled', async () => {
    const { on, instrument } = bench();
    await instrument.connect();
    await instrument.calibrate();
    const came: Spectrum[] = [];
    const strip = instrument.strip(11, 'M1', (patch, i) => {
      came.push(patch);
      if (i === 4) instrument.unplug();
    });
    await expect(strip).rejects.toMatchObject({ why: 'lost' });
    expect(came).toHaveLength(5);
    // connected again it goes on where it was, still calibrated
    await instrument.connect();
    expect(on.at).toBe(5);
    expect(apart(await instrument.measure('M1'), truth(5, 'M1'))).toBeLessThan(0.4);
  });

  it('sees the glow of a sheet in M1 and not in M2: an ink read in both says so', async () => {
    const { on, instrument } = bench();
    await instrument.connect();
    await instrument.calibrate();
    const read = async (mode: Mode) => {
      const patches: Spectrum[] = [];
      on.at = 0;
      await instrument.strip(WANTED.length, mode, (p) => patches.push(p));
      return inkRead('Orange', WANTED, patches, { mode });
    };
    const [lit, without] = [await read('M1'), await read('M2')];
    const found = fluorescence([lit, without])!;
    expect(found.percent).toBe(0);
    expect(Math.abs(found.nm - 442)).toBeLessThanOrEqual(20);
    expect(found.deltaE00).toBeGreaterThan(1);
    // the ramp of what was read is a ramp
    const figures = figuresOf(lit);
    expect(figures.opacity).toBeGreaterThan(0.1);
    const tones = figures.steps.filter((s) => s.step.backing === 'white').map((s) => s.toneValue!);
    expect(tones.every((t, i) => i === 0 || t > tones[i - 1]!)).toBe(true);
  });

  it('tells a patch that was read twice from the next one', async () => {
    const { on, instrument } = bench();
    await instrument.connect();
    await instrument.calibrate();
    const first = await instrument.measure('M1');
    const again = await instrument.measure('M1');
    on.at = 1;
    const next = await instrument.measure('M1');
    expect(isReadTwice(undefined, first)).toBe(false);
    expect(isReadTwice(first, again)).toBe(true);
    expect(isReadTwice(again, next)).toBe(false);
  });
});

/** A device on the other end of a serial line, as docs/instrument.md says it speaks. */
function device(answers: (line: string) => string[]): LinePort & { sent: string[] } {
  const lines: string[] = [];
  const port = {
    sent: [] as string[],
    open: async () => undefined,
    async send(line: string) {
      port.sent.push(line);
      lines.push(...answers(line));
    },
    next: async () => lines.shift() ?? null,
    close: async () => undefined,
  };
  return port;
}
const never = () => new Promise<void>(() => undefined);
const ID = 'ID name=Bench 1;modes=M0,M1;geometry=45/0;start=400;step=100;count=4';

describe('an instrument on a serial line', () => {
  it('says who it is, calibrates, and reads patches and strips', async () => {
    const port = device((line) => {
      if (line === 'ID') return [ID];
      if (line === 'CAL') return ['OK'];
      if (line === 'READ M1') return ['R 0.1 0.2 0.3 0.4'];
      return ['R 0.8 0.8 0.8 0.8', 'R 0.5 0.5 0.5 0.5', 'OK'];
    });
    const instrument = new SerialInstrument(port, never);
    expect(await instrument.connect()).toEqual({ name: 'Bench 1', modes: ['M0', 'M1'], geometry: '45/0' });
    await instrument.calibrate();
    expect(await instrument.measure('M1')).toEqual({ start: 400, step: 100, values: [0.1, 0.2, 0.3, 0.4] });
    const came: number[] = [];
    await instrument.strip(2, 'M1', ({ values }) => came.push(values[0]!));
    expect(came).toEqual([0.8, 0.5]);
    expect(port.sent).toEqual(['ID', 'CAL', 'READ M1', 'STRIP 2 M1']);
  });

  it.each([
    ['another device', () => ['Pump 2.1'], /answered “Pump 2\.1” where ID was expected/],
    ['one without wavelengths', () => ['ID name=x'], /says no wavelengths/],
    ['one that is silent', () => [], /does not answer/],
  ])('%s is refused with what it said', async (_, answers, message) => {
    const instrument = new SerialInstrument(device(answers), never);
    await expect(instrument.connect()).rejects.toThrow(message);
  });

  it('passes on why it refuses, and takes no half spectrum', async () => {
    const instrument = new SerialInstrument(
      device((line) => (line === 'ID' ? [ID] : line === 'CAL' ? ['ERR not on tile'] : ['R 0.1 0.2'])),
      never,
    );
    await instrument.connect();
    const error = await instrument.calibrate().catch((e: unknown) => e);
    expect(error).toBeInstanceOf(InstrumentError);
    expect(error).toMatchObject({ why: 'calibration', message: expect.stringContaining('not on tile') });
    await expect(instrument.measure('M0')).rejects.toThrow(/sent 2 values where it has 4 bands/);
  });

  it('that stops answering is given up after a while', async () => {
    const silent: LinePort = {
      open: async () => undefined,
      send: async () => undefined,
      next: () => new Promise(() => undefined),
      close: async () => undefined,
    };
    await expect(new SerialInstrument(silent, async () => undefined).connect()).rejects.toThrow(
      /does not answer/,
    );
  });
});
