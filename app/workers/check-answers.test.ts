import { describe, expect, it } from 'vitest';
import { fix } from '#core/check/index';
import { conditionIn } from '#core/color/index';
import { countingIds, type Library, LibraryRows } from '#core/swatch/index';
import { engine, libraryOf, uncoated } from '#core/testing';
import { piecesOf } from '~/messages/pieces';
import { checkAnswers } from './check-answers';
import { StoppedError } from './worker-client';

const answers = () => checkAnswers({ condition: async (setting) => conditionIn(engine, setting) });
/** Brings a library to the worker as the page does. */
const hold = async (worker: ReturnType<typeof answers>, library: Library, against: Library | null = null) => {
  let pieces = 0;
  for (const piece of piecesOf(library, against)) {
    await worker.hold(structuredClone(piece), context);
    pieces++;
  }
  return pieces;
};
const stages: string[] = [];
const context = { stage: (text: string) => void stages.push(text), breathe: async () => undefined };
const library = libraryOf('Signs', {
  '': [
    ['Grey', '#999999'],
    ['Paper', '#ffffff'],
    ['Lamp', '#00ff00'],
  ],
});

describe('the check worker', () => {
  it('runs the checks it is asked for on what it holds', async () => {
    const worker = answers();
    await hold(worker, library);
    const found = await worker.run({ checks: ['press-gamut', 'names'], chosen: {} }, context);
    expect(found.map(([id, f]) => [id, f.findings.map((one) => one.name)])).toEqual([
      ['press-gamut', ['Lamp', 'Paper']],
      ['names', []],
    ]);
  });

  it('brings the profiles that options name', async () => {
    const worker = answers();
    await hold(worker, library);
    const chosen = { 'press-gamut': { beside: uncoated.setting.profile } };
    const [[, found]] = await worker.run({ checks: ['press-gamut'], chosen }, context);
    expect(found!.findings[0]!.facts.map(([what]) => what)).toContain(uncoated.name);
  });

  it('finds the fixes of one finding when they are asked for', async () => {
    const worker = answers();
    const [grey, paper] = library.groups[0]!.swatches;
    const roles = structuredClone(library);
    roles.groups[0]!.swatches[0]!.role = 'text';
    roles.groups[0]!.swatches[1]!.role = 'ground';
    await hold(worker, roles);
    const [[, found]] = await worker.run({ checks: ['contrast'], chosen: {} }, context);
    const bare = { ...found!.findings[0]!, fixes: [] };
    const whole = await worker.complete({ check: 'contrast', chosen: {}, finding: bare }, context);
    expect(whole.fixes[0]!.label).toBe('Change Grey');
    const rows = LibraryRows.of(roles);
    rows.apply(fix(rows, whole, whole.fixes[0]!, countingIds()).ops);
    expect(rows.find(grey!.id)!.swatch.color).not.toEqual(grey!.color);
    expect(rows.find(paper!.id)!.swatch.color).toEqual(paper!.color);
  });

  it('lets a wish to stop come in, and says what is wrong with what it is asked', async () => {
    const worker = answers();
    const many = libraryOf('Many', {
      '': Array.from({ length: 4000 }, (_, i): [string, string] => [
        `n${i}`,
        `#${(i * 4099).toString(16).padStart(6, '0').slice(-6)}`,
      ]),
    });
    await hold(worker, many);
    const stop = { ...context, breathe: () => Promise.reject(new StoppedError()) };
    await expect(worker.run({ checks: ['press-gamut', 'vision'], chosen: {} }, stop)).rejects.toThrow(
      StoppedError,
    );
    expect(stages.some((s) => /Press gamut|Colour vision/.test(s))).toBe(true);
    await expect(worker.run({ checks: ['none'], chosen: {} }, context)).rejects.toThrow(
      /Unknown check “none”/,
    );
    await expect(answers().run({ checks: ['names'], chosen: {} }, context)).rejects.toThrow(
      /has not arrived yet/,
    );
  });

  it('gets large libraries in pieces, and what they are held against, each in its place', async () => {
    const worker = answers();
    const many = libraryOf('Many', {
      A: Array.from({ length: 2500 }, (_, i): [string, string] => [`n${i}`, '#2f7d6b']),
      B: [['last', '#8a1c24']],
    });
    expect(await hold(worker, many, structuredClone(many))).toBe(1 + 2 * (3 + 1));
    const [[, found]] = await worker.run({ checks: ['against'], chosen: {} }, context);
    expect(found!.title).toBe('Nothing differs from “Many”');
    // the next takes the place of all of it
    await hold(worker, library, many);
    const [[, next]] = await worker.run({ checks: ['against'], chosen: {} }, context);
    expect(next!.total).toBe(2501 + 3);
  });
});
