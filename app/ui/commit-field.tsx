import { useState } from 'react';
import { Field } from './field';

/** A line to type in whose text counts once it is left, or Enter is pressed. */
export function CommitField({
  id,
  value,
  placeholder,
  most,
  onCommit,
}: {
  id: string;
  value: string;
  placeholder?: string | undefined;
  /** How many characters it takes. */
  most?: number;
  onCommit(value: string): void;
}) {
  const [text, setText] = useState(value);
  const [was, setWas] = useState(value);
  // another value from elsewhere takes the place of what stands here
  if (was !== value) {
    setWas(value);
    setText(value);
  }
  const commit = () => text !== value && onCommit(text);
  return (
    <Field
      id={id}
      dir="auto"
      value={text}
      placeholder={placeholder}
      maxLength={most}
      onChange={(e) => setText(e.target.value)}
      onBlur={commit}
      onKeyDown={(e) => e.key === 'Enter' && commit()}
    />
  );
}
