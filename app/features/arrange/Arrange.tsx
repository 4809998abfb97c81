import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Slider from '@mui/material/Slider';
import { nanoid } from 'nanoid';
import { useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { toHex } from '#core/color/index';
import {
  allSwatches,
  countSwatches,
  duplicateSwatches,
  removeSwatches,
  type SwatchOrder,
  sortSwatches,
  swatchOrders,
} from '#core/swatch/index';
import { useStore } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { isCommand, isTyping } from '~/ui/keys';
import { BringIn } from '../merge/BringIn';
import { SendDialog } from '../merge/SendDialog';
import { useOpenFiles } from '../open/OpenFiles';
import { Board } from './Board';
import type { View } from './layout';
import { Readout } from './Readout';

/** Arrange: the library itself. */
export function Arrange({ scrollTo }: { scrollTo: { groupId: string; n: number } | null }) {
  const { store, selection, select } = useLibrary();
  const { library, whole } = useStore(store);
  const [view, setView] = useState<View>('mosaic');
  const [size, setSize] = useState(86);
  const [sorting, setSorting] = useState<HTMLElement | null>(null);
  const [sending, setSending] = useState<ReadonlySet<string> | null>(null);
  const [merging, setMerging] = useState(false);
  const openFiles = useOpenFiles();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the rows change with the library
  const chosen = useMemo(() => store.rows.inOrder(selection), [store, library, selection]);
  const total = countSwatches(library);

  const remove = () => {
    if (chosen.length === 0) return;
    store.edit(removeSwatches(chosen.map((c) => c.swatch.id)));
    select([]);
  };
  const duplicate = () => {
    const { made, ...draft } = duplicateSwatches(store.rows, new Set(chosen.map((c) => c.swatch.id)), () =>
      nanoid(12),
    );
    if (store.edit(draft)) select(made);
  };
  const sort = (order: SwatchOrder) => {
    setSorting(null);
    const ids = chosen.length > 1 ? chosen.map((c) => c.swatch.id) : allSwatches(library).map((s) => s.id);
    const { compare, label } = swatchOrders[order];
    store.edit(sortSwatches(store.rows, ids, compare, label.toLowerCase()));
  };

  useEffect(() => {
    const copy = (event: ClipboardEvent) => {
      if (
        isTyping(event as unknown as KeyboardEvent) ||
        chosen.length === 0 ||
        window.getSelection()?.toString()
      )
        return;
      event.clipboardData?.setData('text/plain', chosen.map((c) => toHex(c.swatch.color)).join('\n'));
      event.preventDefault();
    };
    const key = (event: KeyboardEvent) => {
      if (isTyping(event)) return;
      if (event.key === 'Delete' || event.key === 'Backspace') remove();
      else if (isCommand(event) && event.key.toLowerCase() === 'a')
        select(allSwatches(library).map((s) => s.id));
      else return;
      event.preventDefault();
    };
    window.addEventListener('copy', copy);
    window.addEventListener('keydown', key);
    return () => {
      window.removeEventListener('copy', copy);
      window.removeEventListener('keydown', key);
    };
  });

  return (
    <>
      <main className="stage" style={{ gridColumn: 2 }}>
        <div className="toolbar">
          {(['mosaic', 'list'] as const).map((v) => (
            <button
              key={v}
              type="button"
              className="tab"
              aria-pressed={view === v}
              onClick={() => setView(v)}
            >
              {v === 'mosaic' ? 'Mosaic' : 'List'}
            </button>
          ))}
          <span style={{ width: 1, height: 14, background: 'var(--line)' }} />
          <button
            type="button"
            className="tab"
            aria-haspopup="menu"
            disabled={total < 2}
            onClick={(e) => setSorting(e.currentTarget)}
          >
            Sort {chosen.length > 1 ? `${chosen.length} chosen` : 'all'}
          </button>
          <Menu anchorEl={sorting} open={!!sorting} onClose={() => setSorting(null)}>
            {(Object.keys(swatchOrders) as SwatchOrder[]).map((id) => (
              <MenuItem key={id} onClick={() => sort(id)}>
                by {swatchOrders[id].label.toLowerCase()}
              </MenuItem>
            ))}
          </Menu>
          <button type="button" className="tab" disabled={chosen.length === 0} onClick={duplicate}>
            Duplicate
          </button>
          <button type="button" className="tab" disabled={chosen.length === 0} onClick={remove}>
            Delete
          </button>
          <button
            type="button"
            className="tab"
            disabled={chosen.length === 0}
            onClick={() => setSending(selection)}
          >
            Send…
          </button>
          <button type="button" className="tab" onClick={() => setMerging(true)}>
            Merge…
          </button>
          {view === 'mosaic' && (
            <span className="chip-size">
              <span className="caption" id="chip-size">
                chip size
              </span>
              <Slider
                min={28}
                max={180}
                value={size}
                onChange={(_, v) => setSize(v as number)}
                aria-labelledby="chip-size"
                sx={{ width: 90 }}
              />
            </span>
          )}
        </div>
        {!whole && total === 0 ? (
          <Reading />
        ) : total === 0 && library.groups.every((g) => g.name === '') ? (
          <div style={{ margin: 'auto', maxWidth: 360, textAlign: 'center' }}>
            <h1 style={{ fontSize: 20, lineHeight: '26px', margin: 0 }}>No swatches yet</h1>
            <p className="second" style={{ margin: '8px 0 18px' }}>
              Drop a picture or a swatch file anywhere, or start with one of these.
            </p>
            <div style={{ display: 'flex', gap: 10, justifyContent: 'center' }}>
              <Button variant="contained" component={Link} to={`/libraries/${library.id}/gather`}>
                Gather from a picture
              </Button>
              <Button onClick={openFiles}>Open a swatch file</Button>
            </div>
          </div>
        ) : (
          <Board view={view} size={size} scrollTo={scrollTo} onSend={setSending} />
        )}
        {sending && <SendDialog store={store} ids={sending} onClose={() => setSending(null)} />}
        {merging && <BringIn store={store} onClose={() => setMerging(false)} />}
      </main>
      <Readout chosen={chosen.map((c) => c.swatch)} />
    </>
  );
}

/** While nothing of the library is here yet; not shown when it comes at once. */
function Reading() {
  const { store } = useLibrary();
  const { problem } = useStore(store);
  return (
    <p className="second reading-library" role="status">
      {problem ?? 'Reading the library…'}
    </p>
  );
}
