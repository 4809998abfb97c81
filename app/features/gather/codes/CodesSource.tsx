import Button from '@mui/material/Button';
import { useVirtualizer } from '@tanstack/react-virtual';
import { TriangleAlert, X } from 'lucide-react';
import { nanoid } from 'nanoid';
import { useCallback, useDeferredValue, useMemo, useRef, useState } from 'react';
import { screenOnly } from '#core/color/condition';
import {
  type Code,
  type CodeColor,
  type CodeLine,
  type Condition,
  readCodes,
  toHex,
} from '#core/color/index';
import type { Swatch } from '#core/swatch/index';
import { useTextTaker } from '~/features/shared/open/OpenFiles';
import type { Line } from '~/state/codes';
import { useCodes, useStores } from '~/state/stores';
import { useCondition } from '~/ui/condition';
import { Field } from '~/ui/field';
import { PlainButton } from '~/ui/plain-button';
import { Choices } from '~/ui/setting';
import { count } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { useToast } from '~/ui/toast';
import { ToTray } from '../ToTray';
import css from './CodesSource.module.css';
import { type CodeEntry, useEntries } from './use-entries';

/** Gather › Codes: anything typed or pasted that holds colours, line by line. */
export function CodesSource() {
  // codes may be inks, which have no colour before the condition is here
  return useCondition() === screenOnly ? null : <Codes />;
}

function Codes() {
  const store = useStores().codes;
  const state = useCodes();
  const toast = useToast();
  const list = useEntries(state);
  const paste = useCallback((text: string) => void store.add(text), [store]);
  useTextTaker(paste);
  return (
    <div className={css.codes}>
      <section aria-label="Codes" className={css.column}>
        <Entry />
        {state.lines.length === 0 ? <Examples /> : <Lines entries={list.entries} />}
      </section>
      <Side
        list={list}
        onClear={() => {
          const { back, matter } = store.remove();
          toast({ text: 'All lines removed.', action: { label: 'Undo', run: back }, matter });
        }}
      />
    </div>
  );
}

/** The field for the next code: it shows what it reads while one types, and Enter takes it. */
function Entry() {
  const condition = useCondition();
  const store = useStores().codes;
  const [text, setText] = useState('');
  const read = useMemo(() => readCodes(text), [text]);
  const add = () => {
    if (store.add(text) > 0) setText('');
  };
  return (
    <form
      className={css.entry}
      onSubmit={(e) => {
        e.preventDefault();
        add();
      }}
    >
      <Chips codes={read.codes} own={{}} large />
      <Field
        className="mono"
        aria-label="Type or paste codes"
        placeholder="Type a code, or paste a list"
        // there is one thing to do here, and it is typing
        autoFocus
        autoComplete="off"
        spellCheck={false}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onPaste={(e) => {
          const pasted = e.clipboardData.getData('text/plain');
          if (!/[\r\n]/.test(pasted.trim())) return;
          e.preventDefault();
          store.add(pasted);
        }}
      />
      <Button type="submit" className={css.add} disabled={!text.trim()}>
        Add
      </Button>
      <p className="caption" role="status">
        {text.trim()
          ? said(read, condition)
          : 'Enter adds it and clears the field. A pasted list becomes a line for each.'}
      </p>
    </form>
  );
}

/** What was read in a line, in a few words. */
function said({ codes }: CodeLine, condition: Condition): string {
  if (codes.length === 0) return 'No colour in it yet.';
  const [first] = codes;
  if (codes.length > 1) return count(codes.length, 'colour');
  if (first.problem) return first.problem;
  if (first.question) return QUESTIONS[first.question];
  const hex = toHex(first.readings[0].colors[0].color, condition).toUpperCase();
  return first.name ? `${first.name}, ${hex}` : hex;
}

