import Papa from 'papaparse';
import { commentTable } from '../../swatch/comment-list.ts';
import type { Library } from '../../swatch/model.ts';
import { writeText } from '../../text/text.ts';
import { safe } from './csv.ts';

/** The comments of a library as CSV, a line each: what they are on, their thread and its state, who wrote them, when (ISO 8601), and what. */
export const writeComments = (library: Library): Uint8Array<ArrayBuffer> =>
  writeText(`\uFEFF${Papa.unparse(commentTable(library).map((row) => row.map(safe)))}\r\n`);
