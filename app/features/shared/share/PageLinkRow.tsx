import Popover from '@mui/material/Popover';
import { ChevronDown } from 'lucide-react';
import { useId, useState } from 'react';
import { writableFacts } from '#core/formats/plan';
import { LEVELS } from '#core/level';
import type { Board } from '#core/swatch/index';
import type { Link, PageLink } from '#server/links';
import { CommitField } from '~/ui/commit-field';
import { Field, SelectField } from '~/ui/field';
import { PlainButton } from '~/ui/plain-button';
import { Choices } from '~/ui/setting';
import { Tick } from '~/ui/tick';
import { when } from '~/ui/when';
import { pageAddress, tokenOf } from './addresses';
import { LinkActions } from './LinkActions';
import css from './Share.module.css';
import type { Links } from './use-links';

const MAX_NAMED = 3;

/** What a link allows to download, in a few words. */
export function allowsText({ formats }: PageLink): string {
  if (formats === null) return 'all formats';
  if (formats.length === 0) return 'none';
  const names = writableFacts.filter((f) => formats.includes(f.id)).map((f) => f.name);
  return names.length > MAX_NAMED
    ? `${names.slice(0, MAX_NAMED).join(', ')} and ${names.length - MAX_NAMED} more`
    : names.join(', ');
}

/** When a link was used, or what has become of it. */
export function usedText({ data, usedAt }: Link, now: Date): string {
  const ends = data.is === 'page' ? data.expires : null;
  if (ends !== null && ends <= now.getTime()) return 'has expired';
  const used = usedAt ? when(new Date(usedAt), now) : 'never';
  return ends === null ? used : `${used} · until ${dayText(ends)}`;
}

const dayText = (at: number) =>
  new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long' }).format(new Date(at));

/** A link to a page. */
export function PageLinkRow({
  link,
  links,
  boards,
}: {
  link: Link<PageLink>;
  links: Links;
  boards: readonly Board[];
}) {
  const id = useId();
  const { data } = link;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const set = (change: Partial<PageLink>) => void links.change(link, { ...data, ...change });
  const token = tokenOf(link.id);
  const isGone = data.board !== null && !boards.some((b) => b.id === data.board);
  return (
    <div className={css.row}>
      <label className="unseen" htmlFor={`${id}name`}>
        Name
      </label>
      <CommitField id={`${id}name`} value={data.name} most={200} onCommit={(name) => set({ name })} />
      <Choices aria-label={`What ${data.name} may do`}>
        {LEVELS.map((level) => (
          <PlainButton
            look="tab"
            key={level}
            aria-pressed={data.access === level}
            onClick={() => set({ access: level })}
          >
            {level}
          </PlainButton>
        ))}
      </Choices>
      <SelectField
        aria-label={`What ${data.name} shows`}
        value={data.board ?? ''}
        onChange={(e) => set({ board: e.target.value || null })}
      >
        <option value="">the library</option>
        {boards.map((b) => (
          <option key={b.id} value={b.id}>
            {b.name || 'board without a name'}
          </option>
        ))}
        {isGone && <option value={data.board!}>a board that was deleted</option>}
      </SelectField>
      <PlainButton
        look="tab"
        className={css.allows}
        aria-haspopup="dialog"
        aria-expanded={!!anchor}
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        <span className="cut">{allowsText(data)}</span> <ChevronDown size={13} aria-hidden />
      </PlainButton>
      <span className="caption">{usedText(link, new Date())}</span>
      <LinkActions link={link} links={links} address={token && pageAddress(token)} />
      <Popover
        open={!!anchor}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <Allows data={data} onSet={set} />
      </Popover>
    </div>
  );
}

/** The formats that may be downloaded, and until when. */
function Allows({ data, onSet }: { data: PageLink; onSet(change: Partial<PageLink>): void }) {
  const id = useId();
  const { formats, expires } = data;
  const ways = [
    ['all', formats === null, () => onSet({ formats: null })],
    ['some', formats !== null && formats.length > 0, () => onSet({ formats: ['ase', 'pdf'] })],
    ['none', formats?.length === 0, () => onSet({ formats: [] })],
  ] as const;
  return (
    <div className={css.allowing} role="dialog" aria-label="Downloads and expiry">
      <Choices aria-label="Downloads">
        {ways.map(([label, is, choose]) => (
          <PlainButton look="tab" key={label} aria-pressed={is} onClick={choose}>
            {label}
          </PlainButton>
        ))}
      </Choices>
      {formats !== null && formats.length > 0 && (
        <div className={css.formats}>
          {writableFacts.map((f) => (
            <Tick
              key={f.id}
              label={f.name}
              checked={formats.includes(f.id)}
              onChange={(on) =>
                onSet({ formats: on ? [...formats, f.id] : formats.filter((other) => other !== f.id) })
              }
            />
          ))}
        </div>
      )}
      <label className="second" htmlFor={`${id}until`}>
        Expires after
      </label>
      <Field
        id={`${id}until`}
        type="date"
        min={dateOf(Date.now())}
        value={expires === null ? '' : dateOf(expires - 1)}
        onChange={(e) => onSet({ expires: endOf(e.target.value) })}
      />
      <p className="caption">{expires === null ? 'never' : `the link ends with ${dayText(expires - 1)}`}</p>
    </div>
  );
}

/** A day as a field has it, of where the page is. */
function dateOf(at: number): string {
  const d = new Date(at);
  return `${d.getFullYear()}-${String(d.getMonth() + 1).padStart(2, '0')}-${String(d.getDate()).padStart(2, '0')}`;
}

/** The end of a day, ms since 1970; null for none. */
export function endOf(day: string): number | null {
  const [year, month, date] = day.split('-').map(Number);
  return year && month && date ? new Date(year, month - 1, date + 1).getTime() : null;
}
