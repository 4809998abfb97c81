import type { FormatFacts } from './format.ts';
import { formats } from './registry.ts';

/** The facts of every format. The build puts these data in the place of this module, so that pages load no reader or writer. */
export const formatFacts: FormatFacts[] = formats.map(({ recognise, decode, encode, ...facts }) => facts);
