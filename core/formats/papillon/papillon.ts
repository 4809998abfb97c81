import { SPACES } from '../../color/index.ts';
import { optionOf } from '../../options.ts';
import { ShapeError } from '../../shape.ts';
import { BOARD, boardAgain, boardsOf, isBoard } from '../../swatch/board.ts';
import { commentsForFile } from '../../swatch/comment-file.ts';
import { itemAgain } from '../../swatch/items.ts';
import type { Item } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { isRecord, parseJson } from '../../text/json.ts';
import { readText, sniff, writeText } from '../../text/text.ts';
import { commentsOption } from '../comments.ts';
import { decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { checkFile } from './checks.ts';
import { type Bare, VERSION } from './schema.ts';

export const papillon: PlainFormat = {
  id: 'papillon',
  name: 'Papillon',
  about: 'Papillon’s own file. Keeps everything, spectra and origins too.',
  endings: ['papillon.json'],
  mime: 'application/json',
  options: [commentsOption],
  traits: {
    read: true,
    write: true,
    names: true,
    groups: true,
    kinds: ['process', 'spot', 'technical'],
    spaces: [...SPACES],
    bits: 64,
  },

  recognise: (bytes) => (/^\uFEFF?\s*\{\s*"papillon"\s*:\s*\d/.test(sniff(bytes, 200) ?? '') ? 1 : 0),

  decode: decoder((bytes, draft) => {
    const data = parseJson(readText(bytes) ?? '');
    if (isRecord(data) && typeof data.papillon === 'number' && data.papillon > VERSION)
      throw new FormatError(
        `its version is ${data.papillon}; this Papillon reads up to ${VERSION}. Open it with a newer one.`,
      );
    let library: Bare;
    try {
      library = checkFile(data).library;
    } catch (error) {
      if (error instanceof ShapeError)
        throw new FormatError(`it does not hold what it should: ${error.message}`);
      throw error;
    }
    draft.name = library.name;
    if (library.note !== undefined) draft.note = library.note;
    if (library.columns !== undefined) draft.columns = library.columns;
    if (library.condition) draft.condition = library.condition;
    if (library.book) draft.book = library.book;
    const boards = (library.items ?? []).map((item): Item => ({ ...item, id: '', refs: [] })).filter(isBoard);
    draft.items = (library.items ?? []).filter((item) => item.kind !== BOARD);
    const groups = library.groups.map((group, i) => {
      const own = i > 0 || group.name !== '' ? draft.enter(group.name) : draft.loose;
      for (const swatch of group.swatches) draft.add(swatch);
      return own;
    });
    for (const board of boards) draft.addBoard(board, groups);
    draft.comments = library.comments ?? [];
  }),

  encode({ id: _, items = [], ...library }, __, options) {
    const groups = library.groups.map((g) => ({
      name: g.name,
      swatches: g.swatches.map(({ id: ___, ...swatch }) => swatch),
    }));
    const places = new Map(library.groups.flatMap((g) => g.swatches).map((s, at) => [s.id, at]));
    // what refers to swatches that are not there is left out with them
    const whole = items.flatMap((item) => {
      const again = itemAgain(item, (id) => places.get(id));
      return again ? [again] : [];
    });
    const kept: NonNullable<Bare['items']> = whole.map(({ id: ____, ...rest }) => rest);
    // a board refers by kind and place; the file contains neither pictures nor artwork
    const shown = new Map([
      ...[...places].map(([id, at]) => [id, `swatch ${at}`] as const),
      ...library.groups.map((g, at) => [g.id, `group ${at}`] as const),
      ...whole.map(({ id }, at) => [id, `item ${at}`] as const),
    ]);
    for (const board of boardsOf({ items })) {
      const again = boardAgain(board, (id) => shown.get(id));
      if (!again) continue;
      shown.set(board.id, `item ${kept.length}`);
      kept.push({ kind: again.kind, name: again.name, data: again.data });
    }
    const comments = optionOf(papillon, options, 'comments')
      ? commentsForFile({ items }, (id) => shown.get(id))
      : [];
    const bare: Omit<Bare, 'groups'> = {
      ...library,
      ...(kept.length > 0 ? { items: kept } : {}),
      ...(comments.length > 0 ? { comments } : {}),
    };
    // a swatch to a line: short enough for people, and for what a file may have
    const lines = groups.map(
      (g) =>
        `{"name":${JSON.stringify(g.name)},"swatches":[\n${g.swatches.map((s) => JSON.stringify(s)).join(',\n')}\n]}`,
    );
    const { groups: _____, ...rest } = bare as Bare;
    return writeText(
      `{"papillon":${comments.length > 0 ? VERSION : 3},"library":${JSON.stringify(rest).slice(0, -1)},"groups":[\n${lines.join(',\n')}\n]}}\n`,
    );
  },
};
