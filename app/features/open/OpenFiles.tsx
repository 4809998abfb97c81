import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { useNavigate, useParams } from 'react-router';
import { isTyping } from '~/ui/keys';
import { useToast } from '~/ui/toast';
import { usePicture } from '../gather/picture';
import { Review } from './Review';
import { type Read, readFile } from './read';

const OpenContext = createContext<() => void>(() => undefined);

/** Asks for files and opens whatever they are. */
export const useOpenFiles = () => useContext(OpenContext);

/** The one way files, pictures and codes come in: dropped, pasted or picked, on any screen. */
export function OpenFiles({ children }: { children: ReactNode }) {
  const [reads, setReads] = useState<Read[] | null>(null);
  const { open: openPicture } = usePicture();
  const toast = useToast();
  const navigate = useNavigate();
  const { id } = useParams();

  const take = useCallback(
    async (files: File[]) => {
      if (files.length === 0) return;
      const all = await Promise.all(files.map(readFile));
      const pictures = all.flatMap((r) => (r.kind === 'picture' ? [r.file] : []));
      const rest = all.filter((r) => r.kind !== 'picture');
      if (pictures.length > 0) {
        openPicture(pictures[0]);
        navigate(id ? `/libraries/${id}/gather` : '/gather');
        if (pictures.length > 1)
          toast({
            text: `Gather works on one picture at a time. ${pictures[0].name} is open; drop the others one after the other.`,
          });
      }
      if (rest.length > 0) setReads(rest);
    },
    [id, navigate, openPicture, toast],
  );

  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => void take(files),
    noClick: true,
    noKeyboard: true,
    useFsAccessApi: false,
  });

  useEffect(() => {
    const paste = (event: ClipboardEvent) => {
      if (isTyping(event as unknown as KeyboardEvent)) return;
      const files = [...(event.clipboardData?.files ?? [])];
      const text = event.clipboardData?.getData('text/plain') ?? '';
      if (files.length > 0) void take(files);
      else if (text.trim()) void take([new File([text], 'Pasted text', { type: 'text/plain' })]);
      else return;
      event.preventDefault();
    };
    window.addEventListener('paste', paste);
    return () => window.removeEventListener('paste', paste);
  }, [take]);

  const root = useMemo(() => getRootProps({ role: undefined }), [getRootProps]);
  return (
    <OpenContext value={open}>
      <div {...root}>
        <input {...getInputProps()} data-open-files aria-label="Open files" />
        {children}
      </div>
      {isDragActive && <div className="drop-veil">Drop to open: swatch files or a picture</div>}
      {reads && <Review reads={reads} onClose={() => setReads(null)} />}
    </OpenContext>
  );
}