const QUESTIONS: Record<NonNullable<Code['question']>, string> = {
  alpha: 'Does alpha stand first or last?',
  'hex-or-rgb': 'Hex pairs, or RGB in numbers?',
  'cmyk-or-alpha': 'CMYK, or RGB and alpha?',
  'one-or-two': 'One code, or a code and a word?',
  ways: 'One colour in several notations?',
};

/** What a code looks like at this moment: its colours, a question between two, or nothing. */
function Chips({ codes, own, large }: { codes: Code[]; own: Record<number, string>; large?: boolean }) {
  const condition = useCondition();
  const most = large ? 6 : 4;
  return (
    <span className={css.chips} data-large={large} aria-hidden>
      {codes.slice(0, most).map((code, i) => {
        const answer = own[i];
        const open = code.question && !code.readings.some((r) => r.id === answer);
        if (code.problem) return <i key={code.from} className={css.none} />;
        const shown = open
          ? code.readings.slice(0, 2)
          : code.readings.filter((r) => !answer || r.id === answer);
        return shown.map((reading) => (
          <i
            key={`${code.from}${reading.id}`}
            className={open ? css.half : undefined}
            style={{ background: face(reading.colors[0], condition) }}
          />
        ));
      })}
      {codes.length === 0 && <i className={css.none} />}
    </span>
  );
}

/** A colour as it is seen on the page, with its alpha. */
const face = ({ color, alpha = 1 }: CodeColor, condition: Condition) =>
  toHex(color, condition) +
  Math.round(alpha * 255)
    .toString(16)
    .padStart(2, '0');

const ROW = 34;

function Lines({ entries }: { entries: CodeEntry[] }) {
  const scroll = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: entries.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => ROW,
    overscan: 12,
    getItemKey: (i) => entries[i].line.id,
  });
  const go = (to: number) => {
    if (to < 0 || to >= entries.length) return;
    virtual.scrollToIndex(to, { align: 'auto' });
    // the row is there once it has been scrolled to
    requestAnimationFrame(() =>
      scroll.current?.querySelector<HTMLElement>(`[data-row="${to}"] [data-text]`)?.focus(),
    );
  };
  return (
    <div ref={scroll} className={css.lines}>
      <ol style={{ height: virtual.getTotalSize() }} aria-label={count(entries.length, 'line')}>
        {virtual.getVirtualItems().map(({ index, key, start }) => (
          <li
            key={key}
            data-row={index}
            aria-posinset={index + 1}
            aria-setsize={entries.length}
            style={{ transform: `translateY(${start}px)` }}
          >
            <Row entry={entries[index]} number={index + 1} onMove={(by) => go(index + by)} />
          </li>
        ))}
      </ol>
    </div>
  );
}

function Row({ entry, number, onMove }: { entry: CodeEntry; number: number; onMove(by: number): void }) {
  const store = useStores().codes;
  const toast = useToast();
  const { line } = entry;
  const [before, setBefore] = useState<string | null>(null);
  const text = useRef<HTMLButtonElement>(null);
  const drop = () => {
    const { back, matter } = store.remove(line.id);
    toast({ text: 'Line removed.', action: { label: 'Undo', run: back }, matter });
  };
  const leave = (value: string) => {
    setBefore(null);
    if (!value.trim()) store.remove(line.id);
    requestAnimationFrame(() => text.current?.focus());
  };
  return (
    <div className={css.row}>
      <span className="mono caption">{number}</span>
      <Chips codes={line.read?.codes ?? []} own={entry.answers} />
      {before !== null ? (
        <Field
          className="mono"
          aria-label={`Line ${number}`}
          value={line.text}
          // the user has just asked to type here
          autoFocus
          spellCheck={false}
          onChange={(e) => store.change(line.id, e.target.value)}
          onPaste={(e) => {
            const pasted = e.clipboardData.getData('text/plain').trim();
            if (!/[\r\n]/.test(pasted)) return;
            e.preventDefault();
            const { selectionStart: from, selectionEnd: to } = e.currentTarget;
            store.change(line.id, line.text.slice(0, from ?? 0) + pasted + line.text.slice(to ?? 0));
            setBefore(null);
          }}
          onBlur={(e) => {
            setBefore(null);
            if (!e.target.value.trim()) store.remove(line.id);
          }}
          onKeyDown={(e) => {
            if (e.key === 'Enter') leave(e.currentTarget.value);
            if (e.key === 'Escape') {
              store.change(line.id, before);
              leave(before);
            }
          }}
        />
      ) : (
        <PlainButton
          ref={text}
          data-text
          className={`${css.text} mono`}
          title={line.text}
          aria-label={`Line ${number}: ${line.text.slice(0, 300)}. Enter changes it.`}
          onClick={() => setBefore(line.text)}
          onKeyDown={(e) => {
            if (e.key === 'Delete' || e.key === 'Backspace') drop();
            else if (e.key === 'ArrowDown') onMove(1);
            else if (e.key === 'ArrowUp') onMove(-1);
            else return;
            e.preventDefault();
          }}
        >
          <Marked line={line} />
        </PlainButton>
      )}
      <Says entry={entry} />
      <PlainButton look="icon" className={css.remove} aria-label={`Remove line ${number}`} onClick={drop}>
        <X size={14} />
      </PlainButton>
    </div>
  );
}

