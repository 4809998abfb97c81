import { expect, it } from 'vitest';
import { people } from './people.ts';

const rounds = Number(process.env.PAPILLON_ROUNDS ?? 60);
const seed = Number(process.env.PAPILLON_SEED ?? 24);

it(`three people edit one library at random for ${rounds} rounds, and hold the same rows as the database after each`, async () => {
  const { edits, undone } = await people(rounds, seed, (round) => {
    if (rounds > 100 && round % 200 === 0) console.log(`round ${round}`);
  });
  expect(edits).toBeGreaterThan(rounds);
  expect(undone).toBeGreaterThan(rounds / 4);
}, 3_600_000);
