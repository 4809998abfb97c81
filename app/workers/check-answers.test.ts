import { describe, expect, it } from 'vitest';
import { mend } from '#core/check/index';
import { conditionIn } from '#core/color/index';
import { countingIds, LibraryRows } from '#core/swatch/index';
import { engine, libraryOf, uncoated } from '#core/testing';
import { checkAnswers } from './check-answers';
import { StoppedError } from './worker-client';

const answers = () => checkAnswers({ condition: async (setting) => conditionIn(engine, setting) });
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
    await worker.hold({ library, against: null }, context);
    const found = await worker.run({ checks: ['press-gamut', 'names'], chosen: {} }, context);
    expect(found.map(([id, f]) => [id, f.findings.map((one) => one.name)])).toEqual([
      ['press-gamut', ['Lamp', 'Paper']],
      ['names', []],
    ]);
  });

  it('brings the profiles that options name', async () => {
    const worker = answers();
    await worker.hold({ library, against: null }, context);
    const chosen = { 'press-gamut': { beside: uncoated.setting.profile } };
    const [[, found]] = await worker.run({ checks: ['press-gamut'], chosen }, context);
    expect(found!.findings[0]!.facts.map(([what]) => what)).toContain(uncoated.name);
  });

  it('finds the mends of one finding when they are asked for', async () => {
    const worker = answers();
    const [grey, paper] = library.groups[0]!.swatches;
    const roles = structuredClone(library);
    roles.groups[0]!.swatches[0]!.role = 'text';
    roles.groups[0]!.swatches[1]!.role = 'ground';
    await worker.hold({ library: roles, against: null }, context);
    const [[, found]] = await worker.run({ checks: ['contrast'], chosen: {} }, context);
    const bare = { ...found!.findings[0]!, mends: [] };
    const whole = await worker.complete({ check: 'contrast', chosen: {}, finding: bare }, context);
    expect(whole.mends[0]!.label).toBe('Change Grey');
    const rows = LibraryRows.of(roles);
    rows.apply(mend(rows, whole, whole.mends[0]!, countingIds()).ops);
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
    await worker.hold({ library: many, against: null }, context);
    const stop = { ...context, breathe: () => Promise.reject(new StoppedError()) };
    await expect(worker.run({ checks: ['press-gamut', 'vision'], chosen: {} }, stop)).rejects.toThrow(
      StoppedError,
    );
    expect(stages.some((s) => /Press gamut|Colour vision/.test(s))).toBe(true);
    await expect(worker.run({ checks: ['none'], chosen: {} }, context)).rejects.toThrow(/no check “none”/);
    worker.release({ library: null }, context);
    await expect(worker.run({ checks: ['names'], chosen: {} }, context)).rejects.toThrow(/nothing to check/);
  });
});
