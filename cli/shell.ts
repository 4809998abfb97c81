import type { Command } from 'commander';
import { STREAM, type Streams } from './files.ts';

/** What every command is given. */
export interface Shell {
  streams: Streams;
  /** Reports one JSON value, or the same as text. */
  print(json: boolean | undefined, value: unknown, text: string): void;
  /** The same of a file that was written: beside it, where it is standard output. */
  report(file: string | undefined, json: boolean | undefined, value: unknown, text: string): void;
  /** What one should know; it is part of the JSON value where that is reported. */
  note(json: boolean | undefined, warnings: readonly string[]): void;
}

/** Adds commands to the program. */
export type AddCommands = (program: Command, shell: Shell) => void;

export function shellOf(streams: Streams): Shell {
  const said = (json: boolean | undefined, value: unknown, text: string) =>
    json ? `${JSON.stringify(value)}\n` : text;
  return {
    streams,
    print: (json, value, text) => streams.out(said(json, value, text)),
    report: (file, json, value, text) =>
      (file === STREAM ? streams.err : streams.out)(said(json, value, text)),
    note: (json, warnings) => {
      if (!json) for (const warning of warnings) streams.err(`Note: ${warning}\n`);
    },
  };
}

/** What was checked does not hold: nothing is wrong with the input, and a build is to stop all the same. */
export class FallsShort extends Error {}
