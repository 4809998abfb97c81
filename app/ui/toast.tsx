import { createContext, type ReactNode, useCallback, useContext, useEffect, useRef, useState } from 'react';
import { PlainButton } from './plain-button';
import css from './toast.module.css';

/** What a message is about: the message goes when that is past. */
export interface Matter {
  subscribe(listener: () => void): () => void;
  stands(): boolean;
}

export interface Toast {
  text: string;
  /** It is not gone until the user has put it away. */
  stays?: boolean;
  onAway?(): void;
  action?: { label: string; run(): void };
  matter?: Matter;
}
type Shown = Toast & { key: number };

const SHOWN_MS = 5000;

const ToastContext = createContext<(toast: Toast) => void>(() => undefined);

/** Says something in passing, with a way back where there is one. */
export const useToast = () => useContext(ToastContext);

/** Something with changes that can be taken back by their ids. */
interface Undoable {
  subscribe(listener: () => void): () => void;
  stands(id: string): boolean;
  undo(id: string): void;
}

/** The way back from changes that belong together: it names them, and is past when one of them is. */
export function wayBack(...done: [store: Undoable, id: string][]): Pick<Toast, 'action' | 'matter'> {
  return {
    action: {
      label: 'Undo',
      run: () => {
        for (const [store, id] of done) store.undo(id);
      },
    },
    matter: {
      subscribe: (listener) => {
        const ends = done.map(([store]) => store.subscribe(listener));
        return () => {
          for (const end of ends) end();
        };
      },
      stands: () => done.every(([store, id]) => store.stands(id)),
    },
  };
}

/** Shows what a store has to tell until the user has put it away. */
export function useTold(
  said: readonly { key: string; text: string }[],
  dismiss: (key: string) => void,
): void {
  const toast = useToast();
  const shown = useRef(new Set<string>());
  useEffect(() => {
    for (const { key, text } of said) {
      if (shown.current.has(key)) continue;
      shown.current.add(key);
      toast({ text, stays: true, onAway: () => dismiss(key) });
    }
  }, [said, dismiss, toast]);
}

export function Toasts({ children }: { children: ReactNode }) {
  const [toasts, setToasts] = useState<Shown[]>([]);
  const next = useRef(0);
  const show = useCallback((toast: Toast) => {
    const key = next.current++;
    setToasts((all) => {
      // the same words again take the place of the first, and what stays is not pushed out
      const others = all.filter((t) => t.text !== toast.text);
      // one passing message at a time: that before has been seen, and what it took back Undo takes back
      return [...others.filter((t) => t.stays), { ...toast, key }];
    });
  }, []);
  const away = useCallback((key: number) => setToasts((all) => all.filter((t) => t.key !== key)), []);
  return (
    <ToastContext value={show}>
      {children}
      <div className={css.toasts}>
        {[...toasts].reverse().map((toast) => (
          <One key={toast.key} toast={toast} away={away} />
        ))}
      </div>
    </ToastContext>
  );
}

function One({ toast, away }: { toast: Shown; away(key: number): void }) {
  const { key, text, stays, action, matter, onAway } = toast;
  const close = useCallback(() => {
    away(key);
    onAway?.();
  }, [away, key, onAway]);
  useEffect(() => {
    if (!matter) return;
    const look = () => {
      if (!matter.stands()) close();
    };
    look();
    return matter.subscribe(look);
  }, [matter, close]);
  // who points at a message or has the keyboard in it still reads it
  const [read, setRead] = useState(false);
  useEffect(() => {
    if (stays || read) return;
    const timer = setTimeout(close, SHOWN_MS);
    return () => clearTimeout(timer);
  }, [stays, read, close]);
  return (
    <div
      role="alert"
      className={css.toast}
      onMouseEnter={() => setRead(true)}
      onMouseLeave={() => setRead(false)}
      onFocus={() => setRead(true)}
      onBlur={() => setRead(false)}
    >
      <span>{text}</span>
      {action && (
        <PlainButton
          look="link"
          onClick={() => {
            action.run();
            close();
          }}
        >
          {action.label}
        </PlainButton>
      )}
      {stays && (
        <PlainButton look="link" onClick={close}>
          Dismiss
        </PlainButton>
      )}
    </div>
  );
}
