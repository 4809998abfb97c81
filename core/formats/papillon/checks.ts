import { checker } from '../../checker.ts';
import { type Bare, fileSchema } from './schema.ts';

export const checkFile = checker<{ papillon: number; library: Bare }>(fileSchema);
