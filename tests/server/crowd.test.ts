import { describe, expect, it } from 'vitest';
import { SqlServer, sqldPath } from '../libsql/real.ts';
import { type Crowd, crowd } from './crowd.ts';

// `npm run soak -- crowd` makes it 50 people for as long as is wanted.

const minutes = Number(process.env.PAPILLON_MINUTES ?? 0);
const size: Crowd =
  minutes > 0
    ? { people: 50, editors: 10, editsPerSecond: 4, seconds: minutes * 60, lost: 0.1, servers: 1, seed: 1 }
    : { people: 12, editors: 4, editsPerSecond: 4, seconds: 6, lost: 0.1, servers: 1, seed: 1 };
const LIMIT_MS = (minutes + 5) * 60_000;

async function holds(asked: Crowd): Promise<void> {
  const { edits, different, doubled, missing, ...times } = await crowd(asked);
  console.log(`${asked.people} people, ${asked.servers} servers: ${edits} edits, ${JSON.stringify(times)}`);
  expect(edits).toBeGreaterThan(asked.seconds * asked.editors);
  expect({ different, doubled, missing }).toEqual({ different: [], doubled: 0, missing: 0 });
}

describe('many people at one library, over a connection that loses a tenth of the requests', () => {
  it('end with the same pages and database, and nothing lost or done twice', () => holds(size), LIMIT_MS);

  it.skipIf(!sqldPath())(
    'so they do over two servers on one database server, each hearing what the other writes',
    async () => {
      const sql = (await SqlServer.start())!;
      try {
        await holds({ ...size, servers: 2, databaseUrl: sql.url });
      } finally {
        await sql.stop();
      }
    },
    LIMIT_MS,
  );
});
