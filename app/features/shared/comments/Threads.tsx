import { X } from 'lucide-react';
import { type FormEvent, useEffect, useId, useState } from 'react';
import { MAX_COMMENT_CHARACTERS, MAX_NAME_CHARACTERS } from '#core/sizes';
import type { CommentMark } from '#core/swatch/index';
import { Field } from '~/ui/field';
import { Initials } from '~/ui/initials';
import { PlainButton } from '~/ui/plain-button';
import { when } from '~/ui/when';
import { keepDraft, readDraft } from './drafts';
import css from './Threads.module.css';

/** A comment as it is shown. */
export interface Shown {
  id: string;
  by: string;
  author: string;
  at: number;
  text: string;
  mark: CommentMark | null;
}

export interface ShownTalk extends Shown {
  isResolved: boolean;
  answers: readonly Shown[];
}

/** What can be done with comments; what fails is thrown, in whole sentences. */
export interface Commenting {
  /** Who writes, by the mark under which their comments stand, and what they are called; null before they have said it. */
  me: { by: string; name: string } | null;
  /** May delete what others wrote. */
  mayDelete: boolean;
  rename(name: string): Promise<void>;
  write(text: string, thread: string | null): Promise<void>;
  mark(thread: string, mark: CommentMark): Promise<void>;
  remove(id: string): Promise<void>;
}

/** The comments on one thing, and the field for another. */
export function Threads({
  on,
  name,
  title = 'Comments',
  threads,
  commenting,
}: {
  /** Its id; drafts are kept by it. */
  on: string;
  /** What it is called. */
  name: string;
  title?: string;
  threads: readonly ShownTalk[];
  commenting: Commenting;
}) {
  const id = useId();
  const [showsResolved, setShowsResolved] = useState(false);
  const [problem, setProblem] = useState('');
  const resolved = threads.filter((t) => t.isResolved);
  const open = threads.filter((t) => !t.isResolved);
  const run = (what: Promise<void>) =>
    void what.then(() => setProblem('')).catch((error: Error) => setProblem(error.message));
  return (
    <section className={css.comments} aria-labelledby={id}>
      <h3 className={css.head} id={id}>
        {title}
        {threads.length > 0 && <span className="caption">{open.length} open</span>}
      </h3>
      {[...open, ...(showsResolved ? resolved : [])].map((thread) => (
        <Talk key={thread.id} thread={thread} commenting={commenting} run={run} />
      ))}
      {resolved.length > 0 && (
        <PlainButton
          look="link"
          className={`caption ${css.more}`}
          aria-expanded={showsResolved}
          onClick={() => setShowsResolved(!showsResolved)}
        >
          {showsResolved ? 'Hide resolved' : `Show ${resolved.length} resolved`}
        </PlainButton>
      )}
      {problem && <p role="alert">{problem}</p>}
      <Writing key={on} draft={on} label={`Comment on ${name}`} commenting={commenting} thread={null} />
    </section>
  );
}

function Talk({
  thread,
  commenting,
  run,
}: {
  thread: ShownTalk;
  commenting: Commenting;
  run(what: Promise<void>): void;
}) {
  const [answering, setAnswering] = useState(false);
  return (
    <article className={css.talk} data-resolved={thread.isResolved}>
      <One comment={thread} commenting={commenting} run={run} />
      {thread.answers.map((answer) => (
        <One key={answer.id} comment={answer} commenting={commenting} run={run} />
      ))}
      <p className={css.acts}>
        <PlainButton look="link" className="caption" onClick={() => setAnswering(!answering)}>
          Reply
        </PlainButton>
        <PlainButton
          look="link"
          className="caption"
          onClick={() => run(commenting.mark(thread.id, thread.isResolved ? 'reopened' : 'resolved'))}
        >
          {thread.isResolved ? 'Reopen' : 'Resolve'}
        </PlainButton>
      </p>
      {answering && (
        <Writing
          draft={`${thread.id} reply`}
          label={`Reply to ${thread.author}`}
          commenting={commenting}
          thread={thread.id}
          hasFocus
          onDone={() => setAnswering(false)}
        />
      )}
    </article>
  );
}

