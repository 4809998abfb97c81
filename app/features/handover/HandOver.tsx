import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { toHex } from '#core/color/index';
import {
  type ChangeReport,
  changes,
  describeChange,
  fileName,
  formats,
  perGroup,
  summarize,
} from '#core/formats/index';
import { countSwatches, isLoose, subset } from '#core/swatch/index';
import { useStore } from '~/state/library-store';
import { useLibrary } from '~/state/workspace';
import { count, groupLabel, swatchLabel } from '~/ui/swatch';
import { download, zipped } from './download';

type Scope = 'library' | 'groups' | 'chosen';

/** Hand over: choose a format, see every swatch as it will arrive, take the file. */
export function HandOver() {
  const { store, selection } = useLibrary();
  const { library } = useStore(store);
  const [formatId, setFormatId] = useState('ase');
  const [scope, setScope] = useState<Scope>(selection.size > 0 ? 'chosen' : 'library');
  const [groupIds, setGroupIds] = useState<ReadonlySet<string>>(
    () => new Set(library.groups.map((g) => g.id)),
  );
  const [split, setSplit] = useState(false);
  const [typed, setTyped] = useState<string | null>(null);
  const format = formats.find((f) => f.id === formatId) ?? formats[0];

  const part = useMemo(() => {
    if (scope === 'groups') return subset(library, (_, group) => groupIds.has(group.id));
    if (scope === 'chosen') return subset(library, (swatch) => selection.has(swatch.id));
    return library;
  }, [library, scope, groupIds, selection]);
  const name =
    typed ??
    (part.groups.length === 1 && part !== library ? part.groups[0].name || library.name : library.name);
  const shown = useDeferredValue(part);
  const report = useMemo(() => changes(shown, format), [shown, format]);
  const parts = useMemo(() => perGroup(part), [part]);
  const canSplit = parts.length > 1;
  const files = split && canSplit ? parts.length : 1;
  const total = countSwatches(part);
  const [ending] = format.endings;

  const take = () => {
    if (files > 1) {
      const entries = parts.map((p) => ({ name: p.name, ending, bytes: format.encode(p) }));
      download(fileName(name, 'zip'), zipped(entries), 'application/zip');
    } else download(fileName(name, ending), format.encode({ ...part, name }), format.mime);
  };

  return (
    <>
      <main className="stage" style={{ gridColumn: '2 / -1', flexDirection: 'row' }}>
        <section className="format-column" aria-label="What and as which file">
          <h2 className="caption" style={{ fontWeight: 500, margin: '14px 20px 8px' }}>
            What goes?
          </h2>
          <ToggleButtonGroup
            exclusive
            fullWidth
            size="small"
            value={scope}
            onChange={(_, v: Scope | null) => v && setScope(v)}
            sx={{ px: '20px' }}
            aria-label="What goes"
          >
            <ToggleButton value="library">Everything</ToggleButton>
            <ToggleButton value="groups">Groups</ToggleButton>
            <ToggleButton
              value="chosen"
              disabled={selection.size === 0}
              title={selection.size === 0 ? 'Choose swatches in Arrange first' : undefined}
            >
              {selection.size > 0 ? `${selection.size} chosen` : 'Chosen'}
            </ToggleButton>
          </ToggleButtonGroup>
          {scope === 'groups' && (
            <div style={{ padding: '8px 16px 0' }}>
              {library.groups.map((g, i) =>
                isLoose(library, g) && g.swatches.length === 0 ? null : (
                  <FormControlLabel
                    key={g.id}
                    sx={{ display: 'flex', mr: 0 }}
                    control={
                      <Checkbox
                        checked={groupIds.has(g.id)}
                        onChange={(_, on) => {
                          const next = new Set(groupIds);
                          if (on) next.add(g.id);
                          else next.delete(g.id);
                          setGroupIds(next);
                        }}
                      />
                    }
                    label={`${groupLabel(library, i)} · ${g.swatches.length}`}
                  />
                ),
              )}
            </div>
          )}
          <h2 className="caption" style={{ fontWeight: 500, margin: '18px 20px 4px' }}>
            As which file?
          </h2>
          <div role="radiogroup" aria-label="Format">
            {formats.map((f) => (
              <label key={f.id} className="format-row" data-chosen={f.id === format.id}>
                <input
                  type="radio"
                  name="format"
                  checked={f.id === format.id}
                  onChange={() => setFormatId(f.id)}
                  style={{ accentColor: 'var(--ink)', margin: '3px 0 0' }}
                />
                <span>
                  <span style={{ fontWeight: 600 }}>{f.name}</span>
                  <span className="caption" style={{ display: 'block', marginTop: 1 }}>
                    {f.about}
                  </span>
                </span>
              </label>
            ))}
          </div>
        </section>
        <section className="stage" style={{ flex: 1 }} aria-label="What changes on the way">
          <div className="toolbar">
            <strong>{format.name}</strong>
            {canSplit && (
              <FormControlLabel
                control={<Checkbox checked={split} onChange={(_, on) => setSplit(on)} />}
                label={`one file per group, ${parts.length} in a zip`}
              />
            )}
            <span className="caption" style={{ marginLeft: 'auto', textAlign: 'right' }}>
              {canSplit && !format.traits.groups && !split
                ? 'This format has no groups; one file per group keeps them apart.'
                : 'Found by writing the file and reading it back.'}
            </span>
          </div>
          <Changes report={report} empty={total === 0} split={split && canSplit} />
        </section>
      </main>
      <section className="tray bar" aria-label="Take the file">
        <strong>File</strong>
        <input
          className="plain-input"
          style={{ width: 300, height: 30 }}
          aria-label="File name"
          value={name}
          onChange={(e) => setTyped(e.target.value)}
        />
        <span className="caption">.{files > 1 ? 'zip' : ending}</span>
        <span className="caption" style={{ marginLeft: 'auto' }}>
          {count(total, 'swatch', 'swatches')}
          {files > 1 ? ` in ${files} files` : ''}
        </span>
        <Button variant="contained" disabled={total === 0} onClick={take}>
          Download {files > 1 ? `${files} ${format.name} files` : format.name}
        </Button>
      </section>
    </>
  );
}

