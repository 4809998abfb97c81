import Button from '@mui/material/Button';
import { Trash2 } from 'lucide-react';
import { useCallback, useRef, useState } from 'react';
import { useRevalidator } from 'react-router';
import type { ListedProfile } from '#server/profiles';
import { removeProfile } from '~/api/assets';
import { call } from '~/api/call';
import { useFileTaker } from '~/features/shared/open/OpenFiles';
import { keepProfile } from '~/features/shared/profiles/keep';
import line from '~/ui/band-row.module.css';
import { Stage } from '~/ui/Frame';
import { Notice } from '~/ui/notice';
import { PlainButton } from '~/ui/plain-button';
import { count } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import css from './Profiles.module.css';

const KINDS: Record<string, string> = {
  prtr: 'printing',
  mntr: 'screen',
  scnr: 'scanner or camera',
  spac: 'colour space',
};
const size = (bytes: number) =>
  bytes < 1e6 ? `${Math.round(bytes / 1e3)} KB` : `${(bytes / 1e6).toFixed(1)} MB`;

/** The ICC profiles that print conditions are chosen from: those that ship, and one's own. */
export function Profiles({ profiles }: { profiles: (ListedProfile & { patches: string[] })[] }) {
  const input = useRef<HTMLInputElement>(null);
  const { revalidate } = useRevalidator();
  const toast = useToast();
  const [problems, setProblems] = useState<string[]>([]);
  const [busy, setBusy] = useState(false);

  const add = useCallback(
    async (files: { file: File }[]) => {
      setProblems([]);
      setBusy(true);
      for (const { file } of files) {
        const said = (why: string) => setProblems((was) => [...was, `${file.name}: ${why}`]);
        try {
          toast({ text: `“${(await keepProfile(file)).name}” is here.` });
        } catch (error) {
          said((error as Error).message);
        }
      }
      setBusy(false);
      await revalidate();
    },
    [revalidate, toast],
  );
  useFileTaker(useCallback((files) => add(files).then(() => undefined), [add]));

  const remove = async ({ hash, name }: ListedProfile) => {
    const came = await call(removeProfile, { params: { hash } });
    if (came.ok) toast({ text: `“${name}” was removed.` });
    else toast({ text: came.why, stays: true });
    await revalidate();
  };

  return (
    <Stage wide>
      <div className={line.head}>
        <h1 className="title">Print profiles</h1>
        <span className="caption">{count(profiles.length, 'profile')}</span>
        <span className={css.acts}>
          <Button variant="contained" disabled={busy} onClick={() => input.current?.click()}>
            Add profiles
          </Button>
        </span>
        <input
          ref={input}
          type="file"
          hidden
          multiple
          accept=".icc,.icm"
          aria-label="Add profiles"
          onChange={(e) => {
            void add([...(e.target.files ?? [])].map((file) => ({ file })));
            e.target.value = '';
          }}
        />
      </div>
      {problems.length > 0 && (
        <div className={css.problems}>
          {problems.map((problem) => (
            <Notice key={problem}>{problem}</Notice>
          ))}
        </div>
      )}
      <div className={line.list}>
        <ul className={css.lines}>
          {profiles.map((p) => (
            <li key={p.hash} className={line.row}>
              <div className={line.words}>
                <strong className={`cut ${line.name}`} dir="auto" title={p.name}>
                  {p.name}
                </strong>
                <span className={`caption cut ${line.facts}`}>
                  {p.space === 'gray' ? 'Gray' : p.space.toUpperCase()}, {KINDS[p.kind]} · version {p.version}{' '}
                  · {size(p.bytes)}
                </span>
                {!p.prints && (
                  <span className={`caption cut ${line.facts}`}>Input only: cannot be used to print</span>
                )}
              </div>
              <div className={line.band} aria-hidden>
                {p.patches.map((hex, i) => (
                  <span key={i} style={{ background: hex }} />
                ))}
              </div>
              <div className={line.end}>
                {p.shipped ? (
                  <span className="caption">part of Papillon</span>
                ) : (
                  <PlainButton
                    look="icon"
                    aria-label={`Remove ${p.name}`}
                    title="Remove it, unless a library uses it"
                    onClick={() => void remove(p)}
                  >
                    <Trash2 size={15} strokeWidth={1.7} />
                  </PlainButton>
                )}
              </div>
            </li>
          ))}
        </ul>
        <p className={`caption ${line.hint}`}>
          A profile says what a press makes of ink numbers on a paper: shown are the paper, the inks and their
          overprints. A library is printed under one of the CMYK profiles; colours that name a profile of
          their own keep it. Drop ICC files of version 2 or 4 here, for RGB, CMYK or gray, up to 16 MB.
        </p>
      </div>
    </Stage>
  );
}
