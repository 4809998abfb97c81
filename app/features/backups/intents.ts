/** What the page of backups can ask of the server. */
export type BackupIntent = { intent: 'backup' } | { intent: 'restore'; name: string };
