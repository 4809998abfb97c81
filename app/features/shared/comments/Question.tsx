import { type FormEvent, type ReactNode, useId, useState } from 'react';
import { MAX_COMMENT_CHARACTERS, MAX_NAME_CHARACTERS } from '#core/sizes';
import { Field } from '~/ui/field';
import css from './Question.module.css';

/** One of what can be picked. */
export interface Option {
  id: string;
  name: string;
  face: ReactNode;
  /** How many have picked it. */
  count: number;
  /** Who has; where they are not told, none. */
  names: readonly string[];
}

/** A choice that is asked: its options side by side, what was picked, and the way to pick. */
export function Question({
  question,
  author,
  closed,
  options,
  mine,
  isNamed,
  onName,
  onPick,
}: {
  question: string;
  author: string;
  closed: boolean;
  options: readonly Option[];
  /** The option that was picked by whoever looks; null for none. */
  mine: string | null;
  /** Whoever looks has said their name. */
  isNamed: boolean;
  onName(name: string): Promise<void>;
  onPick(option: string, text: string): Promise<void>;
}) {
  const id = useId();
  const [chosen, setChosen] = useState(mine);
  const [text, setText] = useState('');
  const [name, setName] = useState('');
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  // the picks of others show once one has picked
  const tells = mine !== null || closed;
  const send = async (event: FormEvent) => {
    event.preventDefault();
    if (busy || chosen === null) return;
    if (!isNamed && name.trim() === '') return setProblem('Write your name, so that others know who picks.');
    setBusy(true);
    try {
      if (!isNamed) await onName(name.trim());
      await onPick(chosen, text.trim());
      setText('');
      setProblem('');
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <form className={css.question} onSubmit={(e) => void send(e)}>
      <fieldset disabled={closed}>
        <legend className={css.asked} dir="auto">
          {question}
          <span className="caption">
            {' '}
            {[author && `asked by ${author}`, closed && 'closed'].filter(Boolean).join(' · ')}
          </span>
        </legend>
        <div className={css.options}>
          {options.map((o) => (
            <label key={o.id} className={css.option} data-chosen={chosen === o.id}>
              <input
                type="radio"
                name={id}
                value={o.id}
                checked={chosen === o.id}
                onChange={() => setChosen(o.id)}
              />
              <span className={css.face}>{o.face}</span>
              <span className="cut" dir="auto">
                {o.name}
              </span>
              {tells && (
                <span className="caption" title={o.names.join(', ')}>
                  {o.count === 0 ? '–' : o.names.length > 0 ? o.names.join(', ') : `picked by ${o.count}`}
                </span>
              )}
            </label>
          ))}
        </div>
      </fieldset>
      {chosen !== null && chosen !== mine && !closed && (
        <div className={css.say}>
          {!isNamed && (
            <>
              <label className="unseen" htmlFor={`${id}name`}>
                Your name
              </label>
              <Field
                id={`${id}name`}
                placeholder="Your name"
                autoComplete="name"
                maxLength={MAX_NAME_CHARACTERS}
                value={name}
                onChange={(e) => setName(e.target.value)}
              />
            </>
          )}
          <label className="unseen" htmlFor={`${id}why`}>
            Why
          </label>
          <Field
            id={`${id}why`}
            placeholder="Why, if you like"
            maxLength={MAX_COMMENT_CHARACTERS}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <button type="submit" className={css.pick} disabled={busy}>
            Pick this one
          </button>
        </div>
      )}
      {problem && <p role="alert">{problem}</p>}
    </form>
  );
}
