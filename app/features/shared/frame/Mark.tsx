import css from './Mark.module.css';

/** The mark: two mirrored wings, one solid, one drawn in line. */
export function Mark() {
  return (
    <svg className={css.mark} width="26" height="24" viewBox="0 0 26 24" aria-hidden="true">
      <path d="M1 4l10 3v13l-4.5-1.2L5.5 14 1 13.5z" fill="currentColor" />
      <path d="M25 4l-10 3v13l4.5-1.2 1-4.8 4.5-.5z" fill="none" stroke="currentColor" strokeWidth="1.4" />
    </svg>
  );
}
