import type { DragEvent } from 'react';
import { type Color, isColor } from '#core/color/index';
import type { Swatch } from '#core/swatch/index';

const TYPE = 'application/x-papillon-swatch';

/** What a swatch that is dragged carries to another place of the page. */
export const dragSwatch = (swatch: Swatch) => (event: DragEvent) => {
  event.dataTransfer.setData(TYPE, JSON.stringify({ id: swatch.id, color: swatch.color, name: swatch.name }));
  event.dataTransfer.effectAllowed = 'copy';
};

/** The swatch that is let fall; null when it is something else. */
export function droppedSwatch(event: DragEvent): { id: string; color: Color; name: string } | null {
  const text = event.dataTransfer.getData(TYPE);
  if (!text) return null;
  event.preventDefault();
  event.stopPropagation();
  try {
    // another page may have put anything there
    const { id, color, name } = JSON.parse(text) as Record<string, unknown>;
    return isColor(color) && typeof name === 'string' ? { id: String(id), color, name } : null;
  } catch {
    return null;
  }
}
