/** Something that can be done on the screen as it is. */
export interface Act {
  label: string;
  /** Its key, as `aria-keyshortcuts` has it. */
  keys?: string;
  run(): void;
}

/** Entries of lists are not commands: there can be thousands of them. */
const IN_LISTS = '[role=option], [role=listbox] *, [role=row] *, [data-no-act], [data-no-act] *';

function labelOf(element: HTMLElement): string {
  const by = element.getAttribute('aria-labelledby');
  const text =
    element.getAttribute('aria-label') ??
    (by && element.ownerDocument.getElementById(by)?.textContent) ??
    element.textContent;
  return (text ?? '').replace(/\s+/g, ' ').trim();
}

/** The acts of a page: what its buttons and links that can be pressed now would do, each label once. */
export function actsOf(page: Document): Act[] {
  const found = new Map<string, Act>();
  for (const element of page.querySelectorAll<HTMLElement>(
    'button, a[href], [role=button], [role=tab], [role=checkbox], [role=switch]',
  )) {
    if (element.matches(':disabled, [aria-disabled=true], [aria-hidden=true] *') || element.matches(IN_LISTS))
      continue;
    if (element.checkVisibility?.({ visibilityProperty: true }) === false) continue;
    const label = labelOf(element);
    // several of the same name are lines of a list, and none of them is meant
    if (!label || label.length > 80 || found.has(label)) continue;
    const keys = element.getAttribute('aria-keyshortcuts');
    found.set(label, {
      label,
      ...(keys ? { keys } : {}),
      run: () => {
        element.focus();
        element.click();
      },
    });
  }
  return [...found.values()];
}

/**
 * How well a label suits what was typed, 0 where it does not: every word has to be in it, at the beginning of one of its words
 * rather than within, and at its own beginning best.
 */
export function suits(label: string, typed: string): number {
  const text = label.toLocaleLowerCase('en');
  const words = typed.toLocaleLowerCase('en').split(/\s+/).filter(Boolean);
  let least = 4;
  for (const word of words) {
    const at = text.indexOf(word);
    if (at < 0) return 0;
    const begins = at === 0 || new RegExp(`[^\\p{L}\\p{N}]${literal(word)}`, 'u').test(text);
    least = Math.min(least, at === 0 ? 3 : begins ? 2 : 1);
  }
  return text === words.join(' ') ? 4 : least === 4 ? 1 : least;
}

const literal = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
