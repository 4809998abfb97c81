import Button from '@mui/material/Button';
import { nanoid } from 'nanoid';
import { useMemo, useState } from 'react';
import { toHex } from '#core/color/index';
import {
  artworksOf,
  askChoice,
  boardsOf,
  choicesIn,
  closeChoice,
  colorwaysOf,
  type Library,
  MAX_OPTIONS,
  MAX_QUESTION_CHARACTERS,
  optionNames,
  pickOption,
  removeChoice,
  swatchIndex,
} from '#core/swatch/index';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Field, SelectField } from '~/ui/field';
import { PlainButton } from '~/ui/plain-button';
import { swatchLabel } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';
import css from './Choices.module.css';
import { Question } from './Question';

/** What may be asked about: two to six swatches that are selected, the colourways of a work, or the boards. */
function subjectsOf(library: Library, selection: ReadonlySet<string>): { label: string; ids: string[] }[] {
  const swatches = library.groups.flatMap((g) => g.swatches).filter((s) => selection.has(s.id));
  const boards = boardsOf(library);
  const of = (label: string, all: readonly { id: string }[]) =>
    all.length < 2
      ? []
      : [
          {
            label:
              all.length > MAX_OPTIONS ? `the first ${MAX_OPTIONS} ${label}` : `the ${all.length} ${label}`,
            ids: all.slice(0, MAX_OPTIONS).map((o) => o.id),
          },
        ];
  return [
    ...of('selected swatches', swatches),
    ...artworksOf(library).flatMap((a) => of(`colourways of ${a.name}`, colorwaysOf(library, a.id))),
    ...of('boards', boards),
  ];
}

/** The choices of the library: what was picked, and a new one. */
export function Choices() {
  const { store, selection } = useLibrary();
  const { me } = useStores();
  const { id: by, name } = useStore(me);
  const { library } = useStore(store);
  const condition = useCondition();
  const toast = useToast();
  const all = useMemo(() => choicesIn(library), [library]);
  const index = useMemo(() => swatchIndex(library), [library]);
  return (
    <section aria-label="Choices" className={css.choices}>
      {all.map((asked) => {
        const { choice, picks } = asked;
        const names = optionNames(library, choice);
        const said = picks.filter((p) => p.data.text !== '');
        return (
          <article key={choice.id} className={css.choice}>
            <Question
              key={picks.find((p) => p.data.by === by)?.id ?? ''}
              question={choice.name}
              author={choice.data.author}
              closed={choice.data.closed === true}
              options={choice.refs.map((id) => {
                const swatch = index.get(id)?.swatch;
                const chosen = picks.filter((p) => p.data.option === id);
                return {
                  id,
                  name: swatch ? swatchLabel(swatch, condition) : names.get(id) || 'deleted',
                  face: swatch ? (
                    <span style={{ background: toHex(swatch.color, condition) }} />
                  ) : (
                    <span className={css.word}>{names.get(id) || 'deleted'}</span>
                  ),
                  count: chosen.length,
                  names: chosen.map((p) => p.data.author),
                };
              })}
              mine={picks.find((p) => p.data.by === by)?.data.option ?? null}
              isNamed={name !== null}
              onName={(next) => me.rename(next)}
              onPick={async (option, text) => {
                const data = { by, author: me.snapshot().name ?? '', at: Date.now(), option, text };
                const draft = pickOption(store.rows, nanoid(12), choice.id, names.get(option) ?? '', data);
                if (!store.edit(draft)) throw new Error('It was not kept. Try again.');
              }}
            />
            {said.map((p) => (
              <p key={p.id} className={css.said} dir="auto">
                <strong>{p.data.author}</strong>: {p.data.text}
              </p>
            ))}
            <p className={css.acts}>
              <PlainButton
                look="link"
                className="caption"
                onClick={() => store.edit(closeChoice(choice, !choice.data.closed))}
              >
                {choice.data.closed ? 'Reopen' : 'Close'}
              </PlainButton>
              <PlainButton
                look="link"
                className="caption"
                onClick={() => {
                  const done = store.edit(removeChoice(asked));
                  if (done) toast({ text: 'The choice was deleted.', ...wayBack([store, done]) });
                }}
              >
                Delete
              </PlainButton>
            </p>
          </article>
        );
      })}
      <Ask library={library} selection={selection} />
    </section>
  );
}

function Ask({ library, selection }: { library: Library; selection: ReadonlySet<string> }) {
  const { store } = useLibrary();
  const { me } = useStores();
  const subjects = useMemo(() => subjectsOf(library, selection), [library, selection]);
  const [open, setOpen] = useState(false);
  const [at, setAt] = useState(0);
  const [question, setQuestion] = useState('Which one?');
  if (!open)
    return (
      <Button variant="text" onClick={() => setOpen(true)}>
        Ask for a choice…
      </Button>
    );
  if (subjects.length === 0)
    return (
      <p className="second" role="status">
        A choice is asked between two to six things: select some swatches in Arrange first, or make another
        colourway or board.
      </p>
    );
  const ask = () => {
    const { id: by, name } = me.snapshot();
    const data = { by, author: name ?? '', at: Date.now() };
    const text = question.trim() || 'Which one?';
    if (store.edit(askChoice(store.rows, nanoid(12), text, (subjects[at] ?? subjects[0]!).ids, data)))
      setOpen(false);
  };
  return (
    <form
      className={css.ask}
      onSubmit={(e) => {
        e.preventDefault();
        ask();
      }}
    >
      <label className="second" htmlFor="choice-question">
        Question
      </label>
      <Field
        id="choice-question"
        value={question}
        maxLength={MAX_QUESTION_CHARACTERS}
        onChange={(e) => setQuestion(e.target.value)}
        onFocus={(e) => e.target.select()}
        autoFocus
      />
      <label className="second" htmlFor="choice-subject">
        Between
      </label>
      <SelectField id="choice-subject" value={at} onChange={(e) => setAt(Number(e.target.value))}>
        {subjects.map((s, i) => (
          <option key={s.label} value={i}>
            {s.label}
          </option>
        ))}
      </SelectField>
      <span className={css.buttons}>
        <Button type="submit" variant="contained">
          Ask
        </Button>
        <Button onClick={() => setOpen(false)}>Cancel</Button>
      </span>
      <p className={`caption ${css.note}`}>
        Links that allow comments show it first; each visitor picks one.
      </p>
    </form>
  );
}