/** The text of a line with what was read standing out, and what was not read struck through. */
function Marked({ line: { text, read } }: { line: Line }) {
  if (!read) return text;
  return read.parts.map(({ from, to, is }) => (
    <span key={from} data-part={is}>
      {text.slice(from, to)}
    </span>
  ));
}

/** What a line gives, asks or lacks. */
function Says({ entry }: { entry: CodeEntry }) {
  const condition = useCondition();
  const store = useStores().codes;
  const { line, colors, open, answers } = entry;
  const codes = line.read?.codes ?? [];
  const wrong = codes.find((code) => code.problem);
  const unread = line.read?.parts.some((p) => p.is === 'unread');
  if (!line.read) return <span className={`${css.says} second`}>…</span>;
  if (wrong)
    return (
      <span className={css.says}>
        <TriangleAlert size={13} aria-hidden />
        <span className="cut" title={wrong.problem}>
          {wrong.problem}
        </span>
        {wrong.instead && (
          <PlainButton
            className={css.answer}
            onClick={() =>
              store.change(
                line.id,
                line.text.slice(0, wrong.from) + wrong.instead + line.text.slice(wrong.to),
              )
            }
          >
            {wrong.instead}?
          </PlainButton>
        )}
      </span>
    );
  const asks = codes.findIndex((code) => code.question);
  if (asks >= 0 && (open > 0 || codes.length === 1)) {
    const at = Math.max(
      0,
      codes.findIndex((code, i) => code.question && !code.readings.some((r) => r.id === answers[i])),
    );
    const code = codes[open > 0 ? at : asks];
    const place = codes.indexOf(code);
    return (
      <fieldset className={css.says} aria-label={code.question && QUESTIONS[code.question]}>
        {code.readings.map((reading) => (
          <PlainButton
            key={reading.id}
            className={css.answer}
            aria-pressed={answers[place] === reading.id}
            title={code.question && QUESTIONS[code.question]}
            onClick={() => store.answer(line.id, place, reading.id)}
          >
            {reading.colors.slice(0, 1).map((c) => (
              <i key="one" style={{ background: face(c, condition) }} />
            ))}
            {reading.label}
          </PlainButton>
        ))}
      </fieldset>
    );
  }
  if (colors.length === 0)
    return <span className={`${css.says} second`}>{unread ? 'No colour in this line.' : ''}</span>;
  const [first] = colors;
  return (
    <span className={css.says}>
      <span className={`cut ${css.first} ${first.suggested ? 'second' : ''}`}>
        {colors.length > 1 ? count(colors.length, 'colour') : first.name}
      </span>
      {entry.same ? (
        <span className="caption">same as line {entry.same}</span>
      ) : (
        colors.length === 1 && <span className="mono">{toHex(first.color, condition).toUpperCase()}</span>
      )}
    </span>
  );
}

