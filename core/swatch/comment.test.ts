import { describe, expect, it } from 'vitest';
import { formatById } from '../formats/index.ts';
import { libraryOf, services } from '../testing.ts';
import {
  addComment,
  askChoice,
  type CommentData,
  choicesIn,
  commentTable,
  isComment,
  isTalk,
  LibraryRows,
  openThreads,
  pickOption,
  removeComment,
  removeSwatches,
  threadsOf,
  withComments,
  withNewIds,
} from './index.ts';

const rows = () =>
  LibraryRows.of(
    libraryOf('Hull', {
      Deck: [
        ['Teak', '#6d4a2c'],
        ['Red', '#b3262b'],
      ],
    }),
  );
const NOW = '2026-12-01T12:00:00Z';
let clock = 1_000_000;
const said = (text: string, thread: string | null = null, more: Partial<CommentData> = {}): CommentData => ({
  by: 'me',
  author: 'Marit',
  at: clock++,
  text,
  thread,
  ...more,
});

describe('comments', () => {
  it('are threads on what they are on: open until the last mark resolves them', () => {
    const r = rows();
    const red = r.library.groups[0]!.swatches[1]!.id;
    r.apply(addComment(r, 'a', red, said('Is it within reach?')).ops);
    r.apply(addComment(r, 'b', red, said('No.', 'a')).ops);
    expect(openThreads(r.library)).toEqual(new Map([[red, 1]]));
    r.apply(addComment(r, 'c', red, said('', 'a', { mark: 'resolved' })).ops);
    const [thread] = threadsOf(r.library).get(red)!;
    expect([thread!.first.data.text, thread!.answers.map((x) => x.id), thread!.isResolved]).toEqual([
      'Is it within reach?',
      ['b', 'c'],
      true,
    ]);
    expect(openThreads(r.library).size).toBe(0);
    r.apply(addComment(r, 'd', red, said('', 'a', { mark: 'reopened' })).ops);
    expect(openThreads(r.library).get(red)).toBe(1);
    r.apply(removeComment(r.library, 'a').ops);
    expect(r.library.items).toBeUndefined();
  });

  it('go with what is deleted and come back with it, and stay with what is moved', () => {
    const r = rows();
    const red = r.library.groups[0]!.swatches[1]!.id;
    r.apply(addComment(r, 'a', red, said('Why so red?')).ops);
    const draft = withComments(removeSwatches([red]), r.library);
    expect(draft.label).toBe('delete 1 swatch with a comment');
    const { inverse } = r.apply(draft.ops);
    expect(threadsOf(r.library).size).toBe(0);
    r.apply(inverse);
    expect(threadsOf(r.library).get(red)).toHaveLength(1);
    const moved = {
      label: 'move',
      ops: [{ op: 'set' as const, of: 'swatch' as const, id: red, fields: { order: 'a9' } }],
    };
    expect(withComments(moved, r.library)).toEqual(moved);
  });

  it('are in no file, whatever its format keeps, and in a copy of the library', async () => {
    const r = rows();
    const [teak, red] = r.library.groups[0]!.swatches.map((s) => s.id) as [string, string];
    r.apply(addComment(r, 'a', red, said('Between us alone')).ops);
    r.apply(addComment(r, 'b', red, said('And us', 'a')).ops);
    r.apply(askChoice(r, 'q', 'Which one between us?', [teak, red], said('')).ops);
    for (const format of ['papillon', 'cxf', 'csv', 'svg', 'ase'])
      expect([
        format,
        new TextDecoder('latin1').decode(
          await formatById(format).encode(r.library, { ...services, now: NOW } as never),
        ),
      ]).not.toEqual([format, expect.stringMatching(/between us|and us/i)]);
    let n = 0;
    const copy = withNewIds(r.library, () => `n${++n}`);
    const [thread] = threadsOf(copy).get(copy.groups[0]!.swatches[1]!.id)!;
    expect([thread!.first.data.text, thread!.answers[0]!.data.text]).toEqual(['Between us alone', 'And us']);
  });

  it('are a table on request, with what they are on', () => {
    const r = rows();
    const [teak, red] = r.library.groups[0]!.swatches.map((s) => s.id) as [string, string];
    r.apply(addComment(r, 'a', red, said('=1+1', null, { at: 0 })).ops);
    r.apply(addComment(r, 'b', red, said('', 'a', { mark: 'resolved' })).ops);
    r.apply(addComment(r, 'c', teak, said('Fine')).ops);
    r.apply(addComment(r, 'd', 'gone', said('On nothing')).ops);
    expect(commentTable(r.library).map((row) => row.filter((_, i) => i !== 5))).toEqual([
      ['On', 'Name', 'Thread', 'State', 'By', 'Text'],
      ['swatch', 'Teak', '1', 'open', 'Marit', 'Fine'],
      ['swatch', 'Red', '1', 'resolved', 'Marit', '=1+1'],
      ['swatch', 'Red', '1', 'resolved', 'Marit', '(resolved)'],
      ['deleted', '', '1', 'open', 'Marit', 'On nothing'],
    ]);
    expect(commentTable(r.library)[2]![5]).toBe('1970-01-01T00:00:00.000Z');
  });

  it('are looked into before they are shown', () => {
    const item = { id: 'a', kind: 'comment', name: '', refs: ['s'], data: said('x') };
    expect(isComment(item)).toBe(true);
    for (const data of [
      null,
      {},
      { ...item.data, at: 'now' },
      { ...item.data, text: 5 },
      { ...item.data, author: 'x'.repeat(81) },
      { ...item.data, mark: 'resolved' },
    ])
      expect([data, isComment({ ...item, data })]).toEqual([data, false]);
    expect(isComment({ ...item, refs: [] })).toBe(false);
  });
});

describe('a choice', () => {
  it('counts what each person picked last, of what is asked', () => {
    const r = rows();
    const [teak, red] = r.library.groups[0]!.swatches.map((s) => s.id) as [string, string];
    r.apply(askChoice(r, 'q', 'Which one?', [teak, red], said('')).ops);
    const pick = (id: string, by: string, option: string) =>
      r.apply(pickOption(r, id, 'q', '', { by, author: by, at: clock++, option, text: '' }).ops);
    pick('1', 'Marit', teak);
    pick('2', 'Printer', red);
    pick('3', 'Marit', red);
    pick('4', 'Stranger', 'nothing of it');
    const [asked] = choicesIn(r.library);
    expect(asked!.picks.map((p) => [p.data.by, p.data.option])).toEqual([
      ['Printer', red],
      ['Marit', red],
    ]);
  });

  it('makes nothing that was handed over another, and neither does a comment', () => {
    const r = rows();
    const [teak, red] = r.library.groups[0]!.swatches.map((s) => s.id) as [string, string];
    const asked = r.apply(askChoice(r, 'q', 'Which one?', [teak, red], said('')).ops);
    const gone = r.apply([{ op: 'drop', of: 'item', id: 'q' }]);
    const renamed = r.apply([{ op: 'set', of: 'swatch', id: red, fields: { name: 'Signal' } }]);
    expect([isTalk(asked), isTalk(gone), isTalk(renamed)]).toEqual([true, true, false]);
  });
});
