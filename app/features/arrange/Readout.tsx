import Button from '@mui/material/Button';
import { lazy, type ReactNode, Suspense, useId, useState } from 'react';
import { inSrgb, NotationError, notations, parseColor, toHex } from '#core/color/index';
import {
  KINDS,
  type Kind,
  type Swatch,
  type SwatchFields,
  setFields,
  TEXT_FIELDS,
  type TextField,
  type TextFieldId,
  textFieldIds,
} from '#core/swatch/index';
import { Comments } from '~/features/shared/comments/Comments';
import { Gamuts, useReaches } from '~/features/shared/Gamuts';
import { useLibrary } from '~/state/workspace';
import { CommitField } from '~/ui/commit-field';
import { useCondition } from '~/ui/condition';
import { Panel } from '~/ui/Frame';
import { Field, SelectField } from '~/ui/field';
import { PlainButton } from '~/ui/plain-button';
import { count, SwatchFace, swatchLabel } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import { WingPair } from '~/ui/wing-pair';
import { Equivalents, InkFacts } from './InkFacts';
import { Between, OnPaper } from './Pairs';
import css from './Readout.module.css';

const InLights = lazy(() => import('./InLights').then((m) => ({ default: m.InLights })));

/** The chosen swatch, large, in every notation; or what several have in common. */
export function Readout({ chosen }: { chosen: Swatch[] }) {
  const condition = useCondition();
  const { store } = useLibrary();
  const toast = useToast();
  if (chosen.length === 0)
    return (
      <Panel side="readout" label="Readout">
        <p className={`second ${css.hint}`}>
          Choose a swatch to see it large and in every notation. Double-click one to rename it; drag to move
          it.
        </p>
      </Panel>
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
  const shared = (field: TextFieldId) =>
    chosen.every((s) => s[field] === swatch[field]) ? (swatch[field] ?? '') : '';
  return (
    <Panel side="readout" label="Readout">
      {one ? (
        <Faces swatch={swatch} />
      ) : (
        <div className={css.several}>
          {chosen.slice(0, 60).map((s) => (
            <i key={s.id} style={{ background: toHex(s.color, condition) }} />
          ))}
        </div>
      )}
      <div className={css.words}>
        <h2 className={`title ${css.name}`} title={swatch.name} dir="auto">
          {one ? swatchLabel(swatch, condition) : count(chosen.length, 'swatch', 'swatches')}
        </h2>
        {one && (
          <p className={`second cut ${css.kind}`}>
            {[
              swatch.code,
              swatch.global ? 'global process' : swatch.kind,
              swatch.role && `role: ${swatch.role}`,
            ]
              .filter(Boolean)
              .join(' · ')}
          </p>
        )}
        <hr />
        {one && (
          <>
            {notations(swatch.color, condition).map(({ id, label, text, through }) => (
              <PlainButton
                key={id}
                className={css.reading}
                title={through ? `Through ${through}. Click to copy` : 'Click to copy'}
                onClick={() => void copy(label, text)}
              >
                <span className="second">{label}</span> <span className="mono">{text}</span>
              </PlainButton>
            ))}
            <p className={`caption ${css.note}`}>
              {swatch.color.space === 'cmyk'
                ? `Printed on ${condition.throughOf(swatch.color)}: Lab and LCh as measured with the paper, the others as the screen shows it.`
                : `CMYK for ${condition.name}.`}
              {!inSrgb(swatch.color, condition) &&
                ' Outside sRGB: hex, RGB, HSB and HSL give the nearest inside.'}
            </p>
            <hr />
            <InGamuts swatch={swatch} onTake={(color) => set({ color })} />
            <OnPaper swatch={swatch} library={store.rows.library} />
            {swatch.spectrum && (
              <Suspense>
                <InLights spectrum={swatch.spectrum} />
              </Suspense>
            )}
            <hr />
            <TextRow label="Name" value={swatch.name} onCommit={(name) => set({ name })} />
            <RecolorField key={swatch.id} swatch={swatch} onCommit={(color) => set({ color })} />
          </>
        )}
        {textFieldIds.map((field) => {
          const { label, hint, single }: TextField = TEXT_FIELDS[field];
          return (
            (one || !single) && (
              <TextRow
                key={field}
                label={label}
                value={shared(field)}
                placeholder={hint?.[one ? 'one' : 'several'] ?? ''}
                onCommit={(text) => set({ [field]: text || null })}
              />
            )
          );
        })}
        <Labelled label="Kind">
          {(id) => (
            <SelectField
              id={id}
              value={chosen.every((s) => s.kind === swatch.kind) ? swatch.kind : ''}
              onChange={(e) => set({ kind: e.target.value as Kind })}
            >
              <option value="" disabled hidden>
                several
              </option>
              {KINDS.map((k) => (
                <option key={k}>{k}</option>
              ))}
            </SelectField>
          )}
        </Labelled>
        {one && <Equivalents swatch={swatch} store={store} />}
        {one && <InkFacts swatch={swatch} library={store.id} />}
        {one && (
          <>
            <hr />
            <Comments on={swatch.id} name={swatchLabel(swatch, condition)} />
          </>
        )}
        {chosen.length === 2 && (
          <>
            <hr />
            <Between a={chosen[0]} b={chosen[1]} />
            {chosen[0].spectrum && chosen[1].spectrum && (
              <Suspense>
                <InLights spectrum={chosen[0].spectrum} other={chosen[1].spectrum} />
              </Suspense>
            )}
          </>
        )}
        {!one && (
          <Button
            sx={{ mt: 1.5 }}
            onClick={() => void copy('codes', chosen.map((s) => toHex(s.color, condition)).join('\n'))}
          >
            Copy {chosen.length} hex codes
          </Button>
        )}
      </div>
    </Panel>
  );
}

/** The swatch, large; where the press cannot reach it, beside the nearest it can. */
function Faces({ swatch }: { swatch: Swatch }) {
  const condition = useCondition();
  const press = useReaches(swatch.color).at(-1)!;
  if (press.inside || swatch.kind === 'technical') return <SwatchFace swatch={swatch} className={css.face} />;
  return (
    <>
      <div className={css.face}>
        <WingPair left={toHex(swatch.color, condition)} right={toHex(press.nearest, condition)} />
      </div>
      <p className={`caption ${css.ends}`}>
        <span>here</span>
        <span>nearest in print · ΔE00 {press.deltaE00.toFixed(1)}</span>
      </p>
    </>
  );
}

function InGamuts({ swatch, onTake }: { swatch: Swatch; onTake(color: Swatch['color']): void }) {
  const reaches = useReaches(swatch.color);
  return <Gamuts swatch={swatch} reaches={reaches} onTake={onTake} />;
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
    <div className={css.labelled}>
      <label htmlFor={id} className="second">
        {label}
      </label>
      {children(id)}
      {problem && (
        <p role="alert" className={`caption ${css.problem}`}>
          {problem}
        </p>
      )}
    </div>
  );
}

function TextRow({
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
  return (
    <Labelled label={label}>
      {(id) => <CommitField id={id} value={value} placeholder={placeholder} onCommit={onCommit} />}
    </Labelled>
  );
}

function RecolorField({ swatch, onCommit }: { swatch: Swatch; onCommit(color: Swatch['color']): void }) {
  const condition = useCondition();
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
        <Field
          id={id}
          className="mono"
          placeholder={toHex(swatch.color, condition)}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onBlur={commit}
          onKeyDown={(e) => e.key === 'Enter' && commit()}
        />
      )}
    </Labelled>
  );
}
