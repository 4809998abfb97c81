import { type RefObject, useEffect, useRef } from 'react';
import { type DropzoneRootProps, useDropzone } from 'react-dropzone';

interface DropZoneProps {
  root: RefObject<HTMLElement | null>;
  /** Given the handlers of what is dragged over the root, and null when they end. */
  handlers: RefObject<DropzoneRootProps | null>;
  onDrop(files: File[]): void;
  /** What was dropped could not be read. */
  onUnread(): void;
  onActive(active: boolean): void;
}

/** Takes files and folders that are dropped on an element around it; loaded once the page is there. */
export function DropZone({ root, handlers, onDrop, onUnread, onActive }: DropZoneProps) {
  const { getRootProps, isDragActive } = useDropzone({
    onDrop,
    onError: onUnread,
    noClick: true,
    noKeyboard: true,
    useFsAccessApi: false,
  });
  useEffect(() => {
    const props = getRootProps();
    handlers.current = props;
    // what is dropped outside of it is not for the browser to open, which the zone finds out by its element
    (props.ref as RefObject<HTMLElement | null>).current = root.current;
    return () => {
      handlers.current = null;
    };
  }, [getRootProps, handlers, root]);
  const was = useRef(isDragActive);
  useEffect(() => {
    // what began before this was here goes on
    if (was.current !== isDragActive) onActive(isDragActive);
    was.current = isDragActive;
  }, [isDragActive, onActive]);
  return null;
}
