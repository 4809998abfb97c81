import { checker, share } from '../checker.ts';
import type { Change } from './change.ts';
import type { Library } from './model.ts';
import { schemas } from './schema.ts';
import type { News, Reply, Sent } from './sync.ts';

share(schemas);

export const checkChange = checker<Change>('change');
export const checkLibrary = checker<Library>('library');
export const checkSent = checker<Sent>('sent');
export const checkNews = checker<News>('news');
export const checkReply = checker<Reply>('reply');
