import { parseHTML } from 'linkedom';
import { describe, expect, it } from 'vitest';
import { actsOf, suits } from './acts';

describe('the acts of a page', () => {
  it('are its buttons and links that can be pressed, by their names, each once', () => {
    const pressed: string[] = [];
    const { document } = parseHTML(`<body>
      <button aria-keyshortcuts="Control+Enter">Put 5 in the tray</button>
      <button aria-label="Undo"><svg></svg></button>
      <button disabled>Redo</button>
      <a href="/books">Books</a>
      <button>Books</button>
      <div aria-hidden="true"><button>Behind a dialog</button></div>
      <div role="listbox"><div role="option">Teak</div><button>Of a line</button></div>
    </body>`);
    for (const element of document.querySelectorAll('button, a'))
      element.addEventListener('click', () => pressed.push(element.textContent ?? ''));
    const acts = actsOf(document as unknown as Document);
    expect(acts.map((a) => a.label)).toEqual(['Put 5 in the tray', 'Undo', 'Books']);
    expect(acts[0]?.keys).toBe('Control+Enter');
    acts[0]?.run();
    expect(pressed).toEqual(['Put 5 in the tray']);
  });
});

describe('what is typed', () => {
  it('suits a label that has all its words, at its beginning best', () => {
    const labels = ['Hand over', 'Undo: hand cream renamed', 'Beforehand', 'Gather'];
    const ranked = labels.map((l) => suits(l, 'hand'));
    expect(ranked).toEqual([3, 2, 1, 0]);
    expect(suits('Hand over', 'hand over')).toBe(4);
    expect(suits('Hand over', 'over hand')).toBe(2);
    expect(suits('Print profiles (CMYK)', '(cm')).toBeGreaterThan(0);
    expect(suits('Gather', '')).toBe(1);
  });
});
