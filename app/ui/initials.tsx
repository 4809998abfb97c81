import css from './initials.module.css';

/** The first letters of the first and the last word of a name: `MH`, `P`. */
export function initialsOf(name: string): string {
  const words = name
    .trim()
    .split(/[\s.,·_-]+/)
    .filter(Boolean);
  const ends = words.length > 1 ? [words[0]!, words.at(-1)!] : words;
  // a letter of some scripts is several characters
  return ends.map((w) => [...w][0]!.toLocaleUpperCase('en')).join('');
}

/** Somebody as their initials in a square; the name stands beside it, or is its title. */
export function Initials({ name, title }: { name: string; title?: string }) {
  return (
    <span className={css.initials} title={title} aria-hidden={title ? undefined : true}>
      {initialsOf(name)}
      {title && <span className="unseen"> {title}</span>}
    </span>
  );
}
