// A copy of all data for safety, and back: npm run backup [-- FILE], npm run restore -- FILE. Both while the server runs.
import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { copyDatabase, type Sums } from '../server/copy.ts';
import { closeDatabase, databaseUrl, isFile } from '../server/db.ts';
import { openDatabase } from '../server/open.ts';

const [what, file] = process.argv.slice(2);
const where = databaseUrl().replace(/\?.*/, '');
const told = (sums: Sums) =>
  `${sums.libraries.rows} libraries and books, ${sums.swatches.rows} swatches, ${sums.changes.rows} changes, ${sums.pictures.rows} kept pictures`;
const refuse = (why: string): never => {
  console.error(why);
  process.exit(2);
};

async function backup(to: string): Promise<void> {
  if (existsSync(to)) refuse(`${to} is there already. Nothing is overwritten; give another name.`);
  if (isFile(where) && !existsSync(where.slice('file:'.length))) refuse(`There are no data at ${where} yet.`);
  const copy = await openDatabase(`file:${to}`);
  const sums = await copyDatabase(await openDatabase(), copy);
  closeDatabase(copy);
  // opened again as anyone would, and looked through
  const again = await openDatabase(`file:${to}`);
  const [{ integrity_check: sound }] = (await again.$client.execute('PRAGMA integrity_check'))
    .rows as unknown as {
    integrity_check: string;
  }[];
  // so that the one file is all of it
  await again.$client.execute('PRAGMA wal_checkpoint(TRUNCATE)');
  closeDatabase(again);
  if (sound !== 'ok') throw new Error(`The copy is damaged: ${sound}`);
  console.log(`Everything at ${where} is in ${to}, read again and the same: ${told(sums)}.`);
}

async function restore(from: string): Promise<void> {
  if (!existsSync(from)) refuse(`There is no file ${from}.`);
  const sums = await copyDatabase(await openDatabase(`file:${from}`), await openDatabase());
  console.log(`${where} holds what is in ${from}, read again and the same: ${told(sums)}.`);
}

const stamp = new Date().toISOString().slice(0, 16).replace(/[:T]/g, '-');
try {
  if (what === 'backup') await backup(resolve(file ?? `data/backups/papillon-${stamp}.db`));
  else if (what === 'restore' && file) await restore(resolve(file));
  else refuse('npm run backup [-- FILE], or npm run restore -- FILE');
  process.exit(0);
} catch (error) {
  console.error(
    `${what === 'backup' ? 'No copy was made' : 'Nothing was changed'}: ${(error as Error).message}`,
  );
  process.exit(1);
}
