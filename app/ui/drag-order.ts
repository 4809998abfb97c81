import { type DragEvent, useState } from 'react';

/** What lets the items of a list be put in order by dragging; `over` is the one that another is held above. */
export function useDragOrder(
  /** What an item travels under while it is dragged. */
  type: string,
  /** @param index of the item that it is dropped on */
  put: (id: string, index: number) => void,
) {
  const [over, setOver] = useState<string | null>(null);
  return (id: string, index: number) => ({
    draggable: true,
    'data-over': over === id,
    onDragStart: (e: DragEvent) => e.dataTransfer.setData(type, id),
    onDragOver: (e: DragEvent) => {
      if (!e.dataTransfer.types.includes(type)) return;
      e.preventDefault();
      e.stopPropagation();
      setOver(id);
    },
    onDragLeave: () => setOver(null),
    onDrop: (e: DragEvent) => {
      const dragged = e.dataTransfer.getData(type);
      setOver(null);
      if (!dragged) return;
      e.preventDefault();
      e.stopPropagation();
      put(dragged, index);
    },
  });
}
