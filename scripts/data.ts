// A copy of all data for safety, and back: npm run backup [-- FILE | --daily], npm run restore -- FILE. Both while the server runs.
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { BackupError, backUpDaily, folderFor, freeName, makeBackup, stampOf } from '../server/backup.ts';
import type { Sums } from '../server/copy.ts';
import { closeDatabase, connect, databaseUrl, isFile } from '../server/db.ts';
import { restoreBackup } from '../server/restore.ts';

const [what, file] = process.argv.slice(2);
const url = databaseUrl();
const where = url.replace(/\?.*/, '');
const described = (sums: Sums) =>
  `${sums.libraries?.rows ?? 0} libraries and books, ${sums.swatches?.rows ?? 0} swatches, ${sums.changes?.rows ?? 0} changes, ${sums.pictures?.rows ?? 0} kept pictures`;

class UsageError extends Error {}

async function backup(to: string): Promise<void> {
  if (existsSync(to))
    throw new UsageError(`${to} is there already. Nothing is overwritten; give another name.`);
  if (isFile(where) && !existsSync(where.slice('file:'.length)))
    throw new UsageError(`Nothing is stored at ${where} yet.`);
  const db = await connect(url);
  const { sums } = await makeBackup(db, url, to).finally(() => closeDatabase(db));
  console.log(`Everything at ${where} is in ${to}, read again and the same: ${described(sums)}.`);
}

async function restore(from: string): Promise<void> {
  if (!existsSync(from)) throw new UsageError(`${from} does not exist.`);
  const { sums, kept } = await restoreBackup(from, url).catch((error) => {
    if (error instanceof BackupError) throw new BackupError(`${from} cannot be restored. ${error.message}`);
    throw error;
  });
  console.log(`${where} holds what is in ${from}, read again and the same: ${described(sums)}.`);
  console.log(`What it held before is in ${kept}.`);
}

try {
  if (what === 'backup' && file === '--daily') {
    const made = await backUpDaily();
    if (made) console.log(made);
  } else if (what === 'backup')
    await backup(resolve(file ?? freeName(join(folderFor(), `papillon-${stampOf(new Date())}.db`))));
  else if (what === 'restore' && file) await restore(resolve(file));
  else throw new UsageError('npm run backup [-- FILE], or npm run restore -- FILE');
  process.exit(0);
} catch (error) {
  const { message } = error as Error;
  if (error instanceof UsageError) {
    console.error(message);
    process.exit(2);
  }
  console.error(`${what === 'backup' ? 'No backup was made' : 'Nothing was changed'}: ${message}`);
  process.exit(1);
}
