import { sql } from 'drizzle-orm';
import type { RequestHandler } from 'express';
import { database } from '../open.ts';

/** A database that has not answered by then is not reached, ms. */
const PATIENCE_MS = 3000;

/** Whether this server takes requests and reaches its data; it reports nothing else. */
export function health(isEnding: () => boolean): RequestHandler {
  return async (_request, response) => {
    const reached = await Promise.race([
      database()
        .then((db) => db.run(sql`SELECT 1`))
        .then(
          () => true,
          () => false,
        ),
      new Promise<false>((done) => setTimeout(() => done(false), PATIENCE_MS).unref()),
    ]);
    const ready = reached && !isEnding();
    response.setHeader('Cache-Control', 'no-store');
    response.status(ready ? 200 : 503).json({ ready, database: reached });
  };
}
