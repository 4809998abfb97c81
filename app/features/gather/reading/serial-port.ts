import type { LinePort } from '#core/instrument/serial';

/** A serial port as a browser has it (Web Serial), as far as it is used. */
interface Port {
  open(options: { baudRate: number }): Promise<void>;
  close(): Promise<void>;
  readable: ReadableStream<Uint8Array<ArrayBuffer>>;
  writable: WritableStream<Uint8Array<ArrayBuffer>>;
}

const BAUD = 115_200;
/** An instrument never sends a longer line. */
const MAX_LINE = 100_000;

/** The port that the user chooses, line by line. */
export async function serialLines(): Promise<LinePort> {
  const { serial } = navigator as Navigator & { serial: { requestPort(): Promise<Port> } };
  return linesOfPort(await serial.requestPort());
}

function linesOfPort(port: Port): LinePort {
  let reader: ReadableStreamDefaultReader<string> | null = null;
  let writer: WritableStreamDefaultWriter<Uint8Array<ArrayBuffer>> | null = null;
  let rest = '';
  return {
    async open() {
      // connected again after the cable was pulled, the port is reopened
      if (writer) await this.close().catch(() => undefined);
      await port.open({ baudRate: BAUD });
      reader = port.readable.pipeThrough(new TextDecoderStream()).getReader();
      writer = port.writable.getWriter();
      rest = '';
    },
    send: async (line) => {
      await writer?.write(new TextEncoder().encode(`${line}\n`) as Uint8Array<ArrayBuffer>);
    },
    async next() {
      while (reader) {
        const end = rest.indexOf('\n');
        if (end >= 0) {
          const line = rest.slice(0, end).replace(/\r$/, '');
          rest = rest.slice(end + 1);
          if (line.trim()) return line;
          continue;
        }
        const { value, done } = await reader.read().catch(() => ({ value: undefined, done: true }));
        if (done || value === undefined || rest.length > MAX_LINE) return null;
        rest += value;
      }
      return null;
    },
    async close() {
      await reader?.cancel().catch(() => undefined);
      writer?.releaseLock();
      [reader, writer] = [null, null];
      await port.close().catch(() => undefined);
    },
  };
}
