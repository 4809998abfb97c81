import { type Asked, type Check, checkById, leftAlone, profilesNamed, runCheck } from '#core/check/index';
import { type Condition, conditionOf, usualInkLimit } from '#core/color/index';
import { allSwatches } from '#core/swatch/index';
import type { Colors } from '~/colors/colors';
import type { CheckQueries } from '~/messages/check-messages';
import { Held } from './held';
import type { Answers } from './worker-client';

/** A job that takes longer lets others in, and says how far it is, so often, ms. */
const BREATH_MS = 40;

/** What the check worker does. */
export function checkAnswers(colors: Pick<Colors, 'condition'>): Answers<CheckQueries> {
  const held = new Held();

  const known = (id: string): Check => {
    const check = checkById(id);
    if (!check) throw new Error(`Unknown check “${id}”.`);
    return check;
  };
  async function conditions(checks: Check[], chosen: CheckQueries['run']['ask']['chosen']) {
    const setting = conditionOf(held.whole);
    const swatches = [...allSwatches(held.whole), ...(held.against ? allSwatches(held.against) : [])];
    const condition = await colors.condition(
      setting,
      swatches.map((s) => s.color),
    );
    condition.prepare(swatches.map((s) => s.color));
    const beside = new Map<string, Condition>();
    for (const profile of profilesNamed(checks, chosen))
      beside.set(profile, await colors.condition({ ...setting, profile, inkLimit: usualInkLimit(profile) }));
    return { condition, beside };
  }

  return {
    ...held.answers,

    async run({ checks: ids, chosen }, { stage, breathe }) {
      const checks = ids.map(known);
      const { condition, beside } = await conditions(checks, chosen);
      const found: CheckQueries['run']['answer'] = [];
      let last = performance.now();
      for (const check of checks) {
        const breath: Asked['breathe'] = async (done, of) => {
          const now = performance.now();
          if (now - last < BREATH_MS) return;
          stage(`${check.title}, ${Math.round((done / Math.max(1, of)) * 100)} %`);
          await breathe();
          last = performance.now();
        };
        found.push([
          check.id,
          await runCheck(check, held.whole, chosen, {
            condition,
            beside,
            against: held.against,
            breathe: breath,
          }),
        ]);
      }
      return found;
    },

    async complete({ check: id, chosen, finding }) {
      const check = known(id);
      if (!check.complete) return finding;
      const { condition, beside } = await conditions([check], chosen);
      return check.complete(finding, {
        library: held.whole,
        condition,
        options: chosen[id] ?? {},
        beside,
        against: held.against,
        alone: leftAlone(held.whole, id),
        breathe: async () => undefined,
      });
    },
  };
}
