import { inkRead, PIGMENTS, patchOf, rampOf, SHEETS, SimulatedInstrument } from '../core/instrument/index.ts';
import { type NewId, READING, type Reading, type Spectrum } from '../core/swatch/index.ts';

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

const CODES = ['KM-0417', 'KM-0102', 'KM-0233'];
/** The press lays down more and more of the orange; the last batch is out of its tolerance. */
const BATCHES: [date: string, stock: number][] = [
  ['2026-08-03', 1.015],
  ['2026-09-07', 0.99],
  ['2026-10-05', 1.05],
  ['2026-11-02', 1.22],
  ['2026-11-24', 1.38],
];

/** Three inks of the fleet on two papers, and five batches of one of them. */
export async function sampleReadings(newId: NewId): Promise<Reading[]> {
  const readings: Reading[] = [];
  const wanted = rampOf(11, ['white', 'black']);
  const measure = async (pigment: number, sheet: number, date: string, stock: number) => {
    const [ink, paper] = [PIGMENTS[pigment]!, SHEETS[sheet]!];
    const instrument = new SimulatedInstrument({
      at: 0,
      patch: (i) => patchOf(ink, paper, wanted[i]!, stock),
      now: () => 0,
      random: seeded(readings.length + 1),
    });
    const { name: device, geometry } = await instrument.connect();
    await instrument.calibrate();
    const read: Spectrum[] = [];
    await instrument.strip(wanted.length, 'M1', (patch) =>
      read.push({ ...patch, values: patch.values.map((v) => Math.round(v * 1e5) / 1e5) }),
    );
    const facts = {
      code: CODES[pigment]!,
      substrate: paper.name,
      customer: 'Kestrelmere Ferries',
      tolerance: '2.0',
      formula: 'ΔE00',
      operator: 'J. on the press',
      date,
      device,
      geometry,
      mode: 'M1',
      illuminant: 'D50',
      observer: '2°',
    };
    const from = `${ink.name.toLowerCase().replace(' ', '-')}-${date}.txt`;
    readings.push({
      id: newId(),
      kind: READING,
      name: ink.name,
      data: { ink: inkRead(ink.name, wanted, read, facts), facts, from },
    });
  };
  for (const sheet of [0, 1]) for (const pigment of [0, 1, 2]) await measure(pigment, sheet, '2026-07-06', 1);
  for (const [date, stock] of BATCHES) await measure(0, 0, date, stock);
  return readings;
}
