import type { ComponentProps } from 'react';
import css from './plain-button.module.css';

/**
 * Every button without a box: `bare` has no look of its own, `tab` is quiet words that can be the chosen ones, `link` is words
 * underlined, `icon` an icon alone, which needs an `aria-label`. Buttons with a box are MUI's `Button`.
 */
export type Look = 'bare' | 'tab' | 'link' | 'icon';

export function PlainButton({
  look = 'bare',
  className = '',
  ...rest
}: ComponentProps<'button'> & { look?: Look }) {
  return <button type="button" {...rest} className={`${css.plain} ${css[look]} ${className}`} />;
}
