import Popover from '@mui/material/Popover';
import { ChevronDown } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import css from './export-options.module.css';
import { PlainButton } from './plain-button';

/** A button in the bottom bar that opens the options of the files. */
export function ExportOptions({ children }: { children: ReactNode }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <PlainButton
        look="tab"
        className={css.more}
        aria-haspopup="dialog"
        aria-expanded={!!anchor}
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        Export options <ChevronDown size={13} aria-hidden />
      </PlainButton>
      <Popover
        open={!!anchor}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'top', horizontal: 'right' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'right' }}
      >
        <div className={css.options} role="dialog" aria-label="How the files are made">
          {children}
        </div>
      </Popover>
    </>
  );
}
