import { index, type RouteConfig, route } from '@react-router/dev/routes';
import * as assets from './api/assets';
import * as books from './api/books';
import type { Endpoint } from './api/endpoint';
import * as kits from './api/kits';
import * as libraries from './api/libraries';
import * as links from './api/links';
import * as people from './api/people';
import * as session from './api/session';
import * as shared from './api/shared';

/** A route without a page; its endpoint declares the path. */
const answer = ({ path }: Pick<Endpoint, 'path'>, file: string) => route(path.slice(1), file);

export default [
  index('routes/home.tsx'),
  route('gather', 'routes/gather-unplaced.tsx'),
  answer(libraries.listLibraries, 'routes/libraries.ts'),
  answer(assets.readSample, 'routes/sample.ts'),
  route('convert', 'routes/convert.tsx'),
  route('pdf', 'routes/pdf.tsx'),
  route('formats', 'routes/formats.tsx'),
  route('away', 'routes/away.tsx'),
  route('manifest.webmanifest', 'routes/manifest.ts'),
  route('backups', 'routes/backups.tsx'),
  route('profiles', 'routes/profiles.tsx'),
  answer(assets.listProfiles, 'routes/profiles-kept.ts'),
  answer(assets.readProfile, 'routes/profile.ts'),
  route('books', 'routes/books.tsx'),
  answer(books.listBooks, 'routes/books-kept.ts'),
  route('books/:id', 'routes/book.tsx'),
  answer(books.keepBook, 'routes/book-kept.ts'),
  answer(books.editBook, 'routes/book-facts.ts'),
  answer(books.readUses, 'routes/book-uses.ts'),
  answer(assets.readArtwork, 'routes/artwork.ts'),
  answer(kits.changePreset, 'routes/presets.ts'),
  answer(session.chooseSurround, 'routes/surround.ts'),
  answer(libraries.readChanges, 'routes/changes.ts'),
  answer(libraries.readRows, 'routes/rows.ts'),
  answer(libraries.readColumns, 'routes/colors.ts'),
  answer(libraries.readSwatches, 'routes/entries.ts'),
  answer(libraries.readHistory, 'routes/history-entries.ts'),
  answer(libraries.readWayBack, 'routes/way-back.ts'),
  answer(kits.keepKit, 'routes/kits.ts'),
  answer(assets.listPictures, 'routes/pictures.ts'),
  answer(assets.readPicture, 'routes/picture.ts'),
  answer(links.listLinks, 'routes/links.ts'),
  answer(links.changeLink, 'routes/link.ts'),
  answer(people.namePerson, 'routes/person.ts'),
  answer(people.readVisit, 'routes/visit.ts'),
  answer(people.pointAt, 'routes/present.ts'),
  route('s/:token', 'routes/shared.tsx'),
  answer(shared.readShared, 'routes/shared-view.ts'),
  answer(shared.nameVisitor, 'routes/shared-person.ts'),
  answer(shared.pickShared, 'routes/shared-picks.ts'),
  answer(shared.writeComment, 'routes/shared-comments.ts'),
  answer(shared.deleteComment, 'routes/shared-comment.ts'),
  answer(shared.sharedFile, 'routes/shared-file.ts'),
  answer(shared.sharedPicture, 'routes/shared-picture.ts'),
  answer(shared.sharedWork, 'routes/shared-work.ts'),
  route('libraries/:id', 'routes/library.tsx', [
    index('routes/library-index.ts'),
    route('gather', 'routes/gather.tsx'),
    route('arrange', 'routes/arrange.tsx'),
    route('apply', 'routes/apply.tsx'),
    route('check', 'routes/check.tsx'),
    route('hand-over', 'routes/hand-over.tsx'),
    route('history', 'routes/history.tsx'),
  ]),
  route('*', 'routes/nowhere.tsx'),
] satisfies RouteConfig;
