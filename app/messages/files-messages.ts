import type { ConditionSetting } from '#core/color/index';
import type { ReportHead, ReportRow } from '#core/formats/changes';
import type { Kit } from '#core/formats/kit';
import type { FileChoice, KitChoices } from '#core/formats/plan';
import type { RoundTrip } from '#core/formats/take-back';
import type { PdfChange } from '#core/pdf/change';
import type { PdfFacts, PdfInk } from '#core/pdf/inks';
import type { Ramps, ReadingForm, Reported } from '#core/reading/index';
import type { Library } from '#core/swatch/index';
import type { HoldQueries } from './pieces';

/** A swatch file that was read, as it travels between worker and page. */
export interface ReadLibrary {
  format: string;
  library: Library;
  warnings: string[];
  /** Profiles that came with it. */
  profiles?: Uint8Array<ArrayBuffer>[];
}

/** What a library needs to be written where it is not kept: the profiles its file brought. */
interface Brought {
  profiles?: Uint8Array<ArrayBuffer>[] | undefined;
}

/** What became of one file that came in, alone or out of an archive. `richer` has the same colours, and more with them. */
export type Came =
  | { kind: 'swatches'; path: string; read: ReadLibrary; richer?: string }
  | { kind: 'drawing'; path: string; file: Blob }
  | { kind: 'picture'; path: string; file: Blob }
  | { kind: 'problem'; path: string; message: string; sound?: ReadLibrary }
  | { kind: 'skipped'; path: string; message: string };

export interface WrittenFile {
  name: string;
  bytes: Uint8Array<ArrayBuffer>;
  mime: string;
}

/** A PDF as its page shows it. */
export interface OpenedPdf {
  facts: PdfFacts;
  inks: (PdfInk & { coverage: number[] })[];
  /** What coverage leaves out or estimates. */
  passed: string[];
  /** The file with its changes; null where nothing is changed. */
  changed: Blob | null;
}

/** Rows per message. */
export const ROWS_AT_ONCE = 200;

export interface FoundChanges {
  /** The id of the report. */
  report: string;
  head: ReportHead;
  rows: ReportRow[];
}

/** What the page asks the files worker, and what comes back for each. */
export type FileQueries = HoldQueries & {
  /** `chips`: which drawings are read as sheets of chips, by their paths; as they look, where not given. */
  read: {
    ask: { files: { file: Blob; path: string }[]; text: boolean; chips?: Record<string, boolean> };
    answer: Came[];
  };
  /** Measured inks with what they lack, and which files hold something else, by their places. */
  measure: {
    ask: { files: { file: Blob; path: string }[]; ramps?: string[] };
    answer: Ramps & { others: number[] };
  };
  /** The inks of a PDF after changes, with what each covers on every page. */
  inks: { ask: { file: Blob; changes: PdfChange[] }; answer: OpenedPdf };
  /** The PDF with its changes behind it or as a new file, its measurements as CxF, or the profile of its output intent. */
  inksFile: {
    ask: { file: Blob; name: string; changes: PdfChange[]; as: 'pdf' | 'fresh' | 'cxf' | 'profile' };
    answer: WrittenFile;
  };
  /** Measured inks as a file of one of these forms, or a report; compared with another measurement where one is given. */
  readingFile: {
    ask: { readings: Reported[]; form: 'report' | ReadingForm['id']; setting: ConditionSetting };
    answer: WrittenFile;
  };
  /** What changes of the library that is held; its first rows come with it. */
  changes: { ask: { choice: FileChoice } & Brought; answer: FoundChanges };
  /** More rows of a report; null when the worker no longer has it. */
  rows: { ask: { report: string; from: number }; answer: ReportRow[] | null };
  /** One file, or a zip of several where the choice makes more than one. */
  write: { ask: { library: Library; choice: FileChoice }; answer: WrittenFile };
  kit: {
    ask: { library: Library; choices: KitChoices; revision: number; takenAt: string };
    answer: Kit;
  };
  /** What was done to a file since it was handed over. */
  comeBack: {
    ask: { base: Library; choice: FileChoice; path: string; returned: Library };
    answer: RoundTrip;
  };
  /** Many libraries in many formats, as one zip. */
  convert: { ask: { libraries: Library[]; formats: FileChoice[] } & Brought; answer: WrittenFile };
};
