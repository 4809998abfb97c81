import { useCallback, useState } from 'react';
import type { PdfChange } from '#core/pdf/change';
import type { OpenedPdf } from '~/messages/files-messages';
import { download } from '~/ui/download';
import { useJob } from '~/ui/use-job';
import { openFilesClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';

/** An ink with the part of each page that it covers, 0–1. */
export type ShownInk = OpenedPdf['inks'][number];

interface Open {
  file: File;
  /** Made on the file as it came, in this order; those behind `at` were taken back. */
  changes: PdfChange[];
  at: number;
  pdf: OpenedPdf;
}

/** A PDF with its changes, which can be taken back and made again one by one. */
export function usePdf() {
  const [open, setOpen] = useState<Open | null>(null);
  const files = useClient(openFilesClient);
  const { job, start, stop } = useJob(files.stop);
  const look = useCallback(
    (title: string, file: File, changes: PdfChange[], at: number, done?: () => void) =>
      start(title, async ({ stage, isWanted }) => {
        const pdf = await files.ask('inks', { file, changes: changes.slice(0, at) }, stage);
        if (!isWanted()) return;
        setOpen({ file, changes, at, pdf });
        done?.();
      }),
    [files, start],
  );
  const take = useCallback((file: File) => look('Reading the PDF', file, [], 0), [look]);
  const name = open?.file.name.replace(/\.pdf$/i, '') ?? '';
  return {
    open,
    job,
    stop,
    take,
    /** A change that cannot be made is reported, and the file stays as it was. @param done once it is made */
    change: (next: PdfChange, done?: () => void) => {
      if (!open) return;
      const changes = [...open.changes.slice(0, open.at), next];
      void look('Changing the inks', open.file, changes, changes.length, done);
    },
    step: (way: -1 | 1) => {
      if (open) void look('Changing the inks', open.file, open.changes, open.at + way);
    },
    save: (as: 'pdf' | 'fresh' | 'cxf' | 'profile') =>
      start('Writing the file', async ({ stage, isWanted }) => {
        if (!open) return;
        const changes = open.changes.slice(0, open.at);
        const made = await files.ask('inksFile', { file: open.file, name, changes, as }, stage);
        if (isWanted()) download(made.name, made.bytes, made.mime);
      }),
    /** The inks of a file of measurements. */
    measured: async (file: File) => (await files.ask('measure', { files: [{ file, path: file.name }] })).inks,
  };
}
