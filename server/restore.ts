import { join } from 'node:path';
import { copyChecked, folderFor, freeName, makeBackup, stampOf } from './backup.ts';
import { copyDatabase, type Sums } from './copy.ts';
import { closeDatabase, databaseUrl } from './db.ts';
import { openDatabase } from './open.ts';

/**
 * Puts a backup in place of all that a database holds, in one transaction; both may be in use. What the database held is kept
 * as a backup first.
 *
 * @returns what was restored, and the file that holds what was there before
 * @throws BackupError when the file cannot be proved to be sound; then nothing has been changed
 */
export async function restoreBackup(
  file: string,
  url = databaseUrl(),
): Promise<{ sums: Sums; kept: string }> {
  const copy = await copyChecked(file);
  try {
    const from = await openDatabase(copy.url, { backup: false });
    try {
      const to = await openDatabase(url);
      try {
        const kept = freeName(join(folderFor(process.env, url), `before-restore-${stampOf(new Date())}.db`));
        await makeBackup(to, url, kept);
        return { sums: await copyDatabase(from, to), kept };
      } finally {
        closeDatabase(to);
      }
    } finally {
      closeDatabase(from);
    }
  } finally {
    copy.remove();
  }
}
