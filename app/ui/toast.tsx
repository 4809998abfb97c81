import Button from '@mui/material/Button';
import Snackbar from '@mui/material/Snackbar';
import { createContext, type ReactNode, useCallback, useContext, useState } from 'react';

interface Toast {
  text: string;
  action?: { label: string; run(): void };
}

const ToastContext = createContext<(toast: Toast) => void>(() => undefined);

/** Says something in passing, with a way back where there is one. */
export const useToast = () => useContext(ToastContext);

export function Toasts({ children }: { children: ReactNode }) {
  const [toast, setToast] = useState<Toast | null>(null);
  const [open, setOpen] = useState(false);
  const show = useCallback((next: Toast) => {
    setToast(next);
    setOpen(true);
  }, []);
  return (
    <ToastContext value={show}>
      {children}
      <Snackbar
        key={toast?.text}
        open={open}
        autoHideDuration={5000}
        onClose={(_, reason) => reason !== 'clickaway' && setOpen(false)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}
        sx={{ mb: 9 }}
        message={toast?.text}
        action={
          toast?.action && (
            <Button
              variant="text"
              sx={{ color: 'inherit', textDecoration: 'underline', '&:hover': { color: 'inherit' } }}
              onClick={() => {
                toast.action?.run();
                setOpen(false);
              }}
            >
              {toast.action.label}
            </Button>
          )
        }
      />
    </ToastContext>
  );
}
