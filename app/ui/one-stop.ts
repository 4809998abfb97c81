import { type FocusEvent, type KeyboardEvent, useEffect, useRef, useState } from 'react';

/** Where a thing stands on the screen. */
interface Place {
  x: number;
  y: number;
}

/** How much sooner what lies straight above or below is reached than what lies aside. */
const ASIDE = 3;

/** The nearest place above or below another; -1 where there is none. */
export function nearestAcross(places: readonly Place[], from: number, down: boolean): number {
  const own = places[from];
  let nearest = -1;
  let least = Number.POSITIVE_INFINITY;
  for (const [i, { x, y }] of places.entries()) {
    const away = own ? (down ? y - own.y : own.y - y) : 0;
    if (!own || away < 4) continue;
    const distance = away + ASIDE * Math.abs(x - own.x);
    if (distance < least) {
      least = distance;
      nearest = i;
    }
  }
  return nearest;
}

/** What takes the focus by itself does so sooner. */
const LOST_MS = 60;

/** Where a key leads from one of a number of things; undefined for every other key. */
function stepIn(key: string, from: number, of: number, places: () => Place[]): number | undefined {
  if (key === 'ArrowRight') return from + 1;
  if (key === 'ArrowLeft') return from - 1;
  if (key === 'Home') return 0;
  if (key === 'End') return of - 1;
  if (key === 'ArrowDown' || key === 'ArrowUp') return nearestAcross(places(), from, key === 'ArrowDown');
  return undefined;
}

/**
 * Makes one Tab stop of the buttons or links of a list: arrow keys go between them, Home and End to the first and last. When the one
 * in focus goes, the focus goes to its neighbour.
 *
 * @param stops what counts, as a selector; whatever else can be pressed there needs a key of its own
 * @returns what the list's element is given
 */
export function useOneStop<E extends HTMLElement>(
  stops = 'button, a[href]',
): { ref(list: E | null): void; onKeyDown(event: KeyboardEvent): void; onFocus(event: FocusEvent): void } {
  // it may come later than what it is part of
  const [list, setList] = useState<E | null>(null);
  const at = useRef(0);
  const own = useRef(false);
  const all = () =>
    [...(list?.querySelectorAll<HTMLElement>(stops) ?? [])].filter((e) => !e.matches(':disabled'));
  const arrange = () => {
    const items = all();
    const chosen = items.findIndex((e) =>
      e.matches('[aria-pressed=true], [aria-current]:not([aria-current=false])'),
    );
    if (!own.current && chosen >= 0) at.current = chosen;
    at.current = Math.max(0, Math.min(at.current, items.length - 1));
    for (const [i, item] of items.entries()) {
      const index = i === at.current ? 0 : -1;
      if (item.tabIndex !== index) item.tabIndex = index;
    }
  };
  const latest = useRef({ arrange, all });
  latest.current = { arrange, all };
  useEffect(() => {
    if (!list) return;
    latest.current.arrange();
    let lost: ReturnType<typeof setTimeout> | undefined;
    const observer = new MutationObserver(() => {
      latest.current.arrange();
      // what had the focus has gone, and nothing has come in its place, such as a field to rename it
      clearTimeout(lost);
      lost = setTimeout(() => {
        if (own.current && document.activeElement === document.body)
          latest.current.all()[at.current]?.focus();
      }, LOST_MS);
    });
    observer.observe(list, {
      childList: true,
      subtree: true,
      attributeFilter: ['aria-pressed', 'aria-current', 'disabled'],
    });
    const leave = (event: globalThis.FocusEvent) => {
      if (event.relatedTarget && !list.contains(event.relatedTarget as Node)) own.current = false;
    };
    list.addEventListener('focusout', leave);
    return () => {
      clearTimeout(lost);
      observer.disconnect();
      list.removeEventListener('focusout', leave);
    };
  }, [list]);
  return {
    ref: setList,
    onFocus: (event) => {
      const index = all().indexOf(event.target as HTMLElement);
      if (index < 0) return;
      at.current = index;
      own.current = true;
      arrange();
    },
    onKeyDown: (event) => {
      const items = all();
      const from = items.indexOf(event.target as HTMLElement);
      if (from < 0 || event.altKey || event.ctrlKey || event.metaKey) return;
      const places = () =>
        items.map((e) => {
          const { x, y } = e.getBoundingClientRect();
          return { x, y };
        });
      const to = stepIn(event.key, from, items.length, places);
      const next = to === undefined ? undefined : items[to];
      if (!next) return;
      event.preventDefault();
      event.stopPropagation();
      next.focus();
      next.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    },
  };
}
