import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { backupsFolder, folderFor } from './backup.ts';
import { log } from './log.ts';
import { database } from './open.ts';
import { clearBin } from './shelves.ts';

// Backups are made and restored in a process of their own: neither holds up those who work meanwhile.

export interface Job {
  what: 'backup' | 'restore';
  /** When it was begun, ms; identifies it. */
  begun: number;
  /** Null while it goes on. */
  done: { ok: boolean; says: string } | null;
}

let job: Job | null = null;

/** What is being done, or was done last since the server started. */
export const lastJob = (): Job | null => job;

const FIRST_LOOK_MS = 10_000;
const LOOK_MS = 15 * 60_000;

/** Makes a backup every day while the server runs; returns what ends that. */
export function keepBackups(): () => void {
  if (!backupsFolder()) return () => undefined;
  const look = () => {
    void runScript(['backup', '--daily']).then(({ ok, says }) => {
      if (!ok) log.error({ says }, 'No backup was made');
      else if (says) log.info('Backup made');
    });
  };
  const first = setTimeout(look, FIRST_LOOK_MS);
  const every = setInterval(look, LOOK_MS);
  first.unref();
  every.unref();
  return () => {
    clearTimeout(first);
    clearInterval(every);
  };
}

const BIN_MS = 6 * 3_600_000;

/** Clears the bin of what has been in it for too long, while the server runs; returns what ends that. */
export function keepBin(): () => void {
  const look = () => {
    database()
      .then((db) => clearBin(db))
      .then((libraries) => {
        if (libraries > 0) log.info({ libraries }, 'Removed from the bin');
      })
      .catch((error) => log.error({ error }, 'The bin was not cleared'));
  };
  const first = setTimeout(look, FIRST_LOOK_MS);
  const every = setInterval(look, BIN_MS);
  first.unref();
  every.unref();
  return () => {
    clearTimeout(first);
    clearInterval(every);
  };
}

/** Begins a backup or the restoring of one; false when something of the kind is going on. @param name of a file in the folder */
export function begin(what: Job['what'], name?: string): boolean {
  if (job && !job.done) return false;
  const mine: Job = { what, begun: Date.now(), done: null };
  job = mine;
  log.info({ what }, 'Begun');
  void runScript(name === undefined ? [what] : [what, join(folderFor(), name)]).then((done) => {
    mine.done = done;
    log[done.ok ? 'info' : 'error']({ what, ok: done.ok }, 'Done');
  });
  return true;
}

/** `scripts/data.ts`, as the build makes it. */
const SCRIPT = 'build/data/main.mjs';

async function runScript(args: string[]): Promise<{ ok: boolean; says: string }> {
  if (!existsSync(SCRIPT))
    return { ok: false, says: 'The command for it is not built yet. Run “npm run build”, then try again.' };
  return new Promise((resolve) => {
    const child = spawn(process.execPath, [SCRIPT, ...args], {
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let [out, err] = ['', ''];
    child.stdout.on('data', (data) => {
      out += data;
    });
    child.stderr.on('data', (data) => {
      err += data;
    });
    child.on('error', (error) => resolve({ ok: false, says: error.message }));
    child.on('close', (code) => resolve({ ok: code === 0, says: (code === 0 ? out : err).trim() }));
  });
}