const LINE = 49;

function Changes({ report, empty, split }: { report: ChangeReport; empty: boolean; split: boolean }) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useMemo(() => {
    const byId = new Map<string, ChangeReport['changes']>();
    for (const c of report.changes) {
      // that groups are lost is said once above, and a file per group keeps them
      if (c.what === 'group') continue;
      const own = byId.get(c.id);
      if (own) own.push(c);
      else byId.set(c.id, [c]);
    }
    return report.arrivals.flatMap((a) => {
      const own = byId.get(a.swatch.id);
      return own ? [{ ...a, own }] : [];
    });
  }, [report]);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE,
    overscan: 6,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new report is read from its top
  useEffect(() => {
    if (scroller.current) scroller.current.scrollTop = 0;
  }, [report]);
  if (empty)
    return (
      <p className="second" style={{ margin: 'auto' }}>
        Nothing is chosen, so there is nothing to hand over.
      </p>
    );
  const { title, detail } = summarize(split ? { ...report, groupsLost: false } : report);
  const still = report.arrivals.length - rows.length;
  return (
    <div style={{ padding: '14px 24px 0', display: 'flex', flexDirection: 'column', minHeight: 0, flex: 1 }}>
      <h1 style={{ fontSize: 20, lineHeight: '26px', margin: 0 }}>{title}</h1>
      <p className="second" style={{ margin: '0 0 12px' }}>
        {detail}
      </p>
      {rows.length > 0 && (
        <div className="change-row caption" style={{ position: 'static', height: 22, paddingBottom: 6 }}>
          <span style={{ display: 'flex', justifyContent: 'space-between' }}>
            <span>here</span>
            <span>there</span>
          </span>
          <span>swatch</span>
          <span>what changes</span>
          <span style={{ textAlign: 'right' }}>ΔE00</span>
        </div>
      )}
      <div ref={scroller} style={{ overflow: 'auto', minHeight: 0 }}>
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map((item) => {
            const { swatch, there, own, deltaE00 } = rows[item.index];
            const what = own.map(describeChange).join('; ');
            return (
              <div key={swatch.id} className="change-row" style={{ top: item.start, height: LINE }}>
                <span className="wing" style={{ height: 38 }}>
                  <i style={{ background: toHex(swatch.color) }} />
                  {there ? <i style={{ background: toHex(there.color) }} /> : <i className="absent" />}
                </span>
                <strong className="cut" title={swatch.name} dir="auto">
                  {swatchLabel(swatch)}
                </strong>
                <span className="two-lines" title={what}>
                  {what}
                </span>
                <span className="mono" style={{ textAlign: 'right' }}>
                  {there ? deltaE00.toFixed(1) : '—'}
                </span>
              </div>
            );
          })}
        </div>
      </div>
      {still > 0 && rows.length > 0 && (
        <p className="second" style={{ margin: '14px 0' }}>
          {count(still, 'swatch arrives', 'swatches arrive')} exactly as {still === 1 ? 'it is' : 'they are'}
        </p>
      )}
    </div>
  );
}
