import Button from '@mui/material/Button';
import { type ReactNode, useEffect, useId, useState } from 'react';
import { NotationError, notations, parseColor, toHex } from '#core/color/index';
import { isClipped } from '#core/color/notation';
import { KINDS, type Kind, type Swatch, type SwatchFields, setFields } from '#core/swatch/index';
import { useLibrary } from '~/state/workspace';
import { count, SwatchFace, swatchLabel } from '~/ui/swatch';
import { useToast } from '~/ui/toast';

/** The chosen swatch, large, in every notation; or what several have in common. */
export function Readout({ chosen }: { chosen: Swatch[] }) {
  const { store } = useLibrary();
  const toast = useToast();
  if (chosen.length === 0)
    return (
      <aside className="readout" aria-label="Readout">
        <p className="second" style={{ margin: 16 }}>
          Choose a swatch to see it large and in every notation. Double-click one to rename it; drag to move
          it.
        </p>
      </aside>
    );
  const [swatch] = chosen;
  const one = chosen.length === 1;
  const set = (fields: SwatchFields) =>
    store.edit(
      setFields(
        chosen.map((s) => s.id),
        fields,
      ),
    );
  const copy = async (label: string, text: string) => {
    try {
      await navigator.clipboard.writeText(text);
      toast({ text: `${label} copied: ${text}` });
    } catch {
      toast({ text: `This browser does not let pages copy. The ${label} is ${text}` });
    }
  };
  const shared = (field: 'role' | 'code') =>
    chosen.every((s) => s[field] === swatch[field]) ? (swatch[field] ?? '') : '';
  return (
    <aside className="readout" aria-label="Readout">
      {one ? (
        <SwatchFace swatch={swatch} style={{ height: 132 }} />
      ) : (
        <div style={{ display: 'flex', height: 132 }}>
          {chosen.slice(0, 60).map((s) => (
            <i key={s.id} style={{ flex: 1, background: toHex(s.color) }} />
          ))}
        </div>
      )}
      <div style={{ padding: '12px 16px 20px' }}>
        <h1
          style={{
            fontSize: 20,
            lineHeight: '26px',
            margin: 0,
            overflowWrap: 'anywhere',
            maxHeight: 78,
            overflow: 'hidden',
          }}
          title={swatch.name}
          dir="auto"
        >
          {one ? swatchLabel(swatch) : count(chosen.length, 'swatch', 'swatches')}
        </h1>
        {one && (
          <p className="second cut" style={{ margin: '2px 0 0' }}>
            {[
              swatch.code,
              swatch.global ? 'global process' : swatch.kind,
              swatch.role && `role: ${swatch.role}`,
            ]
              .filter(Boolean)
              .join(' · ')}
          </p>
        )}
        <hr className="rule" />
        {one && (
          <>
            {notations(swatch.color).map(({ id, label, text }) => (
              <button
                key={id}
                type="button"
                className="reading"
                title="Click to copy"
                aria-label={`Copy ${label} ${text}`}
                onClick={() => void copy(label, text)}
              >
                <span className="second">{label}</span>
                <span className="mono">{text}</span>
              </button>
            ))}
            {isClipped(swatch.color) && (
              <p className="caption" style={{ margin: '6px 0 0' }}>
                Outside the sRGB gamut: hex, RGB, HSB and HSL give the nearest the screen can show.
              </p>
            )}
            <hr className="rule" />
            <Field label="Name" value={swatch.name} onCommit={(name) => set({ name })} />
            <RecolorField key={swatch.id} swatch={swatch} onCommit={(color) => set({ color })} />
          </>
        )}
        <Field
          label="Role"
          value={shared('role')}
          placeholder={one ? 'what it is for' : 'sets the role of all'}
          onCommit={(role) => set({ role: role || null })}
        />
        {one && (
          <Field label="Code" value={shared('code')} onCommit={(code) => set({ code: code || null })} />
        )}
        <Labelled label="Kind">
          {(id) => (
            <select
              id={id}
              className="plain-input"
              style={{ height: 26 }}
              value={chosen.every((s) => s.kind === swatch.kind) ? swatch.kind : ''}
              onChange={(e) => set({ kind: e.target.value as Kind })}
            >
              <option value="" disabled hidden>
                several
              </option>
              {KINDS.map((k) => (
                <option key={k}>{k}</option>
              ))}
            </select>
          )}
        </Labelled>
        {one && swatch.origin && (
          <p className="caption" style={{ margin: '12px 0 0', overflowWrap: 'anywhere' }}>
            {originText(swatch)}
          </p>
        )}
        {!one && (
          <Button
            sx={{ mt: 1.5 }}
            onClick={() => void copy('codes', chosen.map((s) => toHex(s.color)).join('\n'))}
          >
            Copy {chosen.length} hex codes
          </Button>
        )}
      </div>
    </aside>
  );
}

function originText({ origin }: Swatch): string {
  if (origin?.from === 'picture')
    return `Taken from ${origin.name}${origin.point ? `, first seen at ${origin.point.join(', ')}` : ''}.`;
  if (origin?.from === 'file')
    return `Read from ${origin.name}${origin.format ? ` (${origin.format.toUpperCase()})` : ''}.`;
  return 'Typed.';
}

function Labelled({
  label,
  children,
  problem,
}: {
  label: string;
  children(id: string): ReactNode;
  problem?: string;
}) {
  const id = useId();
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '64px 1fr', alignItems: 'center', marginTop: 6 }}>
      <label htmlFor={id} className="second">
        {label}
      </label>
      {children(id)}
      {problem && (
        <p role="alert" className="caption" style={{ gridColumn: 2, margin: '4px 0 0', color: 'var(--ink)' }}>
          {problem}
        </p>
      )}
    </div>
  );
}

function Field({
  label,
  value,
  placeholder,
  onCommit,
}: {
  label: string;
  value: string;
  placeholder?: string;
  onCommit(value: string): void;
}) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const commit = () => text !== value && onCommit(text);
  return (
    <Labelled label={label}>
      {(id) => (
        <input
          id={id}
          className="plain-input"
          style={{ height: 26 }}
          dir="auto"
          value={text}
          placeholder={placeholder}
          onChange={(e) => setText(e.target.value)}
          onBlur={commit}
          onKeyDown={(e) => e.key === 'Enter' && commit()}
        />
      )}
    </Labelled>
  );
}

function RecolorField({ swatch, onCommit }: { swatch: Swatch; onCommit(color: Swatch['color']): void }) {
  const [text, setText] = useState('');
  const [problem, setProblem] = useState('');
  const commit = () => {
    if (text.trim() === '') return setProblem('');
    try {
      onCommit(parseColor(text));
      setText('');
      setProblem('');
    } catch (error) {
      if (!(error instanceof NotationError)) throw error;
      setProblem(error.message);
    }
  };
  return (
    <Labelled label="Recolour" problem={problem}>
      {(id) => (
        <input
          id={id}
          className="plain-input mono"
          style={{ height: 26 }}
          placeholder={toHex(swatch.color)}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onBlur={commit}
          onKeyDown={(e) => e.key === 'Enter' && commit()}
        />
      )}
    </Labelled>
  );
}
