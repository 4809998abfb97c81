import { describe, expect, it } from 'vitest';
import { coated } from '../testing.ts';
import { codeEntries, readCodes, toHex } from './index.ts';

const lines = (...texts: string[]) => texts.map((text) => ({ text, read: readCodes(text), own: {} }));
const plain = { answers: {}, suggest: false, once: false };

describe('lines of codes together', () => {
  it('give their colours in order, by their names or their codes', () => {
    const { taken } = codeEntries(lines('Hull: #8a1c24', 'rgb(47 125 107)'), plain, coated);
    expect(taken.map((c) => c.name)).toEqual(['Hull', '#2F7D6B']);
    expect(taken.map((c) => c.suggested)).toEqual([false, false]);
  });

  it('say which line had a colour before, and leave it out when it is needed once', () => {
    const twice = lines('#8a1c24', 'Hull #8A1C24');
    expect(codeEntries(twice, plain, coated)).toMatchObject({
      repeats: 1,
      entries: [{ same: null }, { same: 1 }],
    });
    expect(codeEntries(twice, plain, coated).taken.length).toBe(2);
    expect(codeEntries(twice, { ...plain, once: true }, coated).taken.length).toBe(1);
  });

  it('ask once for all codes that leave the same thing open, and take one answer for all', () => {
    const open = lines('8a1c24ff', '2f7d6b80');
    const { questions, taken } = codeEntries(open, plain, coated);
    expect(taken).toEqual([]);
    expect(questions).toMatchObject([
      { question: 'alpha', codes: 2, readings: [{ id: 'last' }, { id: 'first' }] },
    ]);
    const answered = codeEntries(open, { ...plain, answers: { alpha: 'first' } }, coated);
    expect(answered.questions).toEqual([]);
    expect(answered.taken.map((c) => toHex(c.color, coated))).toEqual(['#1c24ff', '#7d6b80']);
  });

  it('count what is not a colour and what has a slip in it', () => {
    const { unread, wrong } = codeEntries(lines('see page four', 'rgb(300 0 0)'), plain, coated);
    expect(unread).toBe(1);
    expect(wrong).toBe(1);
  });

  it('suggest a name where there is none', () => {
    const { taken } = codeEntries(lines('#8a1c24', 'Deck #2f7d6b'), { ...plain, suggest: true }, coated);
    expect(taken[0]!.suggested).toBe(true);
    expect(taken[0]!.name).toMatch(/[a-z]/);
    expect(taken[1]).toMatchObject({ name: 'Deck', suggested: false });
  });
});
