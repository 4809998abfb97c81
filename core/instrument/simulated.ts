import type { Spectrum } from '../swatch/model.ts';
import { type Instrument, InstrumentError, type InstrumentFacts, MODES, type Mode } from './instrument.ts';

/** A patch as it is, before an instrument looks at it. */
export interface TruePatch {
  /** Without ultraviolet. */
  reflectance: Spectrum;
  /** What ultraviolet adds, as much as daylight has. */
  glow: readonly number[];
}

/** Where the simulated instrument lies and what time it is; core has neither clock nor randomness. */
export interface Bench {
  /** The patch under the instrument; it goes on by itself in a strip. */
  patch(i: number): TruePatch;
  /** Which patch that is. */
  at: number;
  /** ms. */
  now(): number;
  /** 0–1. */
  random(): number;
  /** How long a measurement takes, ms, and what waits for it. */
  wait?(ms: number): Promise<void>;
}

/** A lamp gives about ΔE00 0.3 less in an hour on a white sheet: 1.16 % of its light. */
const DRIFT_PER_HOUR = 0.0116;
/** Of a band, as a part of what is reflected and as a part of white: together about ΔE00 0.1. */
const NOISE = { part: 0.0012, floor: 0.0002 };
const MEASURE_MS = 350;
const STRIP_MS = 120;
/** How much of the ultraviolet of daylight each mode has. */
const ULTRAVIOLET: Record<Mode, number> = { M0: 0.55, M1: 1, M2: 0, M3: 0 };
/** What the surface throws back, which a polariser takes out. */
const GLOSS = 0.012;

/** The bench instrument that is shipped: it drifts, has noise, must be calibrated, and can be unplugged. */
export class SimulatedInstrument implements Instrument {
  private connected = false;
  private calibrated: number | null = null;
  private lamp = 1;
  private onTile = true;

  constructor(private readonly bench: Bench) {}

  async connect(): Promise<InstrumentFacts> {
    await this.bench.wait?.(MEASURE_MS);
    this.connected = true;
    return { name: 'bench instrument, simulated', modes: MODES, geometry: '45/0' };
  }

  /** Pulls the plug, as happens. */
  unplug(): void {
    this.connected = false;
  }

  /** Whether it lies on its tile when it is calibrated. */
  lay(onTile: boolean): void {
    this.onTile = onTile;
  }

  async calibrate(): Promise<void> {
    await this.bench.wait?.(MEASURE_MS);
    this.ready();
    if (!this.onTile)
      throw new InstrumentError(
        'calibration',
        'The tile is darker than it should be. Lay the instrument on its white tile and calibrate again.',
      );
    this.calibrated = this.bench.now();
  }

  async measure(mode: Mode): Promise<Spectrum> {
    await this.bench.wait?.(MEASURE_MS);
    return this.read(mode);
  }

  async strip(count: number, mode: Mode, each: (patch: Spectrum, i: number) => void): Promise<void> {
    for (let i = 0; i < count; i++) {
      await this.bench.wait?.(STRIP_MS);
      each(this.read(mode), i);
      this.bench.at++;
    }
  }

  async close(): Promise<void> {
    this.connected = false;
  }

  private ready(): void {
    if (!this.connected)
      throw new InstrumentError(
        'lost',
        'The instrument does not answer. Check its cable and connect again; what was measured is kept.',
      );
  }

  private read(mode: Mode): Spectrum {
    this.ready();
    if (this.calibrated === null)
      throw new InstrumentError('calibration', 'The instrument is not calibrated. Lay it on its tile first.');
    const { reflectance, glow } = this.bench.patch(this.bench.at);
    const hours = (this.bench.now() - this.calibrated) / 3_600_000;
    this.lamp = 1 - DRIFT_PER_HOUR * hours;
    // three neighbours share their noise: a grating does not draw hairs
    const raw = Array.from({ length: reflectance.values.length + 2 }, () => this.normal());
    const polarised = mode === 'M3' ? GLOSS : 0;
    const values = reflectance.values.map((v, i) => {
      const noise = (raw[i]! + raw[i + 1]! + raw[i + 2]!) / Math.sqrt(3);
      const seen = Math.max(0, v - polarised) + (glow[i] ?? 0) * ULTRAVIOLET[mode];
      return Math.max(0, seen * this.lamp + noise * (NOISE.part * seen + NOISE.floor));
    });
    return { ...reflectance, values };
  }

  /** A normally distributed number (Box and Muller, 1958). */
  private normal(): number {
    const u = Math.max(1e-12, this.bench.random());
    return Math.sqrt(-2 * Math.log(u)) * Math.cos(2 * Math.PI * this.bench.random());
  }
}
