import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { writableFacts } from '#core/formats/plan';
import type { Library } from '#core/swatch/index';
import type { Summary } from '#server/libraries';
import { useStores } from '~/state/stores';
import { download } from '~/ui/download';
import { Choose } from '~/ui/options';
import { count } from '~/ui/swatch';
import { useJob } from '~/ui/use-job';
import { openFilesClient } from '~/workers/clients';
import { useClient } from '~/workers/use-client';

/** Hands several libraries over as one zip, each as a file of one format. */
export function ZipDialog({ chosen, onClose }: { chosen: readonly Summary[]; onClose(): void }) {
  const stores = useStores();
  const files = useClient(openFilesClient);
  const { job, start, stop } = useJob(files.stop);
  const [format, setFormat] = useState('ase');
  const hand = () =>
    start('Writing', async ({ stage, isWanted }) => {
      const libraries: Library[] = [];
      for (const [i, { id, name }] of chosen.entries()) {
        stage(`Reading ${i + 1} of ${chosen.length}: ${name}`);
        libraries.push((await stores.library(id).whole()).library);
        if (!isWanted()) return;
      }
      const done = await files.ask('convert', { libraries, formats: [{ format }] }, stage);
      if (!isWanted()) return;
      download(done.name, done.bytes, done.mime);
      onClose();
    });
  const close = () => {
    if (job) stop();
    onClose();
  };
  return (
    <Dialog open onClose={close} fullWidth maxWidth="xs">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void hand();
        }}
      >
        <DialogTitle>Hand over {count(chosen.length, 'library', 'libraries')}</DialogTitle>
        <DialogContent>
          <Choose
            label="as"
            value={format}
            values={writableFacts.map((f) => [f.id, `${f.name} (.${f.endings[0]})`] as const)}
            onChange={setFormat}
          />
          <p className="caption" role="status">
            {job
              ? job.stage || 'Writing…'
              : 'One zip with a file for each. A kit with notes for each destination is made in a library, at Hand over.'}
          </p>
        </DialogContent>
        <DialogActions>
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" variant="contained" autoFocus disabled={job !== null}>
            Download
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
