import type { Spectrum } from '../swatch/model.ts';
import { type Instrument, InstrumentError, type InstrumentFacts, MODES, type Mode } from './instrument.ts';

/** A line of text to and from an instrument; what a serial port becomes in a browser. */
export interface LinePort {
  open(): Promise<void>;
  send(line: string): Promise<void>;
  /** The next line; null when the port is closed. */
  next(): Promise<string | null>;
  close(): Promise<void>;
}

/** An answer that takes longer does not come, ms. */
const PATIENCE_MS = 20_000;
/** More bands than any instrument has. */
const MAX_BANDS = 1000;

/** An instrument on a serial line, by the words of docs/instrument.md: ID, CAL, READ and STRIP. */
export class SerialInstrument implements Instrument {
  private grid = { start: 380, step: 10, count: 36 };

  /** @param later resolves after the given ms; core has no clock */
  constructor(
    private readonly port: LinePort,
    private readonly later: (ms: number) => Promise<void>,
  ) {}

  async connect(): Promise<InstrumentFacts> {
    await this.port.open();
    const words = await this.ask('ID', 'ID');
    const said = new Map(
      words.split(';').map((part): [string, string] => {
        const [key = '', value = ''] = part.split('=', 2);
        return [key.trim(), value.trim()];
      }),
    );
    const [start, step, count] = ['start', 'step', 'count'].map((k) => Number(said.get(k)));
    if (!(start! >= 300 && step! > 0 && count! >= 2 && count! <= MAX_BANDS))
      throw new InstrumentError(
        'refused',
        `The device on this port answers “${words.slice(0, 80)}”, which says no wavelengths. Is it an instrument that speaks as docs/instrument.md says?`,
      );
    this.grid = { start: start!, step: step!, count: count! };
    const modes = MODES.filter((m) => said.get('modes')?.split(',').includes(m));
    return {
      name: said.get('name') || 'instrument on a serial port',
      modes: modes.length > 0 ? modes : ['M0'],
      geometry: said.get('geometry') || '45/0',
    };
  }

  async calibrate(): Promise<void> {
    await this.ask('CAL', 'OK');
  }

  async measure(mode: Mode): Promise<Spectrum> {
    return this.spectrum(await this.ask(`READ ${mode}`, 'R'));
  }

  async strip(count: number, mode: Mode, each: (patch: Spectrum, i: number) => void): Promise<void> {
    await this.port.send(`STRIP ${count} ${mode}`);
    for (let i = 0; i < count; i++) each(this.spectrum(await this.answer('R')), i);
    await this.answer('OK');
  }

  close(): Promise<void> {
    return this.port.close();
  }

  private async ask(line: string, wanted: string): Promise<string> {
    await this.port.send(line);
    return this.answer(wanted);
  }

  /** What stands behind the word that was wanted. */
  private async answer(wanted: string): Promise<string> {
    const line = await Promise.race([this.port.next(), this.later(PATIENCE_MS).then(() => null)]);
    if (line === null)
      throw new InstrumentError(
        'lost',
        'The instrument does not answer. Check its cable and connect again; what was measured is kept.',
      );
    const [word = '', rest = ''] = line.trim().split(/\s(.*)/s, 2);
    if (word === wanted) return rest;
    if (word === 'ERR')
      throw new InstrumentError(
        /calib|tile/i.test(rest) ? 'calibration' : 'refused',
        `The instrument refuses: ${rest.slice(0, 200) || 'it does not say why'}.`,
      );
    throw new InstrumentError(
      'refused',
      `The instrument answered “${line.trim().slice(0, 80)}” where ${wanted} was expected. Connect it again.`,
    );
  }

  private spectrum(text: string): Spectrum {
    const { start, step, count } = this.grid;
    const values = text.trim().split(/\s+/).map(Number);
    if (values.length !== count || !values.every(Number.isFinite))
      throw new InstrumentError(
        'refused',
        `The instrument sent ${values.length} values where it has ${count} bands. Read the patch again.`,
      );
    return { start, step, values };
  }
}