/** The colours in their order, what is still open, and the way to the tray. */
function Side({ list, onClear }: { list: ReturnType<typeof useEntries>; onClear(): void }) {
  const condition = useCondition();
  const store = useStores().codes;
  const { suggest, once, lines } = useCodes();
  const { taken, questions, repeats, unread, wrong } = list;
  const shown = useDeferredValue(taken);
  if (lines.length === 0) return <div className={css.side} />;
  const make = () =>
    taken.map(
      ({ color, alpha, name }): Swatch => ({
        id: nanoid(12),
        name,
        kind: 'process',
        color,
        ...(alpha === undefined ? {} : { alpha }),
        origin: { from: 'typed' },
      }),
    );
  return (
    <section className={css.side} aria-label="What was read">
      <strong role="status">{count(taken.length, 'colour')}</strong>
      <div className={css.board} aria-hidden>
        {shown.slice(0, 600).map((c, i) => (
          <i key={i} style={{ background: face(c, condition) }} />
        ))}
      </div>
      {questions.map(({ question, codes, readings }) => (
        <fieldset key={question} className={css.question} aria-label={QUESTIONS[question]}>
          <span>
            {count(codes, 'code waits', 'codes wait')}. {QUESTIONS[question]}
          </span>
          <Choices>
            {readings.map((r) => (
              <PlainButton key={r.id} className={css.answer} onClick={() => store.answerAll(question, r.id)}>
                {codes > 1 ? `all: ${r.label}` : r.label}
              </PlainButton>
            ))}
          </Choices>
        </fieldset>
      ))}
      {(wrong > 0 || unread > 0) && (
        <p className={`second ${css.left}`}>
          {[
            wrong > 0 && `${count(wrong, 'code has', 'codes have')} a slip in it.`,
            unread > 0 && `${count(unread, 'line has', 'lines have')} no colour. They stay here as they are.`,
          ]
            .filter(Boolean)
            .join(' ')}
        </p>
      )}
      {taken.some((c) => condition.isDevice(c.color)) && (
        <p className="caption">Inks are shown as {condition.name} prints them, and stay inks.</p>
      )}
      <Tick
        checked={suggest}
        onChange={(on) => store.put({ suggest: on })}
        label="Suggest names where there are none"
      />
      {repeats > 0 && (
        <Tick
          checked={once}
          onChange={(on) => store.put({ once: on })}
          label={`Leave out ${count(repeats, 'repeat')}`}
        />
      )}
      <div className={css.ways}>
        <ToTray n={taken.length} make={make} isSuggested={(i) => taken[i].suggested} />
        <Button onClick={onClear}>Clear</Button>
      </div>
    </section>
  );
}

const EXAMPLES = [
  '#8a1c24',
  '8a 1c 24',
  '0x8a1c24',
  'Hull red: #8a1c24',
  '--hull-red: #8a1c24;',
  'rgb(138 28 36)',
  'hsl(356 66% 33%)',
  'lab(29.8 43.6 22.6)',
  'oklch(0.415 0.142 21)',
  'color(display-p3 .5 .15 .16)',
  'C 20 M 90 Y 80 K 30',
  '138, 28, 36',
];

/** What may be typed here, each with what is read in it. */
function Examples() {
  const store = useStores().codes;
  return (
    <div className={css.examples}>
      <h2 className="title">Type or paste codes</h2>
      <p className="second">
        From a book, a style sheet, a drawing, a spreadsheet or a letter. All of these are read:
      </p>
      <div className={css.grid}>
        {EXAMPLES.map((text) => (
          <PlainButton key={text} title={`Add ${text}`} onClick={() => store.add(text)}>
            <Chips codes={readCodes(text).codes} own={{}} />
            <span className="mono">{text}</span>
          </PlainButton>
        ))}
      </div>
    </div>
  );
}