/** Longer ones are cut until somebody wants all of it. */
const MAX_AT_ONCE = 600;

function One({
  comment: { id, by, author, at, text, mark },
  commenting,
  run,
}: {
  comment: Shown;
  commenting: Commenting;
  run(what: Promise<void>): void;
}) {
  const { me, remove } = commenting;
  const mayDelete = commenting.mayDelete || by === me?.by;
  const [isWhole, setWhole] = useState(false);
  const [isLeaving, setLeaving] = useState(false);
  // times are of where the page is read, which the server does not know
  const [time, setTime] = useState('');
  useEffect(() => setTime(when(new Date(at), new Date())), [at]);
  const isLong = text.length > MAX_AT_ONCE && !isWhole;
  if (mark)
    return (
      <p className={`caption ${css.mark}`} dir="auto">
        {mark} by {author}
        {time && `, ${time}`}
      </p>
    );
  return (
    <div className={css.one}>
      <p className={css.who}>
        <Initials name={author} />
        <strong className="cut" dir="auto">
          {author}
        </strong>
        <span className={`caption ${css.time}`}>{time}</span>
        {mayDelete && (
          <PlainButton
            look="icon"
            aria-label={`Delete the comment of ${author}`}
            aria-expanded={isLeaving}
            onClick={() => setLeaving(!isLeaving)}
          >
            <X size={13} aria-hidden />
          </PlainButton>
        )}
      </p>
      <p className={css.text} dir="auto">
        {isLong ? `${text.slice(0, MAX_AT_ONCE)}…` : text}
      </p>
      {isLong && (
        <PlainButton look="link" className="caption" onClick={() => setWhole(true)}>
          Show all
        </PlainButton>
      )}
      {isLeaving && (
        <p className={css.acts}>
          <PlainButton look="link" className="caption" onClick={() => run(remove(id))}>
            Delete
          </PlainButton>
          <PlainButton look="link" className="caption" onClick={() => setLeaving(false)}>
            Keep
          </PlainButton>
        </p>
      )}
    </div>
  );
}

/** The field for a comment or an answer, and for the name of whoever has not said it yet. What is written is kept until it is sent. */
function Writing({
  draft,
  label,
  commenting: { me, rename, write },
  thread,
  hasFocus = false,
  onDone,
}: {
  draft: string;
  label: string;
  commenting: Commenting;
  thread: string | null;
  hasFocus?: boolean;
  onDone?(): void;
}) {
  const id = useId();
  const [text, setText] = useState('');
  const [name, setName] = useState('');
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  // the server has none
  useEffect(() => setText(readDraft(draft)), [draft]);
  const type = (next: string) => {
    setText(next);
    keepDraft(draft, next);
  };
  const send = async (event: FormEvent) => {
    event.preventDefault();
    if (busy || text.trim() === '') return;
    if (!me && name.trim() === '') return setProblem('Write your name, so that others know who asks.');
    setBusy(true);
    try {
      if (!me) await rename(name.trim());
      await write(text.trim(), thread);
      type('');
      setProblem('');
      onDone?.();
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <form className={css.writing} onSubmit={(e) => void send(e)}>
      <label className="unseen" htmlFor={`${id}text`}>
        {label}
      </label>
      <textarea
        id={`${id}text`}
        className={css.field}
        rows={thread === null ? 3 : 2}
        maxLength={MAX_COMMENT_CHARACTERS}
        placeholder={label}
        dir="auto"
        // biome-ignore lint/a11y/noAutofocus: it was asked for this moment
        autoFocus={hasFocus}
        value={text}
        onChange={(e) => type(e.target.value)}
        onKeyDown={(e) => {
          if (e.key !== 'Enter' || !(e.ctrlKey || e.metaKey)) return;
          e.preventDefault();
          // and nothing else on the screen
          e.stopPropagation();
          e.currentTarget.form?.requestSubmit();
        }}
      />
      {text.trim() !== '' && (
        <>
          {!me && (
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
          {problem && <p role="alert">{problem}</p>}
          <button type="submit" className={css.send} disabled={busy}>
            {thread === null ? 'Comment' : 'Reply'}
          </button>
        </>
      )}
    </form>
  );
}
